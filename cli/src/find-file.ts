import { createHash } from 'node:crypto';
import { readdir, readFile, stat } from 'node:fs/promises';
import { basename, dirname, join, relative, resolve, sep } from 'node:path';
import {
  type Candidate,
  type FilePrint,
  fail,
  ok,
  type Result,
  rankCandidates,
} from '@tether/core';
import { openSource, printSource, SOURCE_ENDINGS } from '@tether/formats';

/** The files of a folder that may be a file, the likeliest first, and those that could not be read. */
interface Found {
  candidates: Candidate[];
  unread: { path: string; why: string }[];
}

/** Looks in a folder, and in those in it, for a file that moved. Faults: those of reading, `folder-missing`. */
export async function findFile(file: string, folder: string): Promise<Result<Found>> {
  const own = await printOf(file, basename(file));
  if (!own.ok) return own;
  const entries = await readdir(folder, { recursive: true, withFileTypes: true }).catch(() => null);
  if (!entries) return fail('folder-missing', { path: folder });
  // Places are compared where the file lies in the folder too.
  const place = relative(folder, dirname(resolve(file)));
  const isWithin = !place.startsWith('..');
  const wanted = {
    ...own.value,
    path: named(isWithin ? join(place, basename(file)) : basename(file)),
  };
  const known: FilePrint[] = [];
  const unread: Found['unread'] = [];
  for (const entry of entries) {
    const path = join(entry.parentPath, entry.name);
    const isSource = SOURCE_ENDINGS.some((ending) =>
      entry.name.toLowerCase().endsWith(`.${ending}`),
    );
    if (!entry.isFile() || !isSource || /^[.~]/.test(entry.name)) continue;
    if (resolve(path) === resolve(file)) continue;
    const print = await printOf(path, named(relative(folder, path)));
    if (print.ok) known.push(print.value);
    else unread.push({ path: named(relative(folder, path)), why: print.fault.message });
  }
  return ok({ candidates: rankCandidates(wanted, known), unread });
}

const named = (path: string) => path.split(sep).join('/');

async function printOf(path: string, shownPath: string): Promise<Result<FilePrint>> {
  const source = await openSource(path, shownPath);
  if (!source.ok) return source;
  try {
    const print = await printSource(source.value);
    if (!print.ok) return print;
    const [bytes, { mtimeMs }] = [await readFile(path), await stat(path)];
    return ok({
      path: shownPath,
      hash: createHash('sha256').update(bytes).digest('hex'),
      bytes: bytes.length,
      sheets: print.value.sheets,
      headers: print.value.headers,
      names: source.value.names.map(({ name }) => name),
      changedAt: mtimeMs,
    });
  } finally {
    await source.value.close();
  }
}

import { createHash } from 'node:crypto';
import { closeSync, constants, openSync, readSync, statSync } from 'node:fs';
import { fail, fault, ok, type Result } from '@tether/core';
import { type OpenSource, openSource, takeChart, takeReaches } from '@tether/formats';
import { followReaches } from './followed.ts';
import { findIn, marksIn } from './marks.ts';
import { headingsOf, outlineOf } from './outline.ts';
import type { Reading, ReadingOutcome, ReadingRequest } from './reading.ts';

/** Openings kept from the last readings, so that a person who scrolls through a sheet does not open it anew each time. */
interface Kept {
  /** State of the file. */
  stamp: string;
  /** How it is read, as somebody said. */
  howRead: string;
  /** Opened for somebody who scrolls through it, which serves everybody else as well. */
  isBrowsed: boolean;
  hash: string;
  source: OpenSource;
}
const kept = new Map<string, Kept>();
const MAX_KEPT = 3;
const PIECE = 1 << 20;
/** A file that changes while it is read is read again, this often at most. */
const MAX_TRIES = 4;

/**
 * Reads what `request` asks for out of one state of the file: when the file changes meanwhile, it is read again. Runs
 * in a worker thread.
 */
export default async function readFile(request: ReadingRequest): Promise<ReadingOutcome> {
  let outcome = await readOnce(request);
  for (let tries = 1; tries < MAX_TRIES && !outcome.isSteady; tries++) {
    outcome = await readOnce(request);
  }
  return outcome.result;
}

async function readOnce(
  request: ReadingRequest,
): Promise<{ isSteady: boolean; result: ReadingOutcome }> {
  const { path, shownPath } = request;
  const before = stampOf(path);
  const known = kept.get(path);
  const isBrowsed = (request.areas ?? []).length > 0;
  const howRead = JSON.stringify(request.reading ?? null);
  // The bytes of an unchanged file keep their hash, however they are read.
  let hash = known && known.stamp === before.stamp ? known.hash : null;
  const isOpen = hash !== null && known!.howRead === howRead && (known!.isBrowsed || !isBrowsed);
  if (!isOpen) {
    await forget(path);
    const hashed = hash === null ? hashFile(path, shownPath, before.isFile) : ok(hash);
    if (!hashed.ok) {
      return { isSteady: true, result: { ...hashed, hash: null, bytes: before.bytes } };
    }
    hash = hashed.value;
    if (hash === request.unlessHash) return { isSteady: true, result: same(hash, before.bytes) };
    const opened = await openSource(path, shownPath, {
      delimited: request.reading?.delimited,
      isBrowsed,
    });
    if (!opened.ok) {
      const isSteady = stampOf(path).stamp === before.stamp;
      return { isSteady, result: { ...opened, hash, bytes: before.bytes } };
    }
    await keep(path, {
      stamp: before.stamp,
      howRead,
      isBrowsed,
      hash,
      source: opened.value,
    });
  }
  if (hash === request.unlessHash) return { isSteady: true, result: same(hash, before.bytes) };
  const reading = await readAll(kept.get(path)!.source, request, hash!, before.bytes);
  const isSteady = stampOf(path).stamp === before.stamp;
  if (!isSteady || !reading.ok) await forget(path);
  return { isSteady, result: reading };
}

function same(hash: string, bytes: number): ReadingOutcome {
  return ok({
    hash,
    bytes,
    isSame: true,
    sheets: [],
    taken: [],
    followed: [],
    areas: [],
    outline: null,
    headings: [],
    marks: [],
    found: [],
    chart: null,
  });
}

async function readAll(
  source: OpenSource,
  request: ReadingRequest,
  hash: string,
  bytes: number,
): Promise<ReadingOutcome> {
  try {
    const taken = await takeReaches(source, request.reaches);
    const followed = await followReaches(source, request.follow ?? []);
    const areas: Reading['areas'] = [];
    for (const { sheet, area } of request.areas ?? [])
      areas.push(await source.readArea(sheet, area));
    const outline = request.withOutline ? await outlineOf(source) : ok(null);
    if (!outline.ok) return { ...outline, hash, bytes };
    const headings = request.withHeadings ? await headingsOf(source) : [];
    const chart = request.chart === undefined ? null : await takeChart(source, request.chart);
    return ok({
      hash,
      bytes,
      isSame: false,
      sheets: source.sheets,
      taken,
      followed,
      areas,
      outline: outline.value,
      headings,
      marks: request.withMarks ? await marksIn(source) : [],
      found: request.find ? await findIn(source, request.find) : [],
      chart,
    });
  } catch (error) {
    const detail = (error as Error).message;
    return {
      ok: false,
      fault: fault('source-damaged', { path: request.shownPath, detail }),
      hash,
      bytes,
    };
  }
}

/** Tells two states of a file apart without reading it. */
function stampOf(path: string) {
  try {
    const { ino, size, mtimeNs, ctimeNs, ...rest } = statSync(path, { bigint: true });
    const isFile = (rest.mode & 0o170000n) === 0o100000n;
    return { stamp: `${ino}.${size}.${mtimeNs}.${ctimeNs}`, bytes: Number(size), isFile };
  } catch {
    return { stamp: 'gone', bytes: 0, isFile: true };
  }
}

/** At once, piece by piece: the reading thread has nothing else to do, and each piece handed over costs as much as it. */
function hashFile(path: string, shownPath: string, isFile: boolean): Result<string> {
  if (!isFile) {
    return fail('source-unreadable', { path: shownPath, detail: 'it is not a plain file' });
  }
  const hash = createHash('sha256');
  let file: number | null = null;
  try {
    file = openSync(path, constants.O_RDONLY | constants.O_NONBLOCK);
    const piece = Buffer.allocUnsafe(PIECE);
    for (;;) {
      const length = readSync(file, piece);
      if (length === 0) break;
      hash.update(piece.subarray(0, length));
    }
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code ?? 'reading failed';
    if (code === 'ENOENT') return fail('source-missing', { path: shownPath });
    const detail = code === 'EACCES' || code === 'EPERM' ? 'it may not be read here' : code;
    return fail('source-unreadable', { path: shownPath, detail });
  } finally {
    if (file !== null) closeSync(file);
  }
  return ok(hash.digest('hex'));
}

async function keep(path: string, entry: Kept) {
  kept.set(path, entry);
  const oldest = kept.keys().next().value;
  if (kept.size > MAX_KEPT && oldest !== undefined) await forget(oldest);
}

async function forget(path: string) {
  const entry = kept.get(path);
  kept.delete(path);
  await entry?.source.close().catch(() => undefined);
}

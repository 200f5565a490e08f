import { randomUUID } from 'node:crypto';
import { constants } from 'node:fs';
import { copyFile, link, readdir, realpath, rm, stat } from 'node:fs/promises';
import { dirname, join, relative, resolve, sep } from 'node:path';
import type { Readable } from 'node:stream';
import {
  type AddFolder,
  type ChangeFolder,
  type FolderElsewhere,
  type FolderPlace,
  type LogEntry,
  MAX_UPLOAD_BYTES,
} from '@tether/contract';
import { fail, ok, type Result } from '@tether/core';
import { SOURCE_ENDINGS } from '@tether/formats';
import type { Database } from '../db/database.ts';
import { insertLog } from '../db/log.ts';
import {
  deleteFolder,
  type FolderRow,
  findFolder,
  insertFolder,
  listFolders,
  updateFolder,
} from '../db/sources.ts';
import { documentsUsingFolder, forgetFolderTethers, tiedPaths } from '../db/tethers.ts';
import { announce } from '../events/announce.ts';
import type { Means } from './means.ts';
import { takeIn, whyNotKept } from './take-in.ts';
import type { SourceKeeper } from './watching/keeper.ts';
import { isSourcePath } from './watching/watcher.ts';

/** What work on the folders themselves needs besides. */
interface FolderMeans extends Means {
  keeper: SourceKeeper;
  /** Places on the server below which the operator allows source folders. */
  roots: readonly string[];
}

/** Folders that a place lists at most. */
const MAX_LISTED = 500;

/** The places that the operator allows, and what lies in one of them. Faults: `folder-not-allowed`. */
export async function browsePlaces(
  { roots }: Pick<FolderMeans, 'roots'>,
  path: string | undefined,
): Promise<Result<FolderPlace>> {
  if (path === undefined) {
    // One allowed place is where to begin; of several it is chosen first.
    if (roots.length === 1) return browsePlaces({ roots }, roots[0]);
    return ok({ path: '', parent: null, folders: [...roots] });
  }
  const allowed = await allow(roots, path);
  if (!allowed.ok) return allowed;
  const { place, root } = allowed.value;
  const entries = await readdir(place, { withFileTypes: true }).catch(() => null);
  if (!entries) return refusal(roots, path);
  const folders = entries
    .filter((entry) => entry.isDirectory() && !entry.name.startsWith('.'))
    .map(({ name }) => name)
    .sort((a, b) => a.localeCompare(b))
    .slice(0, MAX_LISTED);
  const above = place === root ? (roots.length > 1 ? '' : null) : dirname(place);
  return ok({ path: place, parent: above, folders });
}

/**
 * Registers a folder and watches it. Faults: `folder-missing`, `folder-not-allowed`, `folder-name-taken`, `folder-place-taken`.
 */
export async function addFolder(
  services: FolderMeans,
  personId: string,
  { name, path }: AddFolder,
): Promise<Result<FolderRow>> {
  const { db, keeper, roots } = services;
  const known = await listFolders(db);
  const isTaken = isNameTaken(known, name);
  const place = await freePlace(roots, path, isTaken ? [] : known);
  if (!place.ok) return place;
  if (isTaken) return fail('folder-name-taken', { name });
  const folder = await insertFolder(db, { name, root: place.value });
  await logFolder(db, personId, 'folder added', `${name}.`);
  await keeper.foldersChanged();
  return ok(folder);
}

/**
 * Gives a folder another name or rule, or says where it lies now: everything in it is found there from then on, by the same paths.
 * Faults: `not-found`, `folder-name-taken`, and those of adding a folder there.
 */
export async function changeFolder(
  services: FolderMeans,
  personId: string,
  id: string,
  { name, path, followsCertain }: ChangeFolder,
): Promise<Result<FolderRow>> {
  const { db, keeper, roots } = services;
  const folder = await findFolder(db, id);
  if (!folder) return fail('not-found', { what: 'source folder' });
  const others = (await listFolders(db)).filter((each) => each.id !== id);
  if (name !== undefined && isNameTaken(others, name)) return fail('folder-name-taken', { name });
  const place = path === undefined ? ok(folder.root) : await freePlace(roots, path, others);
  if (!place.ok) return place;
  const root = place.value;
  const changed = await updateFolder(db, id, {
    root,
    ...(name === undefined ? {} : { name }),
    ...(followsCertain === undefined ? {} : { followsCertain }),
  });
  if (name !== undefined && name !== folder.name) {
    await logFolder(db, personId, 'renamed', `Source folder “${folder.name}” to “${name}”.`);
  }
  if (root !== folder.root) {
    await logFolder(
      db,
      personId,
      'folder moved',
      `${changed.name}, from ${folder.root} to ${root}.`,
    );
  }
  if (followsCertain !== undefined && followsCertain !== folder.followsCertain) {
    const said = followsCertain
      ? 'files that went and were changed are followed where that is certain'
      : 'files that went and were changed are asked about';
    await logFolder(db, personId, 'folder rule', `${changed.name}: ${said}.`);
  }
  await keeper.foldersChanged();
  return ok(changed);
}

/** Which of a folder's files that are in use lie at another place. Faults: those of adding a folder there. */
export async function seeElsewhere(
  { db, roots }: Pick<FolderMeans, 'db' | 'roots'>,
  id: string,
  path: string,
): Promise<Result<FolderElsewhere>> {
  if (!(await findFolder(db, id))) return fail('not-found', { what: 'source folder' });
  const others = (await listFolders(db)).filter((each) => each.id !== id);
  const place = await freePlace(roots, path, others);
  if (!place.ok) return place;
  const tied = await tiedPaths(db, id);
  const isThere = await Promise.all(tied.map((each) => exists(join(place.value, each))));
  const missing = tied.filter((_, at) => !isThere[at]);
  return ok({ path: place.value, tied: tied.length, there: tied.length - missing.length, missing });
}

/**
 * Forgets a folder; its files stay where they are. Objects taken out of their documents that were tied to it can then no
 * longer come back. Faults: `not-found`, `folder-in-use`.
 */
export async function removeFolder(
  services: FolderMeans,
  personId: string,
  id: string,
): Promise<Result<null>> {
  const { db, keeper } = services;
  const folder = await findFolder(db, id);
  if (!folder) return fail('not-found', { what: 'source folder' });
  const documents = await documentsUsingFolder(db, id);
  if (documents.length > 0) return fail('folder-in-use', { documents: documents.join(', ') });
  await db.transaction(async (tx) => {
    await forgetFolderTethers(tx, id);
    await deleteFolder(tx, id);
    await logFolder(tx, personId, 'folder removed', `${folder.name}.`);
  });
  await keeper.foldersChanged();
  return ok(null);
}

/**
 * Puts a file that arrives as a stream into a folder, whole or not at all; a file that is there already stays. Faults:
 * `not-found`, `file-kind-unknown`, `upload-too-large`, and those of `whyNotKept`.
 */
export async function putFile(
  services: Pick<FolderMeans, 'db' | 'keeper'>,
  personId: string,
  folderId: string,
  name: string,
  body: Readable,
  /** Bytes as they are announced; NaN where nothing is. */
  announced = Number.NaN,
): Promise<Result<null>> {
  const folder = await findFolder(services.db, folderId);
  if (!folder) return fail('not-found', { what: 'source folder' });
  if (/[/\\\0]/.test(name) || !isSourcePath(name)) {
    const kinds = SOURCE_ENDINGS.map((ending) => `.${ending}`).join(', ');
    return fail('file-kind-unknown', { name, kinds });
  }
  if (announced > MAX_UPLOAD_BYTES) return fail('upload-too-large', { name, limit: '200 MB' });
  const target = join(folder.root, name);
  if (await exists(target)) return fail('file-exists', { path: name });
  // Hidden until it is whole, so that nobody takes a part of it for a source.
  const waiting = join(folder.root, `.${randomUUID()}.arriving`);
  try {
    await takeIn(body, waiting, MAX_UPLOAD_BYTES);
    await giveName(waiting, target);
    await logFolder(services.db, personId, 'file put in', `${folder.name}/${name}.`);
    services.keeper.onFile(folder, name);
    return ok(null);
  } catch (error) {
    return { ok: false, fault: whyNotKept(error, { name, limit: '200 MB', folder: folder.name }) };
  } finally {
    await rm(waiting, { force: true });
  }
}

/** Says in the log what somebody did to a folder. */
async function logFolder(
  db: Database,
  personId: string,
  kind: LogEntry['kind'],
  summary: string,
): Promise<void> {
  await insertLog(db, [{ kind, personId, summary }]);
  await announce(db, { kind: 'log' });
}

/** A link fails where a file has come meanwhile; a renaming would take its place. Some file systems have no links. */
async function giveName(waiting: string, target: string): Promise<void> {
  try {
    await link(waiting, target);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'EEXIST') throw error;
    await copyFile(waiting, target, constants.COPYFILE_EXCL);
  }
}

/** The real place of a path, where it lies in or is one of the allowed ones. */
async function allow(
  roots: readonly string[],
  path: string,
): Promise<Result<{ place: string; root: string }>> {
  try {
    const place = await realpath(resolve(path));
    if (!(await stat(place)).isDirectory()) return refusal(roots, path);
    for (const each of roots) {
      const root = await realpath(each).catch(() => null);
      if (root !== null && isWithin(place, root)) return ok({ place, root });
    }
  } catch (error) {
    // That a place outside of what is allowed is not there is nobody's business: it is refused like one that is.
    const isMissing = (error as NodeJS.ErrnoException).code === 'ENOENT';
    const wanted = resolve(path);
    if (isMissing && roots.some((root) => isWithin(wanted, resolve(root)))) {
      return fail('folder-missing', { path });
    }
  }
  return refusal(roots, path);
}

/** The real place of a path where a source folder may lie. */
async function freePlace(
  roots: readonly string[],
  path: string,
  others: readonly FolderRow[],
): Promise<Result<string>> {
  const allowed = await allow(roots, path);
  if (!allowed.ok) return allowed;
  const { place } = allowed.value;
  for (const folder of others) {
    // A file that lies in two folders would be two sources that do not know of each other.
    const there = await realpath(folder.root).catch(() => resolve(folder.root));
    if (isWithin(place, there) || isWithin(there, place)) {
      return fail('folder-place-taken', { name: folder.name });
    }
  }
  return ok(place);
}

function refusal(roots: readonly string[], path: string) {
  return fail('folder-not-allowed', { path, roots: roots.join(' or ') });
}

function isWithin(place: string, root: string): boolean {
  const way = relative(root, place);
  return way === '' || (way !== '..' && !way.startsWith(`..${sep}`) && !way.startsWith(sep));
}

function isNameTaken(folders: readonly FolderRow[], name: string): boolean {
  return folders.some((folder) => folder.name.toLowerCase() === name.toLowerCase());
}

async function exists(path: string): Promise<boolean> {
  return stat(path).then(
    () => true,
    () => false,
  );
}

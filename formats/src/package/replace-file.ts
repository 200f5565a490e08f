import { randomBytes } from 'node:crypto';
import { constants, type Stats } from 'node:fs';
import { access, copyFile, open, readdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { type Fault, fail, fault, ok, type Result } from '@tether/core';

/** What stands in the way of writing a file that somebody has open. */
export interface HeldBy {
  /** Who, where the program that has it open says so. */
  who: string | null;
}

/** How a file is replaced. */
export interface Replacement {
  /** The bytes that it must still have: what was looked at before somebody agreed. */
  before: Buffer;
  after: Buffer;
  /** Where the file as it was is kept; null for nowhere. A folder outside of those that are watched. */
  backup: string | null;
}

/** The steps of replacing a file, in their order. */
export const REPLACE_STEPS = [
  'looked',
  'backed up',
  'written',
  'flushed',
  'read back',
  'swapped',
  'settled',
] as const;
export type ReplaceStep = (typeof REPLACE_STEPS)[number];

/** A name that a half-written file has: beside the real one, and known for what it is. */
const HALF = /^\.(.*)\.tether-[0-9a-f]{8}$/;

/**
 * Replaces a file as a whole: what is new is written beside it, flushed to the disk, read back, and takes its place in one
 * step, with its owner and rights. At any moment the file is the old one or the new one, whole. Nothing is written where it
 * has changed since, is open elsewhere, or may not be written. Faults: `source-missing`, `write-changed`, `write-held`,
 * `write-read-only`, `write-no-room`, `write-not-possible`. `onStep` is told of each step that is done.
 */
export async function replaceFile(
  path: string,
  shownPath: string,
  { before, after, backup }: Replacement,
  onStep: (step: ReplaceStep) => void = () => undefined,
): Promise<Result<null>> {
  const folder = dirname(path);
  const half = join(folder, `.${basename(path)}.tether-${randomBytes(4).toString('hex')}`);
  try {
    const was = await stat(path);
    const held = await heldBy(path);
    if (held) return fail('write-held', { path: shownPath, who: held.who ?? 'Another program' });
    if (!(await readFile(path)).equals(before)) return fail('write-changed', { path: shownPath });
    await access(path, constants.W_OK);
    onStep('looked');
    if (backup !== null) await copyFile(path, backup, constants.COPYFILE_EXCL);
    onStep('backed up');
    await writeBeside(half, after, was, onStep);
    const back = await readFile(half);
    if (!back.equals(after)) throw new Error('what was written is not what is read back');
    onStep('read back');
    // Somebody may have saved it while this was written.
    const now = await stat(path);
    const isSame = now.mtimeMs === was.mtimeMs && now.size === was.size && now.ino === was.ino;
    if (!isSame) return fail('write-changed', { path: shownPath });
    await rename(half, path);
    onStep('swapped');
    await flushFolder(folder);
    onStep('settled');
    return ok(null);
  } catch (error) {
    return { ok: false, fault: faultOf(error, shownPath) };
  } finally {
    await rm(half, { force: true }).catch(() => undefined);
  }
}

/** Writes and flushes a file with the owner and rights of another. */
async function writeBeside(
  half: string,
  bytes: Buffer,
  { mode, uid, gid }: Stats,
  onStep: (step: ReplaceStep) => void,
): Promise<void> {
  const file = await open(half, 'wx', mode);
  try {
    await file.writeFile(bytes);
    // What the process may not give away stays its own, unless that would let others read what they may not.
    await file.chown(uid, gid).catch((error: NodeJS.ErrnoException) => {
      if (error.code !== 'EPERM') throw error;
    });
    await file.chmod(mode & 0o7777);
    onStep('written');
    await file.sync();
    onStep('flushed');
  } finally {
    await file.close();
  }
}

/** A folder knows of a renamed file for good only when it is flushed too. */
async function flushFolder(folder: string): Promise<void> {
  const handle = await open(folder, 'r').catch(() => null);
  // Not every file system can do that; the file itself is whole in any case.
  await handle?.sync().catch(() => undefined);
  await handle?.close();
}

/**
 * Whether another program has a file open, by the small files that office programs leave beside it while they do (common
 * practice): `~$name` with the name of who has it open behind its length, and `.~lock.name#` with fields between commas.
 * Null where nothing says so.
 */
export async function heldBy(path: string): Promise<HeldBy | null> {
  const folder = dirname(path);
  const name = basename(path);
  // Of long names the first two letters give way to the mark.
  const marks = new Set([`~$${name}`, `~$${name.slice(2)}`]);
  const lock = `.~lock.${name}#`;
  const beside = await readdir(folder).catch(() => [] as string[]);
  const mark = beside.find((each) => marks.has(each));
  if (mark !== undefined) return { who: ownerIn(await bytesOf(join(folder, mark))) };
  if (!beside.includes(lock)) return null;
  const [who = ''] = (await bytesOf(join(folder, lock))).toString('utf8').split(',');
  return { who: who.trim() || null };
}

async function bytesOf(path: string): Promise<Buffer> {
  return readFile(path).catch(() => Buffer.alloc(0));
}

/** The name in an owner file: its length in the first byte, in letters of one byte. */
function ownerIn(bytes: Buffer): string | null {
  const length = bytes[0] ?? 0;
  const name = bytes.subarray(1, 1 + Math.min(length, 52)).toString('latin1');
  return /^[\u0020-\u007e\u00a0-\u00ff]+$/.test(name) ? name.trim() || null : null;
}

/** Half-written files that a process left when it ended, in a folder: whoever comes next clears them away. */
export async function clearHalf(folder: string): Promise<number> {
  const left = (await readdir(folder)).filter((name) => HALF.test(name));
  for (const name of left) await rm(join(folder, name), { force: true });
  return left.length;
}

function faultOf(error: unknown, path: string): Fault {
  const { code, message } = error as NodeJS.ErrnoException;
  switch (code) {
    case 'ENOENT':
      return fault('source-missing', { path });
    case 'EACCES':
    case 'EPERM':
    case 'EROFS':
      return fault('write-read-only', { path });
    case 'ENOSPC':
    case 'EDQUOT':
      return fault('write-no-room', { path });
    case 'EBUSY':
    case 'ETXTBSY':
      return fault('write-held', { path, who: 'Another program' });
    default:
      return fault('write-not-possible', { why: code ?? message });
  }
}

import { closeSync, constants, openSync, readlinkSync } from 'node:fs';
import { realpath } from 'node:fs/promises';
import { isAbsolute, join, relative, sep } from 'node:path';
import { fail, ok, type Result } from '@tether/core';

/** Where a file was found: its absolute path, and that of the folder that it lies in, both with every link followed. */
export interface Located {
  path: string;
  root: string;
}

/**
 * Where `path` below the folder lies, when it stays inside. What is opened there may be something else a moment later:
 * who opens it looks once more at what was opened (`sources/read-file`).
 * Faults: `path-outside-folder`, `source-missing`, `folder-offline`, `source-unreadable`.
 */
export async function locate(
  folder: { name: string; root: string },
  path: string,
): Promise<Result<Located>> {
  if (path.includes('\0') || isAbsolute(path) || !isInside(join(folder.root, path), folder.root)) {
    return fail('path-outside-folder', { path });
  }
  let root: string;
  try {
    root = await realpath(folder.root);
  } catch {
    return fail('folder-offline', { folder: folder.name });
  }
  try {
    const target = await realpath(join(root, path));
    return isInside(target, root)
      ? ok({ path: target, root })
      : fail('path-outside-folder', { path });
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code ?? 'reading failed';
    if (code === 'ENOENT' || code === 'ENOTDIR') return fail('source-missing', { path });
    return fail('source-unreadable', { path, detail: code });
  }
}

/** Whether a path lies below a folder; both absolute, without links. */
export function isInside(target: string, root: string): boolean {
  const way = relative(root, target);
  return way !== '' && way !== '..' && !way.startsWith(`..${sep}`) && !isAbsolute(way);
}

/** The path by which what is open is opened again: the same file, wherever its own path leads now. */
export function pathOf(handle: number): string {
  return `/proc/self/fd/${handle}`;
}

/**
 * Opens a file and looks where it lies, now that it cannot be exchanged any more. Faults: `source-missing`,
 * `source-unreadable`, `path-outside-folder`.
 */
export function openInside({
  path,
  root,
  shownPath,
}: Located & { shownPath: string }): Result<number> {
  let handle: number;
  try {
    handle = openSync(path, constants.O_RDONLY | constants.O_NONBLOCK);
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code ?? 'reading failed';
    if (code === 'ENOENT' || code === 'ENOTDIR') return fail('source-missing', { path: shownPath });
    if (code === 'ENXIO') {
      return fail('source-unreadable', { path: shownPath, detail: 'it is not a plain file' });
    }
    const detail = code === 'EACCES' || code === 'EPERM' ? 'it may not be read here' : code;
    return fail('source-unreadable', { path: shownPath, detail });
  }
  // One that was taken away since is told by that; what it was is not read.
  const real = readlinkSync(pathOf(handle));
  if (isInside(real, root)) return ok(handle);
  closeSync(handle);
  return fail('path-outside-folder', { path: shownPath });
}

import { realpath } from 'node:fs/promises';
import { isAbsolute, join, relative, sep } from 'node:path';
import { fail, ok, type Result } from '@tether/core';

/**
 * The absolute path of `path` below the folder `root`, with every link followed, when it stays inside.
 * Faults: `path-outside-folder`, `source-missing`, `folder-offline`, `source-unreadable`.
 */
export async function locate(
  folder: { name: string; root: string },
  path: string,
): Promise<Result<string>> {
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
    return isInside(target, root) ? ok(target) : fail('path-outside-folder', { path });
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code ?? 'reading failed';
    if (code === 'ENOENT' || code === 'ENOTDIR') return fail('source-missing', { path });
    return fail('source-unreadable', { path, detail: code });
  }
}

function isInside(target: string, root: string): boolean {
  const way = relative(root, target);
  return way !== '' && way !== '..' && !way.startsWith(`..${sep}`) && !isAbsolute(way);
}

import { createHash } from 'node:crypto';
import { closeSync, createReadStream, createWriteStream, fstatSync } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { fail, ok, type Result } from '@tether/core';
import { locate, openInside } from './locate.ts';
import { stampOfStats } from './stamp.ts';

/** A file that changes while it is copied is copied again, this often at most. */
const MAX_TRIES = 4;

/**
 * Copies one state of a source's file to `target`. Faults: those of finding it (`locate`), `source-unreadable` for one that
 * changes all the time.
 */
export async function copyFile(
  folder: { name: string; root: string },
  path: string,
  target: string,
): Promise<Result<{ hash: string; bytes: number }>> {
  const located = await locate(folder, path);
  if (!located.ok) return located;
  for (let tries = 0; tries < MAX_TRIES; tries++) {
    const inside = openInside({ ...located.value, shownPath: path });
    if (!inside.ok) return inside;
    const handle = inside.value;
    try {
      const facts = () => fstatSync(handle, { bigint: true });
      const before = facts();
      if (!before.isFile()) {
        return fail('source-unreadable', { path, detail: 'it is not a plain file' });
      }
      const hash = createHash('sha256');
      let bytes = 0;
      await pipeline(
        createReadStream('', { fd: handle, start: 0, autoClose: false }),
        async function* (pieces: AsyncIterable<Buffer>) {
          for await (const piece of pieces) {
            hash.update(piece);
            bytes += piece.length;
            yield piece;
          }
        },
        createWriteStream(target),
      );
      if (stampOfStats(facts()) === stampOfStats(before)) {
        return ok({ hash: hash.digest('hex'), bytes });
      }
    } finally {
      closeSync(handle);
    }
  }
  return fail('source-unreadable', { path, detail: 'it is being written all the time' });
}

import { createWriteStream } from 'node:fs';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';

/** More arrives than is taken. */
export class TooLarge extends Error {}

/** Writes what arrives into a new file, of at most `limit` bytes. Throws `TooLarge`, and what writing and receiving throw. */
export async function takeIn(body: Readable, target: string, limit: number): Promise<void> {
  let bytes = 0;
  await pipeline(
    body,
    async function* (pieces: AsyncIterable<Buffer>) {
      for await (const piece of pieces) {
        bytes += piece.length;
        if (bytes > limit) throw new TooLarge();
        yield piece;
      }
    },
    createWriteStream(target, { flags: 'wx' }),
  );
}

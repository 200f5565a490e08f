import { createWriteStream } from 'node:fs';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { type Fault, fault } from '@tether/core';

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

/** What is told of a file: its name, the most that it may be, and the source folder that it was to come into, if one. */
interface NotKept {
  name: string;
  limit: string;
  folder?: string;
}

/** Why something that arrived was not kept, by what `takeIn` or writing it threw. Where the sender went away there is no code. */
export function whyNotKept(error: unknown, { name, limit, folder }: NotKept): Fault {
  if (error instanceof TooLarge) return fault('upload-too-large', { name, limit });
  const { code } = error as NodeJS.ErrnoException;
  switch (code) {
    case 'EEXIST':
      return fault('file-exists', { path: name });
    case 'ENOSPC':
    case 'EDQUOT':
      return fault('upload-no-room', { name });
    case 'EACCES':
    case 'EPERM':
    case 'EROFS':
      if (folder !== undefined) return fault('folder-read-only', { folder });
      return fault('upload-not-kept', { name, why: 'its place on the server is write-protected' });
    case 'ENOENT':
    case 'ENOTDIR':
    case 'EIO':
    case 'ESTALE':
    case 'EHOSTDOWN':
      if (folder !== undefined) return fault('folder-offline', { folder });
      return fault('upload-not-kept', { name, why: `the disk said ${code}` });
    case undefined:
    case 'ECONNRESET':
    case 'ECONNABORTED':
    case 'ERR_STREAM_PREMATURE_CLOSE':
    case 'ABORT_ERR':
      return fault('upload-cut-short', { name });
    default:
      return fault('upload-not-kept', { name, why: (error as Error).message });
  }
}

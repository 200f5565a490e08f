import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { MAX_BUNDLE_BYTES } from '@tether/contract';
import { fail, type Result } from '@tether/core';
import { TooLarge, takeIn } from '../../sources/take-in.ts';
import type { Arrived } from './open.ts';

/** Takes in a bundle as it arrives, for as long as `use` has to do with it. Faults: `upload-too-large`, `upload-cut-short`, and those of `use`. */
export async function withArrived<T>(
  body: Readable,
  name: string,
  use: (arrived: Arrived) => Promise<Result<T>>,
): Promise<Result<T>> {
  const folder = await mkdtemp(join(tmpdir(), 'bundle-'));
  try {
    const path = join(folder, 'arrived');
    try {
      await takeIn(body, path, MAX_BUNDLE_BYTES);
    } catch (error) {
      if (error instanceof TooLarge) return fail('upload-too-large', { name, limit: '1 GB' });
      return fail('upload-cut-short', { name });
    }
    return await use({ path, name });
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

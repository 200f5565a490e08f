import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { MAX_BUNDLE_BYTES } from '@tether/contract';
import type { Result } from '@tether/core';
import { takeIn, whyNotKept } from '../../sources/take-in.ts';
import type { Arrived } from './open.ts';

/** Takes in a bundle as it arrives, for as long as `use` has to do with it. Faults: those of `whyNotKept` and of `use`. */
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
      return { ok: false, fault: whyNotKept(error, { name, limit: '1 GB' }) };
    }
    return await use({ path, name });
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

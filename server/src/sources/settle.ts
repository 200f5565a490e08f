import { stampOf } from './stamp.ts';

/** How long a file must stay as it is to count as saved. */
const QUIET_MS = 150;
const MAX_WAIT_MS = 30_000;

/**
 * Waits until the file at `path` has stopped changing: programs save in several writes, or remove and put back. A
 * file that is gone must stay gone for the same time. Gives up waiting, not the file, after half a minute. Gives the
 * state in which the file then is.
 */
export async function settle(path: string): Promise<string> {
  const deadline = Date.now() + MAX_WAIT_MS;
  let last = await stampOf(path);
  while (Date.now() < deadline) {
    await new Promise((resolve) => setTimeout(resolve, QUIET_MS));
    const now = await stampOf(path);
    if (now === last) break;
    last = now;
  }
  return last;
}

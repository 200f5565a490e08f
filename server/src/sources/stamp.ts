import type { BigIntStats } from 'node:fs';
import { stat } from 'node:fs/promises';

/** Tells two states of a file apart without reading it; only whether two are the same means anything, no clock does. */
export function stampOfStats({ ino, size, mtimeNs, ctimeNs }: BigIntStats): string {
  return [ino, size, mtimeNs, ctimeNs].join(' ');
}

/** The same of what stands at a path now. */
export async function stampOf(path: string): Promise<string> {
  try {
    return stampOfStats(await stat(path, { bigint: true }));
  } catch {
    return 'gone';
  }
}

/**
 * Whether two states look the same but for the file's number and its changes of place, which are others after a drive was
 * plugged in again. What looks so is believed for the moment, and read.
 */
export function isAlike(one: string, other: string): boolean {
  const seen = (stamp: string) => stamp.split(' ').slice(1, 3).join(' ');
  return one !== 'gone' && other !== 'gone' && seen(one) !== '' && seen(one) === seen(other);
}

const AT_ONCE = 32;

/** The states of many files below a folder, by path. */
export async function stampsBelow(
  root: string,
  paths: Iterable<string>,
): Promise<Map<string, string>> {
  const stamps = new Map<string, string>();
  const waiting = [...paths];
  const work = async () => {
    for (let path = waiting.pop(); path !== undefined; path = waiting.pop()) {
      stamps.set(path, await stampOf(`${root}/${path}`));
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, work));
  return stamps;
}

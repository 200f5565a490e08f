import type { SheetPrint } from './sheet-print.ts';

/**
 * What a sheet holds in few numbers, by which much of it can be compared with much of another: how many different values stand in
 * it, and the smallest of their hashes (bottom-k sketch: Cohen and Kaplan, "Summarizing Data using Bottom-k Sketches", 2007).
 */
export interface Sketch {
  size: number;
  /** Rising, each once, at most `SKETCH_SIZE`. */
  hashes: number[];
}

/**
 * So many hashes are kept: the share of what two sheets have in common is then told to within some 3 per cent (the standard error
 * is the root of J(1-J)/k, at most 1/(2 times the root of k)).
 */
export const SKETCH_SIZE = 256;

/** The sketch of what a sheet holds. */
export function sketchSheet({ keys }: SheetPrint): Sketch {
  const hashes = new Uint32Array(keys.length);
  let count = 0;
  for (const key of keys) if (key !== 0) hashes[count++] = mixed(key);
  const rising = hashes.subarray(0, count).sort();
  const kept: number[] = [];
  let size = 0;
  for (let at = 0; at < rising.length; at++) {
    if (at > 0 && rising[at] === rising[at - 1]) continue;
    size++;
    if (kept.length < SKETCH_SIZE) kept.push(rising[at]!);
  }
  return { size, hashes: kept };
}

/** Spreads keys evenly over 32 bits (the last steps of MurmurHash3, in the public domain). */
function mixed(key: number): number {
  let hash = key ^ (key >>> 16);
  hash = Math.imul(hash, 0x85ebca6b);
  hash ^= hash >>> 13;
  hash = Math.imul(hash, 0xc2b2ae35);
  return (hash ^ (hash >>> 16)) >>> 0;
}

/** How many of all values that stand in either stand in both, from 0 to 1, as far as the sketches tell (Jaccard). */
export function sharedByBoth(a: Sketch, b: Sketch): number {
  if (a.size === 0 || b.size === 0) return 0;
  let [i, j, seen, both] = [0, 0, 0, 0];
  const [one, other] = [a.hashes, b.hashes];
  // Of the smallest hashes of both together, those that are in both.
  while (seen < SKETCH_SIZE && (i < one.length || j < other.length)) {
    const [x, y] = [one[i] ?? Number.POSITIVE_INFINITY, other[j] ?? Number.POSITIVE_INFINITY];
    if (x === y) both++;
    if (x <= y) i++;
    if (y <= x) j++;
    seen++;
  }
  return seen === 0 ? 0 : both / seen;
}

import { deserialize, serialize } from 'node:v8';
import { brotliCompressSync, brotliDecompressSync, constants } from 'node:zlib';
import type { SheetPrint } from '@tether/core';

/** Places of all sheets together whose prints are kept: a few hundred kilobytes, read with every look. */
const MOST_PLACES = 100_000;
const QUALITY = { params: { [constants.BROTLI_PARAM_QUALITY]: 1 } };

/** Prints of sheets as they are stored; null where they are too large to be kept. */
export function packPrints(prints: readonly SheetPrint[]): Uint8Array | null {
  const places = prints.reduce((sum, { keys }) => sum + keys.length, 0);
  if (prints.length === 0 || places > MOST_PLACES) return null;
  return new Uint8Array(brotliCompressSync(serialize(prints), QUALITY));
}

/** Prints that `packPrints` packed. */
export function unpackPrints(packed: Uint8Array): SheetPrint[] {
  return deserialize(brotliDecompressSync(packed)) as SheetPrint[];
}

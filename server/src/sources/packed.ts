import { createHash } from 'node:crypto';
import { brotliCompressSync, brotliDecompressSync, constants } from 'node:zlib';
import type { Area, Snapshot } from '@tether/core';

/** A snapshot as it is stored. */
export interface PackedSnapshot {
  /** SHA-256 of its JSON, hexadecimal. Snapshots are built key by key in one order, so that equal ones agree. */
  hash: string;
  sheet: string;
  area: Area;
  packed: Uint8Array;
}

/** First byte of what is stored: how the rest is packed. */
const AS_IS = 0;
const BROTLI = 1;
/** The quickest: a usual table takes a sixth of its JSON. Packed closer it takes a fifth less, in three times the time. */
const QUALITY = { params: { [constants.BROTLI_PARAM_QUALITY]: 1 } };

/** The snapshot as it is stored. */
export function packSnapshot(snapshot: Snapshot): PackedSnapshot {
  const { sheet, area } = snapshot;
  const text = JSON.stringify(snapshot);
  const content = brotliCompressSync(text, QUALITY);
  const packed = new Uint8Array(content.length + 1);
  packed[0] = BROTLI;
  packed.set(content, 1);
  return { hash: createHash('sha256').update(text).digest('hex'), sheet, area, packed };
}

/** The snapshot that was stored. */
export function unpackSnapshot(packed: Uint8Array): Snapshot {
  const rest = packed.subarray(1);
  const text = packed[0] === AS_IS ? Buffer.from(rest) : brotliDecompressSync(rest);
  return JSON.parse(text.toString('utf8')) as Snapshot;
}

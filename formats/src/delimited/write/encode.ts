import type { Encoding } from '@tether/core';
import { decodeWhole } from '../read/decode.ts';

/** The bytes of each sign that an encoding has, made when it is first needed. */
const tables = new Map<Encoding, Map<string, Buffer>>();

/**
 * The bytes of a text in an encoding; null for a text with a sign that the encoding has not got, which is told by `onLost`.
 * Without a byte order mark.
 */
export function encodeText(
  text: string,
  encoding: Encoding,
  onLost?: (sign: string) => void,
): Buffer | null {
  if (encoding === 'utf-8') return Buffer.from(text, 'utf8');
  if (encoding === 'utf-16le') return Buffer.from(text, 'utf16le');
  if (encoding === 'utf-16be') return Buffer.from(text, 'utf16le').swap16();
  const table = tableOf(encoding);
  const pieces: Buffer[] = [];
  for (const sign of text) {
    const bytes = table.get(sign);
    if (!bytes) {
      onLost?.(sign);
      return null;
    }
    pieces.push(bytes);
  }
  return Buffer.concat(pieces);
}

function tableOf(encoding: Encoding): Map<string, Buffer> {
  const known = tables.get(encoding);
  if (known) return known;
  const table = new Map<string, Buffer>();
  const learn = (...bytes: number[]) => {
    const sign = decodeWhole(Uint8Array.from(bytes), encoding);
    const isOne = [...sign].length === 1 && sign !== '\uFFFD';
    // Of several ways to write a sign the first one counts, as in the WHATWG Encoding Standard's indexes.
    if (isOne && !table.has(sign)) table.set(sign, Buffer.from(bytes));
  };
  for (let byte = 0; byte < 256; byte++) learn(byte);
  if (isWide(encoding)) {
    for (let lead = 0x81; lead < 0xff; lead++) {
      for (let trail = 0x30; trail < 0xff; trail++) learn(lead, trail);
    }
  }
  tables.set(encoding, table);
  return table;
}

/** Encodings in which two bytes can make one sign. */
function isWide(encoding: Encoding): boolean {
  return ['shift_jis', 'euc-jp', 'gb18030', 'big5', 'euc-kr'].includes(encoding);
}

import { inflateSync } from 'node:zlib';
import { describe, expect, it } from '@jest/globals';
import { withDots } from './png-dots.ts';

/** A PNG of one white dot, as a painting program wrote it. */
const DOT = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAAAAAA6fptVAAAACklEQVR4nGP6DwABBQECz6AuzQAAAABJRU5ErkJggg==',
  'base64',
);

/** The parts of a PNG, as W3C PNG 5.3 lays them out. */
function partsOf(png: Buffer) {
  const parts: { name: string; bytes: Buffer; sum: number }[] = [];
  for (let at = 8; at < png.length; ) {
    const length = png.readUInt32BE(at);
    const name = png.toString('latin1', at + 4, at + 8);
    const bytes = png.subarray(at + 8, at + 8 + length);
    parts.push({ name, bytes, sum: png.readUInt32BE(at + 8 + length) });
    at += 12 + length;
  }
  return parts;
}

describe('a picture that says how large it is', () => {
  it('says it between its head and its dots, and is the same picture', () => {
    const parts = partsOf(withDots(DOT, 300));
    expect(parts.map(({ name }) => name)).toEqual(['IHDR', 'pHYs', 'IDAT', 'IEND']);
    const said = parts[1]!.bytes;
    // 300 to the inch of 25.4 mm are 11,811 to the metre.
    expect([said.readUInt32BE(0), said.readUInt32BE(4), said.readUInt8(8)]).toEqual([
      11_811, 11_811, 1,
    ]);
    expect(inflateSync(parts[2]!.bytes)).toEqual(inflateSync(partsOf(DOT)[1]!.bytes));
  });

  it('has the sum that readers of PNG check', () => {
    // Many pictures have 72 to the inch, 2,834 to the metre: their sum reads d2dd7efc (from memory, common in files).
    const part = partsOf(withDots(DOT, 71.9836))[1]!;
    expect(part.bytes.toString('hex')).toBe('00000b1200000b1201');
    expect(part.sum).toBe(0xd2dd7efc);
  });
});

import { constants, deflateRawSync, inflateRawSync } from 'node:zlib';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { spliceDeflate } from './splice-deflate.ts';

/** Text as sheets are: much alike, with other figures. */
function rows(count: number, seed: number): Buffer {
  let state = seed >>> 0;
  const next = () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state >>> 8;
  };
  const lines = Array.from(
    { length: count },
    (_, row) =>
      `<row r="${row}"><c r="A${row}"><v>${next() % 100_000}</v></c><c r="B${row}"/></row>`,
  );
  return Buffer.from(lines.join(''));
}
function changed(from: Buffer, at: number, cut: number, put: string): Buffer {
  return Buffer.concat([from.subarray(0, at), Buffer.from(put), from.subarray(at + cut)]);
}

// Reference: zlib, which unpacks what was spliced (RFC 1951).
describe('a part that is packed anew around its change', () => {
  test.each([
    ['quickly', { level: 1 }],
    ['as usual', {}],
    ['as small as can be', { level: 9, memLevel: 9 }],
    ['in small blocks', { memLevel: 1 }],
    ['with fixed codes', { strategy: constants.Z_FIXED }],
    ['by codes alone', { strategy: constants.Z_HUFFMAN_ONLY }],
  ])('unpacks to what it should be: packed %s', (_, options) => {
    const before = rows(30_000, 7);
    const packed = deflateRawSync(before, options);
    for (const at of [0, 1, 60_000, 900_000, before.length - 3]) {
      const after = changed(before, at, 2, 'another figure');
      const made = spliceDeflate(packed, before, after)!;
      expect(inflateRawSync(made).equals(after)).toBe(true);
    }
  });

  test('takes the others over: little more than a block of it is packed anew', () => {
    const before = rows(60_000, 3);
    const packed = deflateRawSync(before, { level: 9 });
    const made = spliceDeflate(packed, before, changed(before, 2_000_000, 1, '77'))!;
    const tail = packed.length >> 1;
    // The other half is there, moved by some bits.
    expect(Math.abs(made.length - packed.length)).toBeLessThan(20_000);
    expect(made.subarray(0, 1_000).equals(packed.subarray(0, 1_000))).toBe(true);
    expect(made.length).toBeGreaterThan(tail);
  });

  test('is given up where blocks are stored as they are, or the stream is none', () => {
    const before = rows(30_000, 5);
    const stored = deflateRawSync(before, { level: 0 });
    const after = changed(before, 10, 1, 'xx');
    expect(spliceDeflate(stored, before, after)).toBeNull();
    expect(spliceDeflate(Buffer.from('no stream at all'), before, after)).toBeNull();
    const cut = deflateRawSync(before).subarray(0, 5_000);
    expect(spliceDeflate(cut, before, after)).toBeNull();
    // Another text than the one that was packed.
    expect(spliceDeflate(deflateRawSync(before), rows(10, 1), after)).toBeNull();
  });

  test('whatever changes, however it was packed', () => {
    const text = rows(8_000, 11);
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 9 }),
        fc.integer({ min: 1, max: 9 }),
        fc.array(
          fc.record({
            at: fc.integer({ min: 0, max: text.length }),
            cut: fc.integer({ min: 0, max: 400 }),
            put: fc.string({ maxLength: 400 }),
          }),
          { maxLength: 3 },
        ),
        (level, memLevel, changes) => {
          const packed = deflateRawSync(text, { level, memLevel });
          let after: Buffer = text;
          for (const { at, cut, put } of changes) after = changed(after, at, cut, put);
          const made = spliceDeflate(packed, text, after);
          expect(made && inflateRawSync(made).equals(after)).toBe(true);
        },
      ),
      { numRuns: 60 },
    );
  });
});

import { constants, deflateRawSync, inflateRawSync } from 'node:zlib';
import { describe, expect, test } from '@jest/globals';
import { runs } from '@tether/core/testing';
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

  test('is given up where the stream is none, and is told by unpacking where later blocks are stored', () => {
    const before = rows(30_000, 5);
    const after = changed(before, 10, 1, 'xx');
    expect(spliceDeflate(Buffer.from('no stream at all'), before, after)).toBeNull();
    const cut = deflateRawSync(before).subarray(0, 5_000);
    expect(spliceDeflate(cut, before, after)).toBeNull();
    const isRight = (from: Buffer, packed: Buffer, to: Buffer) => {
      try {
        const made = spliceDeflate(packed, from, to);
        return made !== null && inflateRawSync(made).equals(to);
      } catch {
        return false;
      }
    };
    // All before them begin at whole bytes too.
    expect(isRight(before, deflateRawSync(before, { level: 0 }), after)).toBe(true);
    // Noise cannot be packed: it is stored between the others, and moved by some bits it is noise no more.
    let state = 1;
    const noise = Buffer.from(
      Array.from({ length: 300_000 }, () => {
        state = (Math.imul(state, 1_103_515_245) + 12_345) >>> 0;
        return state >>> 16;
      }),
    );
    const mixed = Buffer.concat([before, noise, before]);
    const packed = deflateRawSync(mixed);
    const answers = Array.from({ length: 24 }, (_, nth) =>
      isRight(mixed, packed, changed(mixed, 10, 1, 'x'.repeat(nth + 2))),
    );
    expect(answers).toContain(false);
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
      { numRuns: runs(60) },
    );
  });
});

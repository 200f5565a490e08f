import { brotliCompressSync } from 'node:zlib';
import { describe, expect, test } from '@jest/globals';
import type { Cell, Snapshot } from '@tether/core';
import fc from 'fast-check';
import { packSnapshot, unpackSnapshot } from './packed.ts';

const snapshot = (texts: string[]): Snapshot => ({
  sheet: 'Counts',
  area: { top: 1, left: 1, bottom: Math.max(1, texts.length), right: 1 },
  cells: texts.map((text, index) => ({
    row: index + 1,
    column: 1,
    type: 'text',
    value: text,
    text,
  })),
  merges: [],
  columns: [{ index: 1, size: 12.5 }],
  rows: [],
  dresses: [],
  defaults: { columnWidth: 9, rowHeight: 15, digitWidth: 7 },
});

describe('a snapshot that is stored', () => {
  test('comes back letter for letter, whatever is written in it', () => {
    fc.assert(
      fc.property(fc.array(fc.string({ unit: 'binary' }), { maxLength: 30 }), (texts) => {
        const content = snapshot(texts);
        const packed = packSnapshot(content);
        expect(JSON.stringify(unpackSnapshot(packed.packed))).toBe(JSON.stringify(content));
      }),
    );
  });

  test('has the same hash exactly for the same content', () => {
    fc.assert(
      fc.property(
        fc.array(fc.string(), { maxLength: 5 }),
        fc.array(fc.string(), { maxLength: 5 }),
        (a, b) => {
          const isSame = JSON.stringify(a) === JSON.stringify(b);
          expect(packSnapshot(snapshot(a)).hash === packSnapshot(snapshot(b)).hash).toBe(isSame);
        },
      ),
    );
  });

  test('comes back with all that cells can have', () => {
    const plain = snapshot(['a', 'b']);
    const text = fc.string({ maxLength: 5 });
    const cell = fc.record<Cell>(
      {
        row: fc.nat(9),
        column: fc.nat(9),
        type: fc.constantFrom('number', 'text', 'boolean', 'date', 'error', 'blank'),
        value: fc.oneof(text, fc.boolean(), fc.double({ noNaN: true, noDefaultInfinity: true })),
        text,
        formula: text,
        format: fc.constantFrom('0%', '#,##0', ''),
        ink: text,
        dress: fc.nat(3),
        link: text,
        bar: fc.record({ from: fc.nat(), to: fc.nat(), colour: text }),
        runs: fc.array(fc.record({ text })),
      },
      { requiredKeys: ['row', 'column', 'type', 'value', 'text'] },
    );
    fc.assert(
      fc.property(fc.array(cell, { maxLength: 20 }), (cells) => {
        const content = { ...plain, cells, landmarks: { rows: ['Total'], columns: [''] } };
        const { hash, packed } = packSnapshot(content);
        const back = unpackSnapshot(packed);
        // As JSON, which knows no negative zero.
        expect(back).toEqual(JSON.parse(JSON.stringify(content)));
        expect(packSnapshot(back).hash).toBe(hash);
      }),
    );
  });

  test('takes a small part of the room of its text', () => {
    const content = snapshot(Array.from({ length: 400 }, (_, n) => `SC-${n} Common cordgrass`));
    const { packed } = packSnapshot(content);
    expect(packed.length).toBeLessThan(JSON.stringify(content).length / 5);
  });

  test('that was stored in an earlier way is read as well', () => {
    const text = JSON.stringify(snapshot(['as it was']));
    const asIs = Buffer.concat([Buffer.from([0]), Buffer.from(text)]);
    expect(unpackSnapshot(asIs)).toEqual(JSON.parse(text));
    const throughBrotli = Buffer.concat([Buffer.from([1]), brotliCompressSync(text)]);
    expect(unpackSnapshot(throughBrotli)).toEqual(JSON.parse(text));
  });
});

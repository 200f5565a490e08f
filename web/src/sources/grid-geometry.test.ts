import { describe, expect, test } from '@jest/globals';
import { MAX_ROWS, type Snapshot } from '@tether/core';
import fc from 'fast-check';
import { bandAt, gridHeights, gridSize, gridWidths, offsetsOf } from './grid-geometry.ts';

describe('the size of the grid', () => {
  test('holds what is filled and what is selected, with room around', () => {
    const used = { top: 3, left: 2, bottom: 40, right: 7 };
    expect(gridSize(used, null)).toEqual({ rows: 100, columns: 26 });
    expect(gridSize(used, { top: 500, left: 50, bottom: 510, right: 60 })).toEqual({
      rows: 570,
      columns: 72,
    });
    expect(gridSize(null, null).rows).toBeGreaterThan(20);
  });

  test('does not grow without end for whole columns, and never beyond the sheet', () => {
    const used = { top: 1, left: 1, bottom: 40, right: 7 };
    expect(gridSize(used, { top: 1, left: 2, bottom: MAX_ROWS, right: 3 }).rows).toBe(100);
    expect(gridSize({ ...used, bottom: MAX_ROWS }, null).rows).toBe(MAX_ROWS);
  });
});

describe('rows and pixels', () => {
  test('rows stand in proportion to the usual one, hidden ones keep a sliver', () => {
    const runs = [
      { from: 2, to: 2, size: 30 },
      { from: 3, to: 4, hidden: true as const },
      { from: 6, to: 900, size: 7.5 },
    ];
    expect(gridHeights(7, { usual: 15, runs })).toEqual([22, 44, 3, 3, 22, 11, 11]);
    expect(gridHeights(3, { usual: 12.8, runs: [] })).toEqual([22, 22, 22]);
  });
});

describe('columns and pixels', () => {
  test('hidden columns keep a sliver, others their width', () => {
    const bands = {
      columns: [
        { index: 2, hidden: true },
        { index: 3, size: 20 },
      ],
      defaults: { columnWidth: 9.140625, rowHeight: 15, digitWidth: 7 },
    } as unknown as Snapshot;
    expect(gridWidths(4, bands)).toEqual([64, 3, 140, 64]);
    expect(gridWidths(2, undefined)).toEqual([64, 64]);
  });

  test('every pixel of a column leads to that column', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 200 }), { minLength: 1, maxLength: 40 }),
        fc.nat(),
        (widths, seed) => {
          const offsets = offsetsOf(widths);
          const pixel = seed % offsets.at(-1)!;
          const column = bandAt(offsets, pixel);
          expect(offsets[column - 1]).toBeLessThanOrEqual(pixel);
          expect(offsets[column]).toBeGreaterThan(pixel);
        },
      ),
    );
  });

  test('a pixel beyond the last column leads to the last', () => {
    expect(bandAt(offsetsOf([64, 64]), 5000)).toBe(2);
  });
});

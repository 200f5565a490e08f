import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parseCell } from './address.ts';
import {
  detectBlocks,
  isOccupied,
  type Occupancy,
  OccupancyBuilder,
  occupiedArea,
} from './occupancy.ts';

function filled(...cells: string[]): Occupancy {
  const builder = new OccupancyBuilder();
  for (const cell of cells) {
    const { row, column } = parseCell(cell)!;
    builder.add(row, column);
  }
  return builder.build();
}

describe('occupancy', () => {
  test('runs of a row are joined', () => {
    expect(filled('A1', 'B1', 'D1', 'A3').rows).toEqual([
      { row: 1, runs: [1, 2, 4, 4] },
      { row: 3, runs: [1, 1] },
    ]);
  });

  test('rows and cells out of order, or twice, come to the same', () => {
    expect(filled('D1', 'A3', 'B1', 'A1', 'B1')).toEqual(filled('A1', 'B1', 'D1', 'A3'));
  });

  test('of any cells tells exactly those cells', () => {
    const cell = fc.record({
      row: fc.integer({ min: 1, max: 8 }),
      column: fc.integer({ min: 1, max: 8 }),
    });
    fc.assert(
      fc.property(fc.array(cell, { minLength: 1 }), (cells) => {
        const builder = new OccupancyBuilder();
        for (const { row, column } of cells) builder.add(row, column);
        const occupancy = builder.build();
        for (let row = 1; row <= 8; row++) {
          for (let column = 1; column <= 8; column++) {
            const isThere = cells.some((each) => each.row === row && each.column === column);
            expect(isOccupied(occupancy, { row, column })).toBe(isThere);
          }
        }
      }),
    );
  });
});

describe('blocks', () => {
  test('are regions whose cells touch, also at a corner', () => {
    const blocks = detectBlocks(filled('A1', 'B1', 'C2', 'A4', 'B4', 'A5', 'F4', 'F5'));
    expect(blocks).toEqual([
      { area: { top: 1, left: 1, bottom: 2, right: 3 }, filled: 3 },
      { area: { top: 4, left: 1, bottom: 5, right: 2 }, filled: 3 },
      { area: { top: 4, left: 6, bottom: 5, right: 6 }, filled: 2 },
    ]);
  });

  test('that meet further down are one', () => {
    const blocks = detectBlocks(filled('A1', 'C1', 'A2', 'C2', 'B3'));
    expect(blocks).toHaveLength(1);
    expect(blocks[0]).toEqual({ area: { top: 1, left: 1, bottom: 3, right: 3 }, filled: 5 });
  });

  test('of any sheet hold every filled cell once, and together fill what is filled', () => {
    const cell = fc.record({
      row: fc.integer({ min: 1, max: 10 }),
      column: fc.integer({ min: 1, max: 10 }),
    });
    fc.assert(
      fc.property(
        fc.uniqueArray(cell, { minLength: 1, selector: ({ row, column }) => row * 100 + column }),
        (cells) => {
          const builder = new OccupancyBuilder();
          for (const { row, column } of cells) builder.add(row, column);
          const occupancy = builder.build();
          const blocks = detectBlocks(occupancy);
          expect(blocks.reduce((sum, block) => sum + block.filled, 0)).toBe(cells.length);
          expect(blocks).toHaveLength(regionsByFlooding(cells));
          const whole = occupiedArea(occupancy)!;
          expect(Math.min(...blocks.map(({ area }) => area.top))).toBe(whole.top);
          expect(Math.max(...blocks.map(({ area }) => area.right))).toBe(whole.right);
        },
      ),
    );
  });
});

/** The number of regions, counted in the plainest way: flood each from a cell not reached yet. */
function regionsByFlooding(cells: { row: number; column: number }[]): number {
  const left = new Set(cells);
  let regions = 0;
  while (left.size > 0) {
    regions++;
    const queue = [[...left][0]!];
    left.delete(queue[0]!);
    for (let here = queue.pop(); here; here = queue.pop()) {
      for (const other of left) {
        if (Math.abs(other.row - here.row) > 1 || Math.abs(other.column - here.column) > 1)
          continue;
        left.delete(other);
        queue.push(other);
      }
    }
  }
  return regions;
}

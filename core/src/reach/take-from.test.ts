import { describe, expect, test } from '@jest/globals';
import { columnWidths, rowHeights } from '../look/layout.ts';
import type { Cell, Snapshot } from '../sheet/sheet.ts';
import type { Reach, ResolvedReach } from './reach.ts';
import { takeFrom } from './take-from.ts';

const area = { top: 3, left: 1, bottom: 6, right: 3 };
const block: Reach = { kind: 'block', sheet: 'Counts', area };
const resolved: ResolvedReach = { sheet: 'Counts', area, columns: null, warnings: [] };

/** Three columns and four rows of figures; row 5 is hidden, and the last is a sum when that is wanted. */
function snapshot({ hidden = [5], sum = false } = {}): Snapshot {
  const cells: Cell[] = [];
  for (let row = area.top; row <= area.bottom; row++) {
    for (let column = area.left; column <= area.right; column++) {
      const value = row * 10 + column;
      const formula = sum && row === area.bottom ? { formula: 'SUM(A3:A5)' } : {};
      cells.push({ row, column, type: 'number', value, text: String(value), ...formula });
    }
  }
  return {
    sheet: 'Counts',
    area,
    cells,
    merges: [],
    columns: [{ index: 2, size: 20 }],
    rows: hidden.map((index) => ({ index, size: 30, hidden: true as const })),
    dresses: [],
    defaults: { columnWidth: 9.140625, rowHeight: 15, digitWidth: 7 },
  };
}

const rowsOf = (cells: readonly Cell[]) => [...new Set(cells.map(({ row }) => row))];
const columnsOf = (cells: readonly Cell[]) => [...new Set(cells.map(({ column }) => column))];

describe('hidden rows', () => {
  test('are left out, and it is said', () => {
    const taken = takeFrom(snapshot(), resolved, block);
    expect(rowsOf(taken.snapshot.cells)).toEqual([3, 4, 6]);
    expect(rowHeights(taken.snapshot)[2]).toBe(0);
    expect(taken.warnings).toEqual([
      { code: 'hidden rows', message: 'Row 5 is hidden in the source and left out.' },
    ]);
  });

  test('are taken in with their height when that is wanted, and it is said', () => {
    const taken = takeFrom(snapshot(), resolved, { ...block, hidden: 'in' });
    expect(rowsOf(taken.snapshot.cells)).toEqual([3, 4, 5, 6]);
    expect(rowHeights(taken.snapshot)[2]).toBe(40);
    expect(taken.warnings[0]!.message).toBe(
      'Row 5 is hidden in the source and taken in all the same.',
    );
  });

  test('are listed in short when there are many', () => {
    const many = Array.from({ length: 9 }, (_, n) => n + 10);
    const { warnings } = takeFrom(snapshot({ hidden: many }), resolved, block);
    expect(warnings[0]!.message).toContain('Rows 10, 11, 12, 13, 14 and 4 more are hidden');
  });
});

describe('picked columns', () => {
  test('keep their cells; the others keep a place without a width', () => {
    const picked = takeFrom(snapshot(), { ...resolved, columns: [1, 3] }, block);
    expect(columnsOf(picked.snapshot.cells)).toEqual([1, 3]);
    expect(columnWidths(picked.snapshot)).toEqual([64, 0, 64]);
  });

  test('keep their own width', () => {
    const picked = takeFrom(snapshot(), { ...resolved, columns: [2] }, block);
    expect(columnWidths(picked.snapshot)).toEqual([0, 140, 0]);
  });
});

test('a last row of sums is told as a total', () => {
  const { warnings } = takeFrom(snapshot({ hidden: [], sum: true }), resolved, block);
  expect(warnings).toEqual([
    { code: 'total inside', message: 'Row 6 is a total and is taken along.' },
  ]);
  expect(takeFrom(snapshot({ hidden: [] }), resolved, block).warnings).toEqual([]);
});

test('what the reach had to say comes first', () => {
  const empty = { code: 'empty row inside' as const, message: 'Empty inside: row 4.' };
  const { warnings } = takeFrom(snapshot(), { ...resolved, warnings: [empty] }, block);
  expect(warnings.map(({ code }) => code)).toEqual(['empty row inside', 'hidden rows']);
});

import { describe, expect, test } from '@jest/globals';
import { faceTable } from '../face/table-face.ts';
import { suggestName } from '../sheet/header.ts';
import type { Cell, Snapshot } from '../sheet/sheet.ts';
import { snapshotOf } from '../sheet/snapshot.fixture.ts';
import { columnPixels, columnWidths, digitWidth, layoutTable, rowHeights } from './layout.ts';
import { USUAL_LOOK } from './look.ts';

// ECMA-376 Part 1, 18.3.1.13 (col), width: with Calibri 11 the widest digit is 7 pixels; a column that shows 8 digits has
// the width Truncate([8*7+5]/7*256)/256 = 8.7109375, which its formula takes back to 61 pixels.
test('a column width turns into pixels by the standard’s formula', () => {
  expect(digitWidth('Calibri', 11)).toBe(7);
  expect(columnPixels(8.7109375, 7)).toBe(61);
  // Common practice: the usual column of 64 pixels is written as 9.140625.
  expect(columnPixels(9.140625, 7)).toBe(64);
});

function snapshot(cells: Cell[], extra: Partial<Snapshot> = {}): Snapshot {
  return {
    sheet: 'Piles',
    area: { top: 4, left: 2, bottom: 6, right: 4 },
    cells,
    merges: [],
    columns: [],
    rows: [],
    dresses: [],
    defaults: { columnWidth: 9.140625, rowHeight: 15, digitWidth: 7 },
    ...extra,
  };
}

test('hidden columns and rows have no width and no height', () => {
  const placed = snapshot([], {
    columns: [
      { index: 3, hidden: true },
      { index: 4, size: 20 },
    ],
    rows: [
      { index: 5, size: 30 },
      { index: 6, hidden: true },
    ],
  });
  expect(columnWidths(placed)).toEqual([64, 0, 140]);
  expect(rowHeights(placed)).toEqual([20, 40, 0]);
});

test('a name is suggested from the headers, else from the first text, else from the sheet', () => {
  const cell = (row: number, column: number, value: string | number): Cell => ({
    row,
    column,
    type: typeof value === 'number' ? 'number' : 'text',
    value,
    text: String(value),
  });
  const headed = snapshot([
    cell(4, 2, 'Pile'),
    cell(4, 3, 'Length'),
    cell(5, 2, 'P-01'),
    cell(5, 3, 4),
  ]);
  expect(suggestName(headed)).toBe('Piles: Pile, Length');
  expect(suggestName(snapshot([cell(4, 2, 'Driven'), cell(4, 3, 7)]))).toBe('Piles: Driven');
  expect(suggestName(snapshot([cell(4, 2, 7)]))).toBe('Piles');
});

describe('widths that were set hold in a table that fits its page', () => {
  const table = snapshotOf([
    ['Plot', 'What was seen there', 'Plants'],
    ['North bank', 'Geese came in over the broken fence', 240],
    ['Sluice side', 'Silt', 198],
  ]);
  const withSet = (sizes: [index: number, digits: number][]) => ({
    ...table,
    columns: sizes.map(([index, size]) => ({ index, size, isSet: true as const })),
  });

  test('the others share what is left', () => {
    const { widths } = layoutTable(withSet([[2, 20]]), 'page', 500);
    expect(widths[1]).toBe(columnPixels(20, 7));
    expect(widths.reduce((sum, width) => sum + width, 0)).toBe(500);
  });

  test('where nothing is left they take what their words need, beyond the page', () => {
    const { widths } = layoutTable(withSet([[2, 58]]), 'page', 420);
    expect(widths[1]).toBe(columnPixels(58, 7));
    expect(Math.min(widths[0]!, widths[2]!)).toBeGreaterThan(24);
  });

  test('a row is as high as was set, and higher where its lines need it', () => {
    const high = { ...table, rows: [{ index: 2, size: 60, isSet: true as const }] };
    expect(layoutTable(high, 'page', 900).heights[1]).toBe(80);
    const low = { ...table, rows: [{ index: 2, size: 3, isSet: true as const }] };
    expect(layoutTable(low, 'page', 900).heights[1]).toBe(
      layoutTable(table, 'page', 900).heights[1],
    );
  });
});

describe('a column that is wider than the page', () => {
  const words = 'Geese came in over the broken fence and pulled what had been set. '.repeat(4);
  const table = snapshotOf([
    ['Plot', 'What was seen'],
    ['North bank', words],
  ]);
  const wide = { ...table, columns: [{ index: 2, size: 200 }] };

  test('is as wide as the page, and breaks its lines instead of being cut off', () => {
    const { widths, heights, narrowed } = layoutTable(wide, 'source', 400);
    expect(widths[1]).toBe(400);
    expect([...narrowed]).toEqual([1]);
    expect(heights[1]).toBeGreaterThan(3 * heights[0]!);
    const set = { ...wide, columns: [{ index: 2, size: 200, isSet: true as const }] };
    expect(layoutTable(set, 'page', 400).widths[1]).toBe(400);
  });

  test('stays as it is where nothing bounds it, as in a facsimile, which scales as one piece', () => {
    const { widths, narrowed } = layoutTable(wide, 'source', 0);
    expect(widths[1]).toBe(columnPixels(200, wide.defaults.digitWidth));
    expect(narrowed.size).toBe(0);
  });

  test('every strip of the folded table lies within the page', () => {
    const face = faceTable(wide, {
      look: {},
      document: USUAL_LOOK,
      overrides: [],
      beside: 1,
      room: 400,
      pageHeight: 900,
    });
    for (const { parts } of face.strips) {
      const width = parts[0]!.columns.reduce((sum, each) => sum + face.layout.widths[each]!, 0);
      expect(width).toBeLessThanOrEqual(400);
    }
  });
});

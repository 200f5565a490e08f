import { expect, test } from '@jest/globals';
import type { Snapshot } from '../sheet/sheet.ts';
import { asFound } from './as-found.ts';
import type { Reach } from './reach.ts';

function snapshotOf(rows: (string | number)[][]): Snapshot {
  return {
    sheet: 'Counts',
    area: { top: 4, left: 1, bottom: 3 + rows.length, right: 2 },
    cells: rows.flatMap((row, r) =>
      row.map((value, c) => ({
        row: 4 + r,
        column: 1 + c,
        type: typeof value === 'number' ? ('number' as const) : ('text' as const),
        value,
        text: String(value),
      })),
    ),
    merges: [],
    columns: [],
    rows: [],
    dresses: [],
    defaults: { columnWidth: 9, rowHeight: 15, digitWidth: 7 },
  };
}
const growing: Reach = {
  kind: 'growing block',
  sheet: 'counts',
  header: { row: 4, left: 1, right: 2 },
};

test('a growing block remembers the words of its header', () => {
  const snapshot = snapshotOf([
    ['Plot', 'Planted'],
    ['SC-01', 120],
  ]);
  expect(asFound(growing, snapshot)).toEqual({
    ...growing,
    sheet: 'Counts',
    words: ['Plot', 'Planted'],
  });
});

test('without a header it remembers none: the first row may be another one when it is sorted', () => {
  const snapshot = snapshotOf([
    ['SC-01', 120],
    ['SC-02', 80],
  ]);
  expect(asFound({ ...growing, words: ['old', ''] }, snapshot)).toEqual({
    ...growing,
    sheet: 'Counts',
  });
});

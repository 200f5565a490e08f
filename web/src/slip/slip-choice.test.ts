import { describe, expect, test } from '@jest/globals';
import { type ChangeSlip, changeSlip, isWholeChoice, type Snapshot, takePart } from '@tether/core';
import fc from 'fast-check';
import { choiceWithout, keysOf } from './slip-choice.ts';

type Rows = (string | number)[][];

function tableOf(rows: Rows, columnWidth = 9): Snapshot {
  return {
    sheet: 'Counts',
    area: { top: 4, left: 1, bottom: 3 + rows.length, right: 3 },
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
    defaults: { columnWidth, rowHeight: 15, digitWidth: 7 },
  };
}

const BEFORE: Rows = [
  ['Plot', 'Planted', 'Surviving'],
  ['SC-01', 240, 221],
  ['SC-02', 240, 198],
  ['SC-03', 180, 164],
  ['SC-04', 180, 97],
];
const row = (label: string) => BEFORE.find(([first]) => first === label)!;
const faces = ({ cells }: Snapshot) => cells.map(({ row: at, column, text }) => [at, column, text]);
const without = (slip: ChangeSlip, ...left: string[]) => choiceWithout(slip, new Set(left));

describe('what can be left of a slip', () => {
  test('is each changed cell, each row that came or went, and the arrangement', () => {
    const after: Rows = [
      row('Plot'),
      row('SC-01'),
      ['SC-02', 250, 199],
      row('SC-04'),
      ['SC-05', 150, 132],
    ];
    const slip = changeSlip(tableOf(BEFORE), tableOf(after, 12));
    expect(slip.rows.map(({ kind, label }) => [kind, label])).toEqual([
      ['changed', 'SC-02'],
      ['removed', 'SC-03'],
      ['inserted', 'SC-05'],
    ]);
    expect(keysOf(slip)).toEqual(['0:2', '0:3', '1', '2', 'arrangement']);
  });

  test('is one thing of a row that moved: it goes with where it went', () => {
    const after: Rows = [row('Plot'), row('SC-04'), row('SC-01'), row('SC-02'), row('SC-03')];
    const before = tableOf(BEFORE);
    const slip = changeSlip(before, tableOf(after));
    expect(slip.counts).toMatchObject({ moved: 1, inserted: 0, removed: 0 });
    const [key, ...others] = keysOf(slip);
    expect(others).toEqual([]);
    expect(faces(takePart(before, tableOf(after), slip, without(slip, key!)))).toEqual(
      faces(before),
    );
  });
});

describe('what is chosen', () => {
  test('of one row with one cell left is its other cell', () => {
    const after = tableOf(BEFORE.map((each) => (each[0] === 'SC-02' ? ['SC-02', 250, 199] : each)));
    const before = tableOf(BEFORE);
    const slip = changeSlip(before, after);
    const choice = without(slip, '0:2');
    expect(choice).toEqual({ rows: [{ row: 0, columns: [3] }], arrangement: false });
    const part = takePart(before, after, slip, choice);
    expect(part.cells.filter(({ row: at }) => at === 6).map(({ text }) => text)).toEqual([
      'SC-02',
      '240',
      '199',
    ]);
  });

  test('is all with nothing left, and nothing with all left, whatever changed', () => {
    const cell = fc.oneof(fc.integer({ min: 0, max: 4 }), fc.constantFrom('a', 'b', 'c'));
    const rows = fc.array(fc.tuple(cell, cell, cell), { minLength: 1, maxLength: 8 });
    fc.assert(
      fc.property(rows, rows, (a, b) => {
        const [before, after] = [tableOf(a), tableOf(b)];
        const slip = changeSlip(before, after);
        expect(isWholeChoice(slip, without(slip))).toBe(true);
        const nothing = without(slip, ...keysOf(slip));
        const columns = slip.columns ? { columns: false } : {};
        expect(nothing).toEqual({ rows: [], ...columns, arrangement: false });
        expect(faces(takePart(before, after, slip, nothing))).toEqual(faces(before));
      }),
    );
  });
});

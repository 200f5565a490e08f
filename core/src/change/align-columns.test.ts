import { describe, expect, it } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import { takeFrom } from '../reach/take-from.ts';
import type { Snapshot } from '../sheet/sheet.ts';
import { type FixtureValue, snapshotOf } from '../sheet/snapshot.fixture.ts';
import { changeSlip } from './change-slip.ts';
import { takePart, wholeChoice } from './part.ts';
import { isEmptySlip, summariseSlip } from './slip-words.ts';

const PLOTS: FixtureValue[][] = [
  ['Plot', 'Species', 'Planted', 'Surviving'],
  ['SC-01', 'Cordgrass', 240, 221],
  ['SC-02', 'Cordgrass', 240, 198],
  ['SC-03', 'Purslane', 180, 164],
];
const COVER = ['Cover', 71, 64, 60];

/** The rows with one column put in, taken out, or taken elsewhere. */
const withColumn = (rows: FixtureValue[][], at: number, column: FixtureValue[]) =>
  rows.map((row, r) => [...row.slice(0, at), column[r] ?? null, ...row.slice(at)]);
const withoutColumn = (rows: FixtureValue[][], at: number) =>
  rows.map((row) => row.filter((_, column) => column !== at));
const moved = (rows: FixtureValue[][], from: number, to: number) =>
  withColumn(
    withoutColumn(rows, from),
    to,
    rows.map((row) => row[from]!),
  );
const slipOf = (before: FixtureValue[][], after: FixtureValue[][]) =>
  changeSlip(snapshotOf(before), snapshotOf(after));
const texts = ({ cells, area }: Snapshot) =>
  Array.from({ length: area.bottom - area.top + 1 }, (_, at) =>
    cells.filter(({ row }) => row === area.top + at).map(({ text }) => text),
  );

describe('columns in a slip', () => {
  it('one put in is one column, with its figures, and no other cell changes', () => {
    const slip = slipOf(PLOTS, withColumn(PLOTS, 2, COVER));
    expect(slip.rows).toEqual([]);
    expect(slip.totals).toEqual([]);
    expect(slip.columns).toMatchObject([
      { kind: 'inserted', before: null, after: 3, header: 'Cover' },
    ]);
    expect(slip.columns![0]!.cells.map(({ row, face }) => [row, face.text])).toEqual([
      [1, 'Cover'],
      [2, '71'],
      [3, '64'],
      [4, '60'],
    ]);
    expect(summariseSlip(slip)).toBe('1 column inserted');
  });

  it('figures that changed beside it are told under their own headers', () => {
    const after = withColumn(PLOTS, 1, COVER);
    after[3]![4] = 160;
    const slip = slipOf(PLOTS, after);
    expect(slip.rows).toMatchObject([
      {
        label: 'SC-03',
        cells: [{ header: 'Surviving', column: 5, columnBefore: 4, difference: '−4' }],
      },
    ]);
    expect(slip.totals).toMatchObject([{ header: 'Surviving', difference: '−4' }]);
  });

  it('one taken out is one column, one that stands elsewhere has moved', () => {
    expect(slipOf(PLOTS, withoutColumn(PLOTS, 2))).toMatchObject({
      rows: [],
      columns: [{ kind: 'removed', before: 3, after: null, header: 'Planted' }],
    });
    const after = moved(PLOTS, 3, 1);
    after[1]![1] = 220;
    const slip = slipOf(PLOTS, after);
    expect(slip.columns).toMatchObject([
      { kind: 'moved', before: 4, after: 2, header: 'Surviving', cells: [] },
    ]);
    expect(slip.rows).toMatchObject([{ label: 'SC-01', cells: [{ difference: '−1' }] }]);
    expect(summariseSlip(slip)).toBe('1 cell changed, 1 column moved');
  });

  it('a header that is written anew is a changed cell', () => {
    const after = PLOTS.map((row, at) =>
      at === 0 ? ['Plot', 'Species', 'Set', 'Surviving'] : row,
    );
    expect(slipOf(PLOTS, after)).toMatchObject({
      rows: [{ cells: [{ before: { text: 'Planted' }, after: { text: 'Set' } }] }],
    });
    expect(slipOf(PLOTS, after).columns).toBeUndefined();
  });

  it('of a fixed range in which one was put in, the one at the side is pushed out', () => {
    const after = withColumn(PLOTS, 2, COVER).map((row) => row.slice(0, 4));
    expect(slipOf(PLOTS, after)).toMatchObject({
      rows: [],
      columns: [
        { kind: 'inserted', header: 'Cover' },
        { kind: 'removed', header: 'Surviving' },
      ],
    });
  });

  it('without headers they go by what they hold', () => {
    const figures: FixtureValue[][] = [
      [1, 10, 100],
      [2, 20, 200],
      [3, 30, 300],
      [4, 40, 400],
    ];
    expect(slipOf(figures, withColumn(figures, 1, [7, 7, 7, 7]))).toMatchObject({
      rows: [],
      columns: [{ kind: 'inserted', after: 2 }],
    });
    expect(slipOf(figures, moved(figures, 2, 0)).columns).toMatchObject([{ kind: 'moved' }]);
  });

  it('that are not picked may come and go between those that are', () => {
    const taken = (rows: FixtureValue[][], columns: number[]) => {
      const snapshot = snapshotOf(rows);
      const resolved = { sheet: 'Counts', area: snapshot.area, columns, warnings: [] };
      const reach = { kind: 'picked columns' as const, sheet: 'Counts', headerRow: 1, columns: [] };
      return takeFrom(snapshot, resolved, reach).snapshot;
    };
    const before = taken(PLOTS, [1, 4]);
    expect(isEmptySlip(changeSlip(before, taken(withColumn(PLOTS, 2, COVER), [1, 5])))).toBe(true);
    const after = withColumn(PLOTS, 2, COVER);
    after[1]![4] = 220;
    const slip = changeSlip(before, taken(after, [1, 5]));
    expect(slip.rows).toMatchObject([{ cells: [{ header: 'Surviving', difference: '−1' }] }]);
    const part = takePart(before, taken(after, [1, 5]), slip, wholeChoice(slip));
    expect(texts(part)[1]).toEqual(['SC-01', '220']);
    expect(part.columns.filter(({ hidden }) => hidden).map(({ index }) => index)).toEqual([
      2, 3, 4,
    ]);
  });
});

describe('a row that the source hides', () => {
  const takenWith = (hidden: number[]) => {
    const snapshot = snapshotOf(PLOTS, { rows: hidden });
    const resolved = { sheet: 'Counts', area: snapshot.area, columns: null, warnings: [] };
    return takeFrom(snapshot, resolved, { kind: 'block', sheet: 'Counts', area: snapshot.area })
      .snapshot;
  };

  it('is told as hidden, and as shown again', () => {
    const slip = changeSlip(takenWith([]), takenWith([3]));
    expect(slip.rows).toMatchObject([{ kind: 'changed', hiding: 'hidden', label: 'SC-02' }]);
    expect(summariseSlip(slip)).toBe('1 row hidden');
    expect(summariseSlip(changeSlip(takenWith([3]), takenWith([])))).toBe('1 row shown again');
    expect(isEmptySlip(changeSlip(takenWith([3]), takenWith([3])))).toBe(true);
  });

  it('goes and comes back by its choice alone', () => {
    const [all, hidden] = [takenWith([]), takenWith([3])];
    const slip = changeSlip(all, hidden);
    const part = takePart(all, hidden, slip, {
      rows: [{ row: 0, columns: null }],
      arrangement: false,
    });
    expect(isEmptySlip(changeSlip(part, hidden))).toBe(true);
    expect(takePart(all, hidden, slip, { rows: [], arrangement: false }).rows).toEqual([]);
  });
});

describe('taking columns', () => {
  const before = snapshotOf(PLOTS);
  const changed = withColumn(PLOTS, 1, COVER);
  changed[1]![4] = 220;
  const after = snapshotOf(changed);
  const slip = changeSlip(before, after);

  it('leaves the figures when only the column is taken', () => {
    const part = takePart(before, after, slip, { rows: [], columns: true, arrangement: false });
    expect(texts(part)[1]).toEqual(['SC-01', '71', 'Cordgrass', '240', '221']);
  });

  it('leaves the column when only the figures are taken', () => {
    const part = takePart(before, after, slip, {
      rows: [{ row: 0, columns: null }],
      arrangement: false,
    });
    expect(texts(part)[1]).toEqual(['SC-01', 'Cordgrass', '240', '220']);
    expect(changeSlip(part, after)).toMatchObject({ rows: [], columns: [{ kind: 'inserted' }] });
  });

  it('whatever is chosen first, taking the rest after it gives the source', () => {
    const value: fc.Arbitrary<FixtureValue> = fc.oneof(
      fc.integer({ min: 0, max: 3 }),
      fc.constantFrom('creek', 'sluice', null),
    );
    const table = fc
      .integer({ min: 1, max: 4 })
      .chain((width) =>
        fc.tuple(
          fc.shuffledSubarray(['Plot', 'Species', 'Planted', 'Alive'], {
            minLength: width,
            maxLength: width,
          }),
          fc.array(fc.array(value, { minLength: width, maxLength: width }), {
            minLength: 1,
            maxLength: 6,
          }),
        ),
      )
      .map(([header, rows]): FixtureValue[][] => [header, ...rows]);
    fc.assert(
      fc.property(
        table,
        table,
        fc.boolean(),
        fc.boolean(),
        fc.infiniteStream(fc.boolean()),
        (old, now, columns, arrangement, picks) => {
          const [a, b] = [snapshotOf(old), snapshotOf(now)];
          const whole = changeSlip(a, b);
          const nothing = takePart(a, b, whole, { rows: [], arrangement: false });
          expect(isEmptySlip(changeSlip(a, nothing))).toBe(true);
          const all = takePart(a, b, whole, wholeChoice(whole));
          expect(isEmptySlip(changeSlip(all, b))).toBe(true);
          const rows = whole.rows.flatMap((_, row) =>
            picks.next().value ? [{ row, columns: null }] : [],
          );
          const part = takePart(a, b, whole, { rows, columns, arrangement });
          const rest = changeSlip(part, b);
          const done = takePart(part, b, rest, wholeChoice(rest));
          expect(isEmptySlip(changeSlip(done, b))).toBe(true);
        },
      ),
      { seed: 14, numRuns: runs(800) },
    );
  });
});

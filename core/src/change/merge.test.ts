import { describe, expect, test } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import type { Snapshot } from '../sheet/sheet.ts';
import { type FixtureValue, snapshotOf } from '../sheet/snapshot.fixture.ts';
import { cellFinder, type Edit, withEdits } from './edits.ts';
import { type Decision, editsUpon, mergeEdits, movedAreas, undecided } from './merge.ts';

const rows: FixtureValue[][] = [
  ['Plot', 'Planted', 'Surviving'],
  ['SC-01', 240, 221],
  ['SC-02', 180, 97],
  ['SC-03', 90, 80],
];
const base = snapshotOf(rows);
const edit = (row: number, column: number, value: Edit['value']): Edit => ({
  row,
  column,
  value,
  by: 'Ines Fallow',
  at: '2026-11-29T10:00:00Z',
});
const changed = (...changes: [row: number, column: number, value: FixtureValue][]) => {
  const next = rows.map((row) => [...row]);
  for (const [row, column, value] of changes) next[row - 1]![column - 1] = value;
  return snapshotOf(next);
};
const kinds = (now: Snapshot, ...edits: Edit[]) =>
  mergeEdits(base, now, edits).map(({ kind, place }) => [kind, place?.row, place?.column]);

describe('an edit', () => {
  test('is kept where the source left its cell alone', () => {
    expect(kinds(changed([2, 2, 250]), edit(3, 3, 104))).toEqual([['kept', 3, 3]]);
  });

  test('is settled where the source says the same now', () => {
    expect(kinds(changed([3, 3, 104]), edit(3, 3, 104))).toEqual([['same', 3, 3]]);
  });

  test('is contested where the source says something else', () => {
    const [merged] = mergeEdits(base, changed([3, 3, 99]), [edit(3, 3, 104)]);
    expect(merged).toMatchObject({
      kind: 'contested',
      agreed: { value: 97 },
      theirs: { value: 99 },
      yours: { value: 104 },
    });
  });

  test('that takes a cell out is one like any other', () => {
    expect(kinds(base, edit(3, 3, null))).toEqual([['kept', 3, 3]]);
    expect(kinds(changed([3, 3, null]), edit(3, 3, null))).toEqual([['same', 3, 3]]);
    expect(kinds(changed([3, 3, null]), edit(3, 3, 104))).toEqual([['contested', 3, 3]]);
  });

  test('follows its row when rows are put in above it, and when it is moved', () => {
    const inserted = snapshotOf([rows[0]!, ['SC-00', 10, 9], ...rows.slice(1)]);
    expect(kinds(inserted, edit(3, 3, 104))).toEqual([['kept', 4, 3]]);
    const moved = snapshotOf([rows[0]!, rows[2]!, rows[1]!, rows[3]!]);
    expect(kinds(moved, edit(4, 3, 81), edit(3, 3, 104))).toEqual([
      ['kept', 4, 3],
      ['kept', 2, 3],
    ]);
  });

  test('is as unlocked as before where rows are put in above it', () => {
    const inserted = snapshotOf([rows[0]!, ['SC-00', 10, 9], ...rows.slice(1)]);
    const cell = { top: 3, left: 3, bottom: 3, right: 3 };
    const column = { top: 1, left: 2, bottom: 4, right: 2 };
    expect(movedAreas(base, inserted, [cell, column])).toEqual([
      { top: 4, left: 3, bottom: 4, right: 3 },
      { top: 1, left: 2, bottom: 5, right: 2 },
    ]);
    const without = snapshotOf([rows[0]!, rows[1]!, rows[3]!]);
    expect(movedAreas(base, without, [cell])).toEqual([]);
    expect(movedAreas(base, base, [cell])).toEqual([cell]);
  });

  test('follows its column when columns are put in', () => {
    const wider = snapshotOf(
      rows.map(
        ([plot, ...rest], at) => [plot, at === 0 ? 'Species' : 'Aster', ...rest] as FixtureValue[],
      ),
    );
    expect(kinds(wider, edit(3, 3, 104))).toEqual([['kept', 3, 4]]);
  });

  test('whose row is there no more is told as gone, and never put elsewhere', () => {
    expect(kinds(snapshotOf([rows[0]!, rows[1]!, rows[3]!]), edit(3, 3, 104))).toEqual([
      ['gone', undefined, undefined],
    ]);
  });
});

describe('decisions', () => {
  const now = changed([3, 3, 99]);
  const contested = edit(3, 3, 104);
  const merged = mergeEdits(base, now, [contested, edit(2, 2, 250)]);
  const decided = (decision: Decision) => editsUpon(merged, new Map([[contested, decision]]));

  test('are asked for what is contested alone', () => {
    expect(undecided(merged, new Map())).toMatchObject([{ edit: contested }]);
    expect(undecided(merged, new Map([[contested, 'theirs' as const]]))).toEqual([]);
  });

  test('take theirs, yours or a typed value', () => {
    expect(decided('theirs').map(({ value }) => value)).toEqual([250]);
    expect(decided('yours').map(({ value }) => value)).toEqual([104, 250]);
    expect(decided({ value: 101 }).map(({ value }) => value)).toEqual([101, 250]);
  });
});

/** Sheets whose rows are known by a name of their own, and edits of their figures. */
const figure = fc.integer({ min: 0, max: 9 });
const sheets = fc
  .array(fc.tuple(figure, figure, figure), { minLength: 1, maxLength: 8 })
  .map((body) => [
    ['Plot', 'A', 'B', 'C'] as FixtureValue[],
    ...body.map((figures, at) => [`SC-${at}`, ...figures] as FixtureValue[]),
  ]);
const editsOf = (height: number) =>
  fc
    .uniqueArray(
      fc.tuple(
        fc.integer({ min: 2, max: height }),
        fc.integer({ min: 2, max: 4 }),
        fc.oneof(figure, fc.constant(null), fc.constant('none')),
      ),
      { selector: ([row, column]) => `${row} ${column}`, maxLength: 6 },
    )
    .map((all) => all.map(([row, column, value]) => edit(row, column, value)));
const cases = sheets.chain((body) =>
  fc.record({ body: fc.constant(body), edits: editsOf(body.length), theirs: editsOf(body.length) }),
);
const values = (snapshot: Snapshot) => {
  const { area } = snapshot;
  const all: unknown[] = [];
  for (let row = area.top; row <= area.bottom; row++) {
    for (let column = area.left; column <= area.right; column++) {
      const cell = cellFinder(snapshot)(row, column);
      all.push(cell && cell.type !== 'blank' ? cell.value : null);
    }
  }
  return all;
};

describe('for any sheet and any edits', () => {
  test('without edits the source is what stands', () => {
    fc.assert(
      fc.property(cases, ({ body, theirs }) => {
        const from = snapshotOf(body);
        const now = withEdits(from, theirs);
        expect(withEdits(now, editsUpon(mergeEdits(from, now, [])))).toEqual(now);
      }),
      { seed: 1, numRuns: runs(200) },
    );
  });

  test('where the source did not change, what is wanted here is what stands', () => {
    fc.assert(
      fc.property(cases, ({ body, edits }) => {
        const from = snapshotOf(body);
        const merged = mergeEdits(from, snapshotOf(body), edits);
        expect(merged.every(({ kind }) => kind === 'kept' || kind === 'same')).toBe(true);
        expect(values(withEdits(from, editsUpon(merged)))).toEqual(values(withEdits(from, edits)));
      }),
      { seed: 2, numRuns: runs(200) },
    );
  });

  test('changes of different cells commute', () => {
    fc.assert(
      fc.property(cases, ({ body, edits, theirs }) => {
        const own = edits.filter(
          (one) => !theirs.some(({ row, column }) => row === one.row && column === one.column),
        );
        const from = snapshotOf(body);
        const [hers, his] = [withEdits(from, own), withEdits(from, theirs)];
        const one = withEdits(his, editsUpon(mergeEdits(from, his, own)));
        const other = withEdits(hers, editsUpon(mergeEdits(from, hers, theirs)));
        expect(values(one)).toEqual(values(other));
      }),
      { seed: 3, numRuns: runs(200) },
    );
  });

  test('merging twice changes nothing', () => {
    fc.assert(
      fc.property(cases, ({ body, edits, theirs }) => {
        const from = snapshotOf(body);
        const now = withEdits(from, theirs);
        const once = editsUpon(mergeEdits(from, now, edits));
        const twice = editsUpon(mergeEdits(now, now, once));
        expect(values(withEdits(now, twice))).toEqual(values(withEdits(now, once)));
      }),
      { seed: 4, numRuns: runs(200) },
    );
  });
});

import { describe, expect, it } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import { faceTable } from '../face/table-face.ts';
import { USUAL_LOOK } from '../look/look.ts';
import { takeFrom } from '../reach/take-from.ts';
import { shownPlaces, spansIn } from './merged.ts';
import { gridOf, type Snapshot } from './sheet.ts';
import { type FixtureValue, snapshotOf } from './snapshot.fixture.ts';

const rows: FixtureValue[][] = [
  ['Creek', 'Plot', 'Planted', null],
  [null, null, 'Spring', 'Autumn'],
  ['North', 'SC-01', 150, 90],
  [null, 'SC-02', 80, 40],
  ['South', 'SC-03', 20, 10],
];
const area = (top: number, left: number, bottom: number, right: number) => ({
  top,
  left,
  bottom,
  right,
});
const tiered: Snapshot = {
  ...snapshotOf(rows),
  merges: [area(1, 1, 2, 1), area(1, 2, 2, 2), area(1, 3, 1, 4), area(3, 1, 4, 1)],
};

/** What each place of a piece shows, with what it spans. */
function drawn(snapshot: Snapshot, groups: number[][], columns: number[]): string[][] {
  const spans = spansIn(snapshot, groups, columns);
  const grid = gridOf(snapshot);
  return groups.flat().map((row) =>
    columns.flatMap((column) => {
      const span = spans.get(`${row},${column}`);
      if (span === null) return [];
      const text = (span ? span.cell : grid[row]![column])?.text ?? '';
      return [span ? `${text} ${span.rows}x${span.columns}` : text];
    }),
  );
}

describe('merged cells as they are drawn', () => {
  it('stand in two tiers of a header, none reaching from head into body', () => {
    const { layout } = faceTable(tiered, {
      look: {},
      document: USUAL_LOOK,
      overrides: [],
      beside: 1,
      room: 600,
      pageHeight: 900,
    });
    expect(layout.headerRows).toBe(2);
    expect(
      drawn(
        tiered,
        [
          [0, 1],
          [2, 3, 4],
        ],
        [0, 1, 2, 3],
      ),
    ).toEqual([
      ['Creek 2x1', 'Plot 2x1', 'Planted 1x2'],
      ['Spring', 'Autumn'],
      ['North 2x1', 'SC-01', '150', '90'],
      ['SC-02', '80', '40'],
      ['South', 'SC-03', '20', '10'],
    ]);
  });

  it('keep their label when its row or column is hidden', () => {
    const hidden = { ...tiered, rows: [{ index: 3, hidden: true as const }] };
    const [, , north] = drawn(
      hidden,
      [
        [0, 1],
        [3, 4],
      ],
      [0, 1, 2, 3],
    );
    expect(north).toEqual(['North 1x1', 'SC-02', '80', '40']);
    const column = { ...tiered, columns: [{ index: 3, hidden: true as const }] };
    expect(drawn(column, [[0, 1], [2]], [0, 1, 3])[0]).toEqual([
      'Creek 2x1',
      'Plot 2x1',
      'Planted 1x1',
    ]);
  });

  it('keep it also through taking, which leaves hidden rows out', () => {
    const source = { ...tiered, rows: [{ index: 3, hidden: true as const }] };
    const reach = { kind: 'block' as const, sheet: 'Counts', area: source.area };
    const resolved = { sheet: 'Counts', area: source.area, columns: null, warnings: [] };
    const { snapshot } = takeFrom(source, resolved, reach);
    expect(snapshot.cells.filter(({ row }) => row === 3).map(({ text }) => text)).toEqual([
      'North',
    ]);
    const picked = takeFrom(source, { ...resolved, columns: [4] }, reach).snapshot;
    expect(drawn(picked, [[0, 1]], [3])).toEqual([['Planted 1x1'], ['Autumn']]);
  });

  it('say their text on each page again, their figure once', () => {
    const merges = [area(2, 1, 4, 1), area(2, 2, 4, 2)];
    const table = {
      ...snapshotOf([
        ['Creek', 'All'],
        ['North', 270],
        [null, null],
        [null, null],
      ]),
      merges,
    };
    expect(drawn(table, [[0, 1]], [0, 1])[1]).toEqual(['North 1x1', '270 1x1']);
    expect(drawn(table, [[2, 3]], [0, 1])[0]).toEqual(['North 2x1', ' 2x1']);
  });

  it('cover every shown place once, however a table is cut', () => {
    const place = fc.integer({ min: 1, max: 8 });
    const merge = fc
      .tuple(place, place, place, place)
      .map(([a, b, c, d]) => area(Math.min(a, c), Math.min(b, d), Math.max(a, c), Math.max(b, d)));
    const apart = (merges: ReturnType<typeof area>[]) =>
      merges.filter(
        (one, at) =>
          !merges
            .slice(0, at)
            .some(
              (other) =>
                one.top <= other.bottom &&
                other.top <= one.bottom &&
                one.left <= other.right &&
                other.left <= one.right,
            ),
      );
    const bands = fc.uniqueArray(place, { maxLength: 4 });
    fc.assert(
      fc.property(
        fc.array(merge, { maxLength: 5 }),
        bands,
        bands,
        place,
        (all, down, across, cut) => {
          const whole = snapshotOf(
            Array.from({ length: 8 }, (_, r) => Array.from({ length: 8 }, (_, c) => `${r} ${c}`)),
            { rows: down, columns: across },
          );
          const snapshot = { ...whole, merges: apart(all) };
          const shown = shownPlaces(snapshot);
          const groups = [
            shown.rows.filter((row) => row < cut),
            shown.rows.filter((row) => row >= cut),
          ];
          const spans = spansIn(snapshot, groups, shown.columns);
          for (const group of groups) {
            let covered = 0;
            for (const row of group) {
              for (const column of shown.columns) {
                const span = spans.get(`${row},${column}`);
                if (span === null) continue;
                covered += span ? span.rows * span.columns : 1;
                // A span stays in its group.
                if (span) expect(group.indexOf(row) + span.rows).toBeLessThanOrEqual(group.length);
              }
            }
            expect(covered).toBe(group.length * shown.columns.length);
          }
        },
      ),
      { seed: 14, numRuns: runs(300) },
    );
  });
});

import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { changeSlip } from '../change/change-slip.ts';
import { dangerOf, harmOf } from '../change/harm.ts';
import { takePart, wholeChoice } from '../change/part.ts';
import { isEmptySlip, summariseSlip } from '../change/slip-words.ts';
import { parseReference } from './address.ts';
import { suggestName } from './header.ts';
import { landmarkFinder, landmarksAt } from './landmarks.ts';
import { isOccupied, OccupancyBuilder } from './occupancy.ts';
import { cutSnapshot, type Snapshot } from './sheet.ts';
import { type FixtureValue, snapshotOf } from './snapshot.fixture.ts';

/** The cells of a sheet at a reference, with their landmarks. */
function taken(sheet: FixtureValue[][], reference: string): Snapshot {
  const whole = snapshotOf(sheet);
  const builder = new OccupancyBuilder();
  for (const { row, column } of whole.cells) builder.add(row, column);
  const parsed = parseReference(reference);
  if (!parsed.ok) throw new Error(parsed.fault.message);
  const { area } = parsed.value;
  const places = landmarkFinder(builder.build())(area);
  const part = cutSnapshot(whole, area);
  const landmarks = landmarksAt(places, part, ({ row, column }) =>
    whole.cells.find((cell) => cell.row === row && cell.column === column),
  );
  return { ...part, ...(landmarks ? { landmarks } : {}) };
}

const COUNTS: FixtureValue[][] = [
  ['Planting counts, Sallow Creek'],
  [],
  ['Plot', 'Species', 2023, 2024],
  ['SC-01', 'Glasswort', 120, 96],
  ['SC-02', 'Sea aster', 80, 71],
  ['Total', null, { sum: 200 }, { sum: 167 }],
];
const grown = (row: FixtureValue[]) => [...COUNTS.slice(0, 5), row, ...COUNTS.slice(5)];

describe('landmarks', () => {
  test('of a single cell are the words at the head of its row and column', () => {
    expect(taken(COUNTS, 'D6').landmarks).toEqual({ rows: ['Total'], columns: ['2024'] });
    expect(taken(COUNTS, 'D4').landmarks).toEqual({ rows: ['SC-01'], columns: ['2024'] });
    expect(taken(COUNTS, 'C4:D5').landmarks).toEqual({
      rows: ['SC-01', 'SC-02'],
      columns: ['2023', '2024'],
    });
  });

  test('are words: figures at the head of a row or column are none', () => {
    expect(
      taken(
        [
          [7, 12],
          [8, 13],
        ],
        'B2',
      ).landmarks,
    ).toBeUndefined();
    expect(taken([['Mean depth, m', null, 2.4]], 'C1').landmarks).toEqual({
      rows: ['Mean depth, m'],
      columns: [''],
    });
  });

  test('stand behind a number of the row, and before a gap', () => {
    const piles = [
      ['No.', 'Pile', null, 'Depth, m'],
      [1, 'P-01', null, 6.2],
      [2, 'P-02', null, 5.9],
    ];
    expect(taken(piles, 'D3').landmarks).toEqual({ rows: ['P-02'], columns: ['Depth, m'] });
  });

  test('are no texts of the object itself where it is about texts', () => {
    const states = [['open'], ['closed'], ['open']];
    expect(taken(states, 'A1:A3').landmarks).toBeUndefined();
    expect(taken([['Kept by', 'the field ecologist']], 'A1:B1').landmarks).toBeUndefined();
    expect(taken([['State'], ...states], 'A2:A4').landmarks).toMatchObject({ columns: ['State'] });
    expect(taken([[1950], [1960], [1970]], 'A1:A3').landmarks).toBeUndefined();
  });

  test('stand within a small row when it has words of its own, but a cell is not its own landmark', () => {
    expect(taken(COUNTS, 'A6:D6').landmarks?.rows).toEqual(['Total']);
    expect(taken([['As of 12 May']], 'A1').landmarks).toBeUndefined();
  });

  test('of any cells stand on filled cells in front of those they are the heads of', () => {
    const place = fc.integer({ min: 1, max: 9 });
    const cells = fc.array(fc.record({ row: place, column: place }), { minLength: 1 });
    const areas = fc.tuple(place, place, fc.nat(2), fc.nat(2)).map(([top, left, down, right]) => ({
      top,
      left,
      bottom: top + down,
      right: left + right,
    }));
    fc.assert(
      fc.property(cells, areas, (filled, area) => {
        const builder = new OccupancyBuilder();
        for (const { row, column } of filled) builder.add(row, column);
        const occupancy = builder.build();
        const places = landmarkFinder(occupancy)(area);
        const { top, left, bottom, right } = area;
        for (const [at, heads] of places.rows.entries()) {
          const row = top + at;
          const isAny = filled.some((cell) => cell.row === row && cell.column < right);
          expect(heads.length > 0).toBe(isAny);
          if (isAny)
            expect(isOccupied(occupancy, { row, column: heads[0]!.column - 1 })).toBe(false);
          for (const head of heads) {
            expect(head.row).toBe(row);
            expect(head.column).toBeLessThan(right);
            expect(isOccupied(occupancy, head)).toBe(true);
          }
        }
        for (const [at, heads] of places.columns.entries()) {
          const column = left + at;
          const isAny = filled.some((cell) => cell.column === column && cell.row < bottom);
          expect(heads.length > 0).toBe(isAny);
          if (isAny) expect(isOccupied(occupancy, { row: heads[0]!.row - 1, column })).toBe(false);
          for (const head of heads) {
            expect(head.column).toBe(column);
            expect(head.row).toBeLessThan(bottom);
            expect(isOccupied(occupancy, head)).toBe(true);
          }
        }
      }),
    );
  });
});

describe('a small block in which other cells have come to stand', () => {
  const before = taken(COUNTS, 'D6');
  const after = taken(grown(['SC-03', 'Cordgrass', 60, 12]), 'D6');
  const harm = (from: Snapshot, to: Snapshot) =>
    harmOf(dangerOf(from, to, changeSlip(from, to)), 50);

  test('waits, whatever share of it may change', () => {
    expect(harm(before, after)).toMatchObject({
      code: 'waits-landmarks',
      message: 'Its cells stand at “SC-03” instead of “Total”.',
    });
    const gone = taken(
      COUNTS.map((row, at) => (at === 5 ? [null, null, 1, 2] : row)),
      'D6',
    );
    expect(harm(before, gone)?.message).toBe('Its cells stand no longer at “Total”.');
  });

  test('says so in its slip, which knows row and column by their words', () => {
    const slip = changeSlip(before, after);
    expect(slip.landmarks).toEqual([{ was: 'Total', is: 'SC-03' }]);
    expect(summariseSlip(slip)).toBe('1 cell changed, at “SC-03” instead of “Total”');
    expect(slip.rows[0]).toMatchObject({ label: 'SC-03', cells: [{ header: '2024' }] });
  });

  test('a new figure at the same words does not wait', () => {
    const figure = taken(
      COUNTS.map((row, at) => (at === 3 ? ['SC-01', 'Glasswort', 120, 90] : row)),
      'D4',
    );
    expect(harm(taken(COUNTS, 'D4'), figure)).toBeNull();
    expect(changeSlip(taken(COUNTS, 'D4'), figure)).not.toHaveProperty('landmarks');
  });

  test('other words at the same figure are no change', () => {
    const renamed = taken(
      COUNTS.map((row, at) => (at === 5 ? ['Sum', ...row.slice(1)] : row)),
      'D6',
    );
    expect(isEmptySlip(changeSlip(before, renamed))).toBe(true);
  });

  test('taken before landmarks were kept, it is compared by its cells alone', () => {
    const { landmarks: _, ...old } = before;
    expect(harm(old, after)).toBeNull();
  });

  test('taken whole it is what the source holds; in part it keeps the words of before', () => {
    const [from, to] = [taken(COUNTS, 'C6:D6'), taken(grown(['SC-03', null, 60, 12]), 'C6:D6')];
    const slip = changeSlip(from, to);
    expect(takePart(from, to, slip, wholeChoice(slip)).landmarks).toEqual(to.landmarks);
    const part = takePart(from, to, slip, { rows: [], arrangement: false });
    expect(part.landmarks).toEqual(from.landmarks);
  });
});

test('a value is named after its row and column', () => {
  expect(suggestName(taken(COUNTS, 'D6'))).toBe('Counts: Total, 2024');
  expect(suggestName(taken(COUNTS, 'C6:D6'))).toBe('Counts: Total');
  expect(suggestName(taken(COUNTS, 'C4:D5'))).toBe('Counts: 2023, 2024');
});

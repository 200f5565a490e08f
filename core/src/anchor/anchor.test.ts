import { describe, expect, test } from '@jest/globals';
import { formatArea, parseReference } from '../sheet/address.ts';
import { anchorsOf } from './anchor.ts';
import { printSheet, type SheetPrint } from './sheet-print.ts';

type Value = string | number | null;

/** A sheet of rows; `at` is the cell at which the first of them begins. */
function sheet(rows: Value[][], { name = 'Counts', top = 1, left = 1 } = {}): SheetPrint {
  const cells = rows.flatMap((row, r) =>
    row.flatMap((value, c) =>
      value === null
        ? []
        : [
            {
              ...{ row: top + r, column: left + c, value },
              type: typeof value === 'number' ? ('number' as const) : ('text' as const),
            },
          ],
    ),
  );
  return printSheet(name, cells)!;
}

const HEAD = ['Plot', 'Planted', 'Surviving', 'Cover'];
const ROWS: Value[][] = Array.from({ length: 10 }, (_, at) => [
  `SC-${at + 1}`,
  240 + at * 7,
  97 + at * 11,
  (at * 13) / 100,
]);
const TABLE = [HEAD, ...ROWS];
const WHOLE = [['Planting counts'], [], ...TABLE];
const AREA = 'A3:D13';

function found(after: SheetPrint | SheetPrint[], { before = sheet(WHOLE), area = AREA } = {}) {
  const parsed = parseReference(area);
  if (!parsed.ok) throw new Error(area);
  const sheets = Array.isArray(after) ? after : [after];
  return anchorsOf(before, parsed.value.area, sheets, ['Counts', 'Notes']);
}
const first = (after: SheetPrint | SheetPrint[]) => {
  const [best] = found(after);
  return best && { at: `${best.sheet}!${formatArea(best.area)}`, certain: best.isCertain };
};
const row = (name: string): Value[] => [name, 1, 2, 3];

describe('an area is followed where nothing is lost', () => {
  test.each<[string, SheetPrint, string]>([
    ['nothing changed', sheet(WHOLE), 'Counts!A3:D13'],
    ['rows put in above', sheet(WHOLE, { top: 5 }), 'Counts!A7:D17'],
    ['columns put in before it', sheet(WHOLE, { left: 3 }), 'Counts!C3:F13'],
    [
      'rows put in within it',
      sheet([...WHOLE.slice(0, 6), row('new'), row('newer'), ...WHOLE.slice(6)]),
      'Counts!A3:D15',
    ],
    [
      'a column put in within it',
      sheet(
        WHOLE.map((each, at) =>
          each.length < 4 ? each : [each[0]!, at === 2 ? 'Boat' : at, ...each.slice(1)],
        ),
      ),
      'Counts!A3:E13',
    ],
    [
      'sorted the other way round',
      sheet([['Planting counts'], [], HEAD, ...[...ROWS].reverse()]),
      'Counts!A3:D13',
    ],
    [
      'columns in another order',
      sheet(
        WHOLE.map((each) => (each.length < 4 ? each : [each[0]!, each[3]!, each[1]!, each[2]!])),
      ),
      'Counts!A3:D13',
    ],
    ['the sheet renamed', sheet(WHOLE, { name: 'Counts 2026' }), 'Counts 2026!A3:D13'],
    [
      'a fifth of the figures changed',
      sheet(
        WHOLE.map((each, at) =>
          at > 2 && at % 2 === 0 ? [...each.slice(0, 2), 9_000 + at, 0] : each,
        ),
      ),
      'Counts!A3:D13',
    ],
  ])('%s', (_, after, at) => {
    expect(first(after)).toEqual({ at, certain: true });
  });
});

describe('what is not certain is said', () => {
  test('rows that went', () => {
    const [best] = found(sheet([...WHOLE.slice(0, 6), ...WHOLE.slice(8)]));
    expect(formatArea(best!.area)).toBe('A3:D11');
    expect(best).toMatchObject({ isCertain: false, rows: { deleted: 2 } });
    expect(best!.reasons).toContain('2 rows were not found again.');
  });

  test('a header with other words', () => {
    const [best] = found(sheet([...WHOLE.slice(0, 2), ['Plot', 'Set', ...HEAD.slice(2)], ...ROWS]));
    expect(formatArea(best!.area)).toBe(AREA);
    expect(best).toMatchObject({ isCertain: false, evidence: { header: 0.75 } });
  });

  test('two places that hold the same, of which one stands where it stood', () => {
    const copy = [...WHOLE, [], [], ...TABLE];
    // It did not move and is as it was: the copy changes nothing.
    expect(first(sheet(copy))).toEqual({ at: 'Counts!A3:D13', certain: true });
    // Both moved: somebody has to say.
    const places = found(sheet(copy, { top: 4 }));
    expect(places.map(({ area }) => formatArea(area))).toEqual(['A6:D16', 'A19:D29']);
    expect(places.map(({ isCertain }) => isCertain)).toEqual([false, false]);
    expect(places[0]!.reasons.join(' ')).toContain('stand elsewhere too');
  });

  test('a copy that is all that is left', () => {
    const after = [sheet([['Sums']], { name: 'Counts' }), sheet(TABLE, { name: 'Notes', top: 4 })];
    expect(first(after)).toEqual({ at: 'Notes!A4:D14', certain: true });
  });

  test('a row that may belong to it', () => {
    const mixed = [...ROWS].reverse();
    const places = found(sheet([...WHOLE.slice(0, 3), ...mixed, row('new')]));
    expect(places.map(({ area }) => formatArea(area)).sort()).toEqual(['A3:D13', 'A3:D14']);
    expect(places.every(({ isCertain }) => !isCertain)).toBe(true);
  });

  test('and what is not there is not found', () => {
    expect(found(sheet([['Tides'], [1, 2, 3]]))).toEqual([]);
    expect(found([])).toEqual([]);
    expect(found(sheet(WHOLE), { area: 'H1:J4' })).toEqual([]);
  });
});

test('any line travels through the map, and edges lean where theirs is gone', () => {
  const [best] = found(
    sheet([...WHOLE.slice(0, 6), row('new'), ...WHOLE.slice(6, 9), ...WHOLE.slice(10)]),
  );
  const { rows } = best!.map;
  expect([rows.get(1), rows.get(6), rows.get(7), rows.get(10)]).toEqual([1, 6, 8, null]);
  expect([rows.edge(10, 'before'), rows.edge(10, 'after')]).toEqual([10, 11]);
  expect(rows.edge(99, 'after')).toBeNull();
});

test('whole columns and rows stay whole, empty edges stay as wide', () => {
  const [columns] = found(sheet(WHOLE, { top: 4 }), { area: 'A1:D1048576' });
  expect(columns!.area).toMatchObject({ top: 1, bottom: 1_048_576 });
  const [wider] = found(sheet(WHOLE, { top: 4 }), { area: 'A2:E15' });
  expect(formatArea(wider!.area)).toBe('A5:E18');
});

test('sheets whose cells lie scattered over millions of places are left alone', () => {
  const cells = Array.from({ length: 3_000 }, (_, at) => ({
    ...{ row: at * 300 + 1, column: at * 5 + 1, value: at },
    type: 'number' as const,
  }));
  expect(printSheet('Scattered', cells)).toBeNull();
});

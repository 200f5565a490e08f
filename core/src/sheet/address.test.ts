import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  type Area,
  columnName,
  columnNumber,
  formatReference,
  intersection,
  MAX_COLUMNS,
  MAX_ROWS,
  parseReference,
  quoteSheet,
  union,
} from './address.ts';

const areas = fc
  .tuple(
    fc.integer({ min: 1, max: MAX_ROWS }),
    fc.integer({ min: 1, max: MAX_ROWS }),
    fc.integer({ min: 1, max: MAX_COLUMNS }),
    fc.integer({ min: 1, max: MAX_COLUMNS }),
  )
  .map(
    ([a, b, c, d]): Area => ({
      top: Math.min(a, b),
      bottom: Math.max(a, b),
      left: Math.min(c, d),
      right: Math.max(c, d),
    }),
  );

describe('column letters', () => {
  // ECMA-376 Part 1, 18.17.2.3.1 (A1 references): columns run A, B, …, Z, AA, …; the last is XFD, number 16384.
  test.each([
    [1, 'A'],
    [26, 'Z'],
    [27, 'AA'],
    [52, 'AZ'],
    [53, 'BA'],
    [702, 'ZZ'],
    [703, 'AAA'],
    [16_384, 'XFD'],
  ])('column %i is %s', (number, name) => {
    expect(columnName(number)).toBe(name);
    expect(columnNumber(name)).toBe(number);
    expect(columnNumber(name.toLowerCase())).toBe(number);
  });

  test('every column of a sheet has its own name', () => {
    const names = new Set(Array.from({ length: MAX_COLUMNS }, (_, index) => columnName(index + 1)));
    expect(names.size).toBe(MAX_COLUMNS);
  });
});

describe('reading a reference', () => {
  const area = (top: number, left: number, bottom: number, right: number) => ({
    top,
    left,
    bottom,
    right,
  });
  test.each([
    ['B2', null, area(2, 2, 2, 2)],
    ['$B$2:F14', null, area(2, 2, 14, 6)],
    ['F14:B2', null, area(2, 2, 14, 6)],
    [' b2 : f14 ', null, area(2, 2, 14, 6)],
    ['B:D', null, area(1, 2, MAX_ROWS, 4)],
    ['$3:5', null, area(3, 1, 5, MAX_COLUMNS)],
    ['Counts!A3:F14', 'Counts', area(3, 1, 14, 6)],
    ["'Plot''s counts'!A1", "Plot's counts", area(1, 1, 1, 1)],
    ["'a!b'!A1", 'a!b', area(1, 1, 1, 1)],
    ['XFD1048576', null, area(MAX_ROWS, MAX_COLUMNS, MAX_ROWS, MAX_COLUMNS)],
  ])('%s', (text, sheet, expected) => {
    expect(parseReference(text)).toEqual({ ok: true, value: { sheet, area: expected } });
  });

  test.each([
    '',
    'B',
    '2',
    'B2:',
    ':B2',
    'B2:C3:D4',
    'B2:C',
    '!A1',
    'My sheet!A1',
    "'Open!A1",
    'B-2',
    'ABCD1',
  ])('“%s” is not a reference', (text) => {
    const result = parseReference(text);
    expect(result).toMatchObject({ ok: false, fault: { code: 'reference-malformed' } });
  });

  test.each(['XFE1', 'A1048577', 'A0', 'ZZZ1:ZZZ2', 'A1:A1048577'])(
    '%s lies outside the sheet',
    (text) => {
      const result = parseReference(text);
      expect(result).toMatchObject({ ok: false, fault: { code: 'reference-outside-sheet' } });
      if (!result.ok) expect(result.fault.message).toContain(text);
    },
  );

  test('what is written is read back the same, whatever the sheet is called', () => {
    const sheets = fc
      .string({ minLength: 1, maxLength: 31 })
      .filter((name) => !name.startsWith("'"));
    fc.assert(
      fc.property(fc.option(sheets), areas, (sheet, area) => {
        const text = formatReference({ sheet, area });
        expect(parseReference(text)).toEqual({ ok: true, value: { sheet, area } });
      }),
    );
  });
});

test.each([
  ['Counts', 'Counts'],
  ['Drive log', "'Drive log'"],
  ["Plot's", "'Plot''s'"],
  ['B2', "'B2'"],
  ['R1C1', "'R1C1'"],
  ['2026', "'2026'"],
  ['Zählung', 'Zählung'],
])('sheet name %s is written %s', (name, written) => {
  expect(quoteSheet(name)).toBe(written);
});

describe('union and intersection', () => {
  test('the union holds both, and the intersection lies in both', () => {
    fc.assert(
      fc.property(areas, areas, (a, b) => {
        const whole = union(a, b);
        expect(intersection(whole, a)).toEqual(a);
        expect(intersection(whole, b)).toEqual(b);
        const shared = intersection(a, b);
        if (shared) {
          expect(union(shared, a)).toEqual(a);
          expect(union(shared, b)).toEqual(b);
        }
      }),
    );
  });

  test('areas side by side share nothing', () => {
    expect(
      intersection(
        { top: 1, left: 1, bottom: 5, right: 2 },
        { top: 1, left: 3, bottom: 5, right: 4 },
      ),
    ).toBeNull();
  });
});

import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { showNumber } from '../sheet/number-format.ts';
import type { Cell } from '../sheet/sheet.ts';
import { findPasted, keysOfCell, keysOfText, markOf, numbersIn, surenessOf } from './cell-index.ts';

const text = (row: number, column: number, value: string): Cell => ({
  row,
  column,
  type: 'text',
  value,
  text: value,
});
const number = (row: number, column: number, value: number, format = 'General'): Cell => ({
  row,
  column,
  type: 'number',
  value,
  text: showNumber(value, format),
  format,
});

/** Five plots from row 3, columns 2 to 4. */
const SHEET: Cell[] = [
  text(3, 2, 'Plot'),
  text(3, 3, 'Planted'),
  text(3, 4, 'Cover'),
  ...['North bank', 'Sluice side', 'Inner creek', 'Old wall', 'Reed edge'].flatMap((plot, at) => [
    text(4 + at, 2, plot),
    number(4 + at, 3, 1200 + 37 * at, '#,##0'),
    number(4 + at, 4, 0.41 + at / 50, '0%'),
  ]),
];

describe('numbers in shown texts', () => {
  test.each([
    ['1,234.5', [1234.5]],
    ['1.234,5', [1234.5]],
    ['1 234,50', [1234.5]],
    ['1,234', [1234, 1.234]],
    ['12,5', [12.5]],
    ['45 %', [0.45]],
    ['(17)', [-17]],
    ['−3.2', [-3.2]],
    ['€ 1,200.00', [1200]],
    ['12.5 m', [12.5]],
    ['north bank', []],
    ['2026-11-25', []],
    ['1,23,4', []],
  ])('%s', (shown, expected) => {
    expect(numbersIn(shown)).toEqual(expected);
  });

  test('a number shown with thousands and any decimals is found under its value', () => {
    fc.assert(
      fc.property(fc.integer({ min: -9_999_999, max: 9_999_999 }), (cents) => {
        const value = cents / 100;
        const cell = number(1, 1, value, '#,##0.00');
        const keys = keysOfCell(cell);
        return keysOfText(cell.text).some((key) => keys.includes(key) && key.startsWith('#'));
      }),
    );
  });
});

// Published test values of FNV-1a with 32 bits: the empty string, "a", "foobar" (draft-eastlake-fnv, appendix C).
test.each([
  ['', 0x811c9dc5],
  ['a', 0xe40c292c],
  ['foobar', 0xbf9cf968],
])('the mark of %p', (key, expected) => {
  expect(markOf(key) >>> 0).toBe(expected);
});

describe('pasted cells among those of a sheet', () => {
  const paste = (rows: string[][]) => findPasted(rows, SHEET);

  test('are found where they stand, though shown otherwise', () => {
    const [best] = paste([
      ['Sluice side', '1237', '43%'],
      ['inner creek', '1.274', '0,45'],
    ]);
    expect(best).toEqual({ area: { top: 5, left: 2, bottom: 6, right: 4 }, same: 6, of: 6 });
    expect(surenessOf(best!, [])).toBe('sure');
  });

  test('a changed figure makes it less sure', () => {
    const [best] = paste([
      ['North bank', '1,200', '41%'],
      ['Sluice side', '1,999', '43%'],
    ]);
    expect(best).toMatchObject({ same: 5, of: 6 });
    expect(surenessOf(best!, [])).toBe('likely');
  });

  test('the same cells in two places are not sure', () => {
    const twice = [...SHEET, ...SHEET.map((cell) => ({ ...cell, row: cell.row + 20 }))];
    const [best, second] = findPasted([['Plot', 'Planted', 'Cover']], twice);
    expect([best!.area.top, second!.area.top]).toEqual([3, 23]);
    expect(surenessOf(best!, [second!])).toBe('perhaps');
  });

  test('nothing is offered for other figures, nor for nothing', () => {
    expect(paste([['West bank', '7,777', '99%']])).toEqual([]);
    expect(paste([])).toEqual([]);
    expect(paste([['', '']])).toEqual([]);
  });

  test('any part of a sheet is found, at its own place first', () => {
    const part = fc.record({
      top: fc.integer({ min: 3, max: 8 }),
      left: fc.integer({ min: 2, max: 4 }),
      height: fc.integer({ min: 1, max: 6 }),
      width: fc.integer({ min: 1, max: 3 }),
    });
    fc.assert(
      fc.property(part, ({ top, left, height, width }) => {
        const rows = Array.from({ length: height }, (_, r) =>
          Array.from(
            { length: width },
            (_, c) =>
              SHEET.find((cell) => cell.row === top + r && cell.column === left + c)?.text ?? '',
          ),
        );
        if (rows.flat().every((shown) => shown === '')) return;
        const [best] = findPasted(rows, SHEET);
        expect(best).toMatchObject({ area: { top, left } });
        expect(best!.same).toBe(best!.of);
      }),
    );
  });
});

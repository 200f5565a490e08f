import * as formulajs from '@formulajs/formulajs';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Area } from '../sheet/address.ts';
import { evaluate, parseFormula } from './evaluate.ts';
import { shiftFormula } from './shift.ts';
import { type CellValues, FormulaError, type Scalar } from './value.ts';

const reference = formulajs as unknown as Record<string, (...args: unknown[]) => unknown>;

/** Cells written as rows from A1; `Other` is a second sheet with 7 in A1. */
function cellsOf(rows: Scalar[][]): CellValues {
  const height = rows.length;
  const width = Math.max(0, ...rows.map((row) => row.length));
  return {
    get: (sheet, row, column) =>
      sheet === 'Other'
        ? row === 1 && column === 1
          ? 7
          : null
        : (rows[row - 1]?.[column - 1] ?? null),
    each: () => {},
    filled: (_, area: Area) =>
      area.top > height || area.left > width
        ? null
        : { ...area, bottom: Math.min(area.bottom, height), right: Math.min(area.right, width) },
  };
}

function run(
  text: string,
  rows: Scalar[][] = [],
  at = { row: 1, column: 1 },
  origin = { row: 1, column: 1 },
): Scalar | string {
  const formula = parseFormula(text);
  if (!formula) throw new Error(`${text} is no formula`);
  const result = evaluate(formula, {
    sheet: 'Counts',
    ...at,
    origin,
    cells: cellsOf(rows),
    now: 46_351.5,
    name: (name) =>
      name === 'Target'
        ? parseFormula('Counts!$A$2*2')
        : name === 'Loop'
          ? parseFormula('Loop+1')
          : null,
  });
  return result instanceof FormulaError ? result.code : result;
}

const table: Scalar[][] = [
  ['Plot', 'Species', 'Planted'],
  ['SC-01', 'Cordgrass', 240],
  ['SC-02', 'Purslane', 180],
  ['SC-03', 'cordgrass', 120],
  ['SC-04', null, null],
];

describe('formulas', () => {
  test.each<[string, Scalar | string]>([
    ['1+2*3^2', 19],
    ['-2^2', 4],
    ['10%', 0.1],
    ['"a"&1&TRUE', 'a1TRUE'],
    ['1/0', '#DIV/0!'],
    ['"x"+1', '#VALUE!'],
    ['"12"+1', 13],
    ['#N/A', '#N/A'],
    ['"abc"="ABC"', true],
    ['EXACT("abc","ABC")', false],
    ['2>"1"', false],
    ['"z"<TRUE', true],
    ['IF(FALSE,1)', false],
    ['IF(TRUE,,1)', null],
    ['IFERROR(1/0,"none")', 'none'],
    ['IFNA(1/0,2)', '#DIV/0!'],
    ['CHOOSE(2,"a","b")', 'b'],
    ['AND(TRUE,1,"true")', true],
    ['OR(FALSE,0)', false],
    ['NOT(1)', false],
    ['UNKNOWN(1)', '#NAME?'],
    ['Nowhere', '#NAME?'],
    ['Loop', '#NAME?'],
    ['TODAY()', 46_351],
    ['WEEKDAY(TODAY())', 4],
    ['TEXT(0.5,"0%")', '50%'],
    ['ROW()', 1],
    ['SUM({1,2;3,4})', 10],
    ['INDEX({1,2;3,4},2,1)', 3],
    ['_xlfn.CONCAT("a","b")', 'ab'],
  ])('%s is %j', (text, expected) => expect(run(text)).toEqual(expected));

  test.each<[string, Scalar | string]>([
    ['SUM(C2:C5)', 540],
    ['SUM(C:C)', 540],
    ['AVERAGE(C2:C5)', 180],
    ['COUNTA(B1:B5)', 4],
    ['COUNTBLANK(B2:B5)', 1],
    ['COUNTIF(B2:B5,"cordgrass")', 2],
    ['COUNTIF(B:B,"c*")', 2],
    ['COUNTIF(C2:C5,">=180")', 2],
    ['SUMIF(B2:B5,"Purslane",C2:C5)', 180],
    ['SUMIFS(C2:C5,B2:B5,"cordgrass",C2:C5,"<200")', 120],
    ['AVERAGEIF(C2:C5,">150")', 210],
    ['MATCH("SC-03",A2:A5,0)', 3],
    ['VLOOKUP("SC-02",A2:C5,3,FALSE)', 180],
    ['VLOOKUP("SC-99",A2:C5,3,FALSE)', '#N/A'],
    ['INDEX(C2:C5,MATCH("SC-03",A2:A5,0))', 120],
    ['SUMPRODUCT((B2:B5="cordgrass")*C2:C5)', 360],
    ['ISBLANK(B5)', true],
    ['B5=""', true],
    ['C5=0', true],
    ['LARGE(C2:C5,2)', 180],
    ['RANK(120,C2:C4)', 3],
    ['Other!A1*2', 14],
    ['ROWS(A2:A5)', 4],
    ['SUM(A2:C3 B1:C9)', 420],
  ])('%s over a table is %j', (text, expected) => expect(run(text, table)).toEqual(expected));

  test('references move with the cell, fixed ones stay', () => {
    const rows = [
      [1, 10],
      [2, 20],
      [3, 30],
    ];
    const at = { row: 3, column: 2 };
    expect(run('A1', rows, at, { row: 1, column: 1 })).toBe(30);
    expect(run('$A1', rows, at, { row: 1, column: 1 })).toBe(3);
    expect(run('A$1', rows, at, { row: 1, column: 1 })).toBe(10);
    expect(run('$A$1', rows, at)).toBe(1);
    expect(run('A1', rows, { row: 1, column: 1 }, { row: 2, column: 1 })).toBe('#REF!');
  });

  test('a name is followed', () => expect(run('Target+1', [[0], [21]])).toBe(43));

  test('what cannot be evaluated is told before', () => {
    const formula = parseFormula("CUBEVALUE(1)+'[1]Plots'!A1+OFFSET(A1,1,1)+SUM(Plots[Planted])");
    expect(formula).toMatchObject({
      unknown: ['CUBEVALUE', "'[1]Plots'!A1"],
      dynamic: ['OFFSET'],
      tables: [{ table: 'Plots', columns: ['Planted'], sections: [] }],
    });
    expect(parseFormula('SUM(1,')).toBeNull();
    expect(parseFormula(`${'-('.repeat(400)}1${')'.repeat(400)}`)).toBeNull();
  });
});

// Published reference: @formulajs/formulajs 4.6.1, for the functions where both are defined.
describe('functions against a reference library', () => {
  const numbers = fc.array(fc.integer({ min: -1000, max: 1000 }), { minLength: 1, maxLength: 9 });
  const list = (values: number[]) => values.map((value) => [value]);
  const close = (ours: Scalar | string, theirs: unknown) => {
    if (typeof theirs === 'number') expect(ours).toBeCloseTo(theirs, 8);
    else if (theirs instanceof Error) expect(ours).toBe(theirs.message);
    else expect(ours).toEqual(theirs);
  };

  test.each(['SUM', 'AVERAGE', 'MIN', 'MAX', 'PRODUCT', 'MEDIAN', 'COUNT', 'COUNTA'] as const)(
    '%s',
    (name) => {
      fc.assert(
        fc.property(numbers, (values) => {
          close(run(`${name}(A1:A9)`, list(values)), reference[name]!(values));
        }),
      );
    },
  );

  test.each(['STDEV.S', 'STDEV.P', 'VAR.S', 'VAR.P'] as const)('%s', (name) => {
    const [base, kind] = name.split('.') as ['STDEV' | 'VAR', 'S' | 'P'];
    const theirs = (reference[base] as unknown as Record<string, (...all: number[]) => unknown>)[
      kind
    ]!;
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -99, max: 99 }), { minLength: 2, maxLength: 9 }),
        (values) => {
          close(run(`${name}(A1:A9)`, list(values)), theirs(...values));
        },
      ),
    );
  });

  test.each(['LARGE', 'SMALL'] as const)('%s', (name) => {
    fc.assert(
      fc.property(numbers, fc.integer({ min: 1, max: 9 }), (values, k) => {
        fc.pre(k <= values.length);
        close(run(`${name}(A1:A9,${k})`, list(values)), reference[name]!(values, k));
      }),
    );
  });

  test('PERCENTILE', () => {
    fc.assert(
      fc.property(numbers, fc.integer({ min: 0, max: 100 }), (values, share) => {
        close(
          run(`PERCENTILE(A1:A9,${share / 100})`, list(values)),
          formulajs.PERCENTILE.INC(values, share / 100),
        );
      }),
    );
  });

  const decimals = fc.integer({ min: -100_000, max: 100_000 }).map((value) => value / 100);
  test.each(['ABS', 'INT', 'SIGN', 'EXP', 'TRUNC'] as const)('%s', (name) => {
    fc.assert(
      fc.property(
        decimals.filter((x) => Math.abs(x) < 300),
        (x) => close(run(`${name}(${x})`), reference[name]!(x)),
      ),
    );
  });
  test.each(['ROUND', 'ROUNDUP', 'ROUNDDOWN'] as const)('%s', (name) => {
    fc.assert(
      fc.property(decimals, fc.integer({ min: 0, max: 3 }), (x, digits) =>
        close(run(`${name}(${x},${digits})`), reference[name]!(x, digits)),
      ),
    );
  });
  // The reference library differs from the definition here: `a - b * INT(a / b)` (ODF 1.3 Part 4, 6.16.36, from memory).
  test.each([
    [3, 2, 1],
    [-3, 2, 1],
    [3, -2, -1],
    [-3, -2, -1],
    [1, -3, -2],
  ])('MOD(%i,%i)', (x, y, expected) => expect(run(`MOD(${x},${y})`)).toBe(expected));

  const words = fc.string({ unit: fc.constantFrom('a', 'B', ' ', 'c', '-'), maxLength: 9 });
  test.each(['LEN', 'UPPER', 'LOWER', 'TRIM'] as const)('%s', (name) => {
    fc.assert(
      fc.property(words, (text) => close(run(`${name}(A1)`, [[text]]), reference[name]!(text))),
    );
  });
  test.each(['LEFT', 'RIGHT'] as const)('%s', (name) => {
    fc.assert(
      fc.property(words, fc.nat(9), (text, count) =>
        close(run(`${name}(A1,${count})`, [[text]]), reference[name]!(text, count)),
      ),
    );
  });
  test('SUBSTITUTE and FIND', () => {
    fc.assert(
      fc.property(words, (text) => {
        close(run('SUBSTITUTE(A1,"B","xy")', [[text]]), formulajs.SUBSTITUTE(text, 'B', 'xy'));
        const at = text.indexOf('B');
        expect(run('FIND("B",A1)', [[text]])).toBe(at < 0 ? '#VALUE!' : at + 1);
      }),
    );
  });

  test('parts of dates', () => {
    fc.assert(
      fc.property(fc.integer({ min: 61, max: 80_000 }), (serial) => {
        const date = new Date(Date.UTC(1899, 11, 30) + serial * 86_400_000);
        expect(run(`YEAR(${serial})`)).toBe(date.getUTCFullYear());
        expect(run(`MONTH(${serial})`)).toBe(date.getUTCMonth() + 1);
        expect(run(`DAY(${serial})`)).toBe(date.getUTCDate());
        expect(run(`WEEKDAY(${serial})`)).toBe(date.getUTCDay() + 1);
        expect(run(`DATE(YEAR(${serial}),MONTH(${serial}),DAY(${serial}))`)).toBe(serial);
      }),
    );
  });
});

describe('copying a formula', () => {
  test.each([
    ['SUM($A1:B$2)+Sheet1!A1', 2, 1, 'SUM($A3:C$2)+Sheet1!B3'],
    ["'My sheet'!$C$3*2", 9, 9, "'My sheet'!$C$3*2"],
    ['A:A+1:1', 2, 3, 'D:D+3:3'],
    ['A1', -1, 0, '#REF!'],
    ['XFD1', 0, 1, '#REF!'],
    ['"A1"&LOG10(A1)', 1, 0, '"A1"&LOG10(A2)'],
    ['SUM(A1:A3)/Total', 1, 1, 'SUM(B2:B4)/Total'],
    ['$5:$6', 3, 0, '$5:$6'],
  ])('%s, %i down and %i across, is %s', (text, down, across, expected) => {
    expect(shiftFormula(text)(down, across)).toBe(expected);
  });
});

import { describe, expect, test } from '@jest/globals';
import { CalcBook } from '../../recalc/calc-book.ts';
import type { CalcCell } from '../../recalc/calc-source.ts';
import { FormulaError, type Scalar } from '../value.ts';

const TABLE: Scalar[][] = [
  ['Plot', 'Species', 'Planted'],
  ['SC-01', 'Cordgrass', 240],
  ['SC-02', 'Purslane', 180],
  ['SC-03', 'Cordgrass', 120],
  ['SC-04', 'Aster', 180],
];

/** What a formula that fills as many cells as it has values comes to, as rows. */
function filled(formula: string): (Scalar | string)[][] {
  const cells: CalcCell[] = TABLE.flatMap((line, row) =>
    line.map((value, column) => ({ row: row + 1, column: column + 1, value })),
  );
  cells.push({ row: 1, column: 6, value: undefined, formula });
  const area = { top: 1, left: 6, bottom: 1, right: 6 };
  const book = CalcBook.load({
    sheets: [{ name: 'Data', cells, arrays: [{ row: 1, column: 6, area, kind: 'spilling' }] }],
    now: 46_355.5,
  });
  const rows: (Scalar | string)[][] = [];
  for (let row = 1; row <= 12; row++) {
    const line: (Scalar | string)[] = [];
    for (let column = 6; column <= 12; column++) {
      const value = book.get('Data', row, column);
      if (value !== null) line.push(value instanceof FormulaError ? value.code : value);
    }
    if (line.length > 0) rows.push(line);
  }
  return rows;
}

// What each comes to follows from its definition (common practice).
describe('functions that make arrays', () => {
  test.each<[string, (Scalar | string)[][]]>([
    [
      'FILTER(A2:C5,C2:C5=180)',
      [
        ['SC-02', 'Purslane', 180],
        ['SC-04', 'Aster', 180],
      ],
    ],
    ['FILTER(A2:A5,C2:C5>900,"none")', [['none']]],
    ['FILTER(A2:A5,C2:C5>900)', [['#CALC!']]],
    ['SORT(C2:C5)', [[120], [180], [180], [240]]],
    [
      'SORT(A2:C5,{3,1},{-1,1})',
      [
        ['SC-01', 'Cordgrass', 240],
        ['SC-02', 'Purslane', 180],
        ['SC-04', 'Aster', 180],
        ['SC-03', 'Cordgrass', 120],
      ],
    ],
    ['SORTBY(A2:A5,B2:B5,1,C2:C5,-1)', [['SC-04'], ['SC-01'], ['SC-03'], ['SC-02']]],
    ['UNIQUE(B2:B5)', [['Cordgrass'], ['Purslane'], ['Aster']]],
    ['UNIQUE(B2:B5,FALSE,TRUE)', [['Purslane'], ['Aster']]],
    [
      'SEQUENCE(2,3,10,5)',
      [
        [10, 15, 20],
        [25, 30, 35],
      ],
    ],
    [
      'TRANSPOSE(A2:B3)',
      [
        ['SC-01', 'SC-02'],
        ['Cordgrass', 'Purslane'],
      ],
    ],
    ['TAKE(A2:C5,-1,2)', [['SC-04', 'Aster']]],
    ['DROP(A2:C5,3)', [['SC-04', 'Aster', 180]]],
    [
      'CHOOSECOLS(A2:C3,3,1)',
      [
        [240, 'SC-01'],
        [180, 'SC-02'],
      ],
    ],
    ['CHOOSEROWS(A2:A5,-1,1)', [['SC-04'], ['SC-01']]],
    [
      'VSTACK(A2:B2,A3)',
      [
        ['SC-01', 'Cordgrass'],
        ['SC-02', '#N/A'],
      ],
    ],
    [
      'HSTACK(A2:A3,C2:C3)',
      [
        ['SC-01', 240],
        ['SC-02', 180],
      ],
    ],
    ['TOCOL(A2:B3)', [['SC-01'], ['Cordgrass'], ['SC-02'], ['Purslane']]],
    ['TOROW(A2:B3,0,TRUE)', [['SC-01', 'SC-02', 'Cordgrass', 'Purslane']]],
    [
      'WRAPROWS({1,2,3},2,0)',
      [
        [1, 2],
        [3, 0],
      ],
    ],
    [
      'WRAPCOLS({1,2,3},2,0)',
      [
        [1, 3],
        [2, 0],
      ],
    ],
    [
      'EXPAND({1,2},2,3,"-")',
      [
        [1, 2, '-'],
        ['-', '-', '-'],
      ],
    ],
    [
      'TEXTSPLIT("a-b;c","-",";",FALSE,0,"?")',
      [
        ['a', 'b'],
        ['c', '?'],
      ],
    ],
    ['FREQUENCY(C2:C5,{150;200})', [[1], [2], [1]]],
    [
      'MMULT({1,2;3,4},{5,6;7,8})',
      [
        [19, 22],
        [43, 50],
      ],
    ],
    [
      'MINVERSE({2,0;0,4})',
      [
        [0.5, 0],
        [0, 0.25],
      ],
    ],
    [
      'MUNIT(2)',
      [
        [1, 0],
        [0, 1],
      ],
    ],
    ['MODE.MULT({1,2,2,3,3})', [[2], [3]]],
    ['ROUND(TREND({2,4,6},{1,2,3},{4,5}),9)', [[8, 10]]],
    ['LEN(A2:A3)', [[5], [5]]],
    ['IF(C2:C5>150,"many","few")', [['many'], ['many'], ['few'], ['many']]],
    ['IFERROR(1/{1,0,2},0)', [[1, 0, 0.5]]],
    [
      'C2:C3*{1,2}',
      [
        [240, 480],
        [180, 360],
      ],
    ],
    ['XLOOKUP("SC-03",A2:A5,B2:C5)', [['Cordgrass', 120]]],
  ])('%s', (formula, expected) => expect(filled(formula)).toEqual(expected));
});

describe('functions with a side to them', () => {
  test.each<[string, Scalar | string]>([
    // Half a step is away from zero, whatever its binary fraction (common practice).
    ['ROUND(1.005,2)', 1.01],
    ['ROUND(2.675,2)', 2.68],
    ['ROUND(-1.005,2)', -1.01],
    ['ROUND(1234567,-3)', 1_235_000],
    ['0.1+0.2=0.3', true],
    // The year 1900 has a 29th of February here (ECMA-376 Part 1, 18.17.4.1).
    ['DAY(60)', 29],
    ['DATE(1900,3,1)', 61],
    ['WEEKDAY(1)', 1],
    // 2026 begins on a Thursday: its first week by ISO 8601 begins in December.
    ['ISOWEEKNUM(DATE(2026,1,1))', 1],
    ['ISOWEEKNUM(DATE(2027,1,1))', 53],
    ['WEEKNUM(DATE(2026,1,4))', 2],
    ['EDATE(DATE(2024,1,31),1)=DATE(2024,2,29)', true],
    ['YEARFRAC(DATE(2024,1,1),DATE(2025,1,1),1)', 1],
    ['VALUE("1,234.5")', 1234.5],
    ['VALUE("12:00")', 0.5],
    ['VALUE("x")', '#VALUE!'],
    ['"2026-11-29"+1', 46_356],
    ['SUBSTITUTE("aaa","a","b",2)', 'aba'],
    ['TEXTAFTER("a-b-c","-",-1)', 'c'],
    ['TEXTBEFORE("abc","-")', '#N/A'],
    ['TEXTJOIN({"-","+"},TRUE,"a","","b","c")', 'a-b+c'],
    ['PROPER("o\'neill\'s marsh")', "O'Neill'S Marsh"],
    ['CHAR(128)', '€'],
    ['CODE("€")', 128],
    ['UNICHAR(8364)', '€'],
    ['COUNTIF(B2:B5,"<>")', 4],
    ['COUNTIF(B2:B9,"")', 4],
    ['SUMIF(B2:B5,"c*",C2)', 360],
    ['SUMIFS(C2:C5,A2:A4,"SC-01")', '#VALUE!'],
    ['AVERAGEIF(B2:B5,"none",C2:C5)', '#DIV/0!'],
    ['DSUM(A1:C5,"Planted",E1:E2)', 720],
    ['MATCH("zzz",A2:A5,0)', '#N/A'],
    ['VLOOKUP("SC-02",A2:C5,4,FALSE)', '#REF!'],
    ['INDEX(A2:C5,9,1)', '#REF!'],
    ['OFFSET(A1,-1,0)', '#REF!'],
    ['INDIRECT("nowhere!A1")', '#REF!'],
    ['ADDRESS(2,3)', '$C$2'],
    ['ADDRESS(2,3,4,TRUE,"My sheet")', "'My sheet'!C2"],
    ['AGGREGATE(9,6,C2:C5)', 720],
    ['SUBTOTAL(4,C2:C5)', 240],
    // 10 q² + 10 q = 100 at q = 1/(1+r).
    ['IRR({-100,10,10})', 2 / (Math.sqrt(41) - 1) - 1],
    ['IRR({100,10,10})', '#NUM!'],
    ['NPER(0,-100,1000)', 10],
    ['RATE(12,-100,1000)>0.02', true],
    ['FACT(171)', '#NUM!'],
    ['COMBIN(52,5)', 2_598_960],
    ['GCD(0,12)', 12],
    ['LOG(8,2)', 3],
    ['ATAN2(0,0)', '#DIV/0!'],
    ['STDEV.S(5)', '#DIV/0!'],
    ['LARGE(C2:C5,9)', '#NUM!'],
    ['BASE(7,2,8)', '00000111'],
    ['DEC2BIN(-3)', '1111111101'],
    ['SHEETS()', 1],
    ['ISFORMULA(A1)', false],
    ['FORMULATEXT(C2)', '#N/A'],
    ['T.INV.2T(2,5)', '#NUM!'],
    ['SUM(A2:C5 C:C)', 720],
    ['SUM(C2:C3,C4:C5)', 720],
    ['SWITCH("b","a",1,"b",2,9)', 2],
    ['SWITCH("z","a",1,9)', 9],
    ['IFS(FALSE,1)', '#N/A'],
    ['CHOOSE(3,"a","b")', '#VALUE!'],
    ['N("x")', 0],
    ['TYPE({1,2})', 64],
  ])('%s', (formula, expected) => {
    const [[value]] = filled(`${formula}`) as [[Scalar | string]];
    if (typeof expected === 'number') expect(value).toBeCloseTo(expected, 10);
    else expect(value).toBe(expected);
  });
});

import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FormulaError, type Scalar } from '../formula/value.ts';
import { formatCell, parseCell } from '../sheet/address.ts';
import type { DefinedName, TableObject } from '../sheet/sheet.ts';
import { CalcBook } from './calc-book.ts';
import type { ArrayFormula, CalcCell, CalcSheet } from './calc-source.ts';

/** Cells by their names: values, and formulas with `=` in front; a formula's stored value behind a bar. */
function cellsOf(said: Record<string, Scalar | [formula: string, stored?: Scalar]>): CalcCell[] {
  return Object.entries(said).map(([ref, held]) => {
    const place = parseCell(ref)!;
    if (!Array.isArray(held)) return { ...place, value: held };
    return { ...place, formula: held[0], value: held[1] };
  });
}

function bookOf(
  cells: Parameters<typeof cellsOf>[0],
  more: {
    names?: DefinedName[];
    tables?: TableObject[];
    others?: CalcSheet[];
    arrays?: ArrayFormula[];
  } = {},
): CalcBook {
  const { others = [], arrays = [], ...rest } = more;
  const sheets = [{ name: 'Counts', cells: cellsOf(cells), arrays }, ...others];
  return CalcBook.load({ sheets, now: 46_355.25, ...rest });
}

const show = (value: Scalar) => (value instanceof FormulaError ? value.code : value);

/** What another value in a cell changes, by the names of the cells. */
function changeOf(book: CalcBook, ref: string, value: Scalar, sheet = 'Counts') {
  const { changed, notFinal } = book.change([{ sheet, ...parseCell(ref)!, value }]);
  return {
    changed: Object.fromEntries(
      changed.map(({ row, column, before, after }) => [
        formatCell({ row, column }),
        [show(before), show(after)],
      ]),
    ),
    notFinal: Object.fromEntries(
      notFinal.map(({ row, column, why }) => [formatCell({ row, column }), why]),
    ),
  };
}

const area = (from: string, to: string) => {
  const [a, b] = [parseCell(from)!, parseCell(to)!];
  return { top: a.row, left: a.column, bottom: b.row, right: b.column };
};

describe('a change', () => {
  test('changes what depends on it, in order, and nothing else', () => {
    const book = bookOf({
      A1: 2,
      A2: 3,
      B1: ['A1*2', 4],
      B2: ['B1+A2', 7],
      C1: ['SUM(A1:B2)', 16],
      D1: ['A2*10', 30],
    });
    expect(changeOf(book, 'A1', 5)).toEqual({
      changed: { B1: [4, 10], B2: [7, 13], C1: [16, 31] },
      notFinal: {},
    });
  });

  test('ends where a formula comes to the same as before', () => {
    const book = bookOf({ A1: 2, B1: ['A1>1', true], C1: ['IF(B1,"many","few")', 'many'] });
    expect(changeOf(book, 'A1', 3).changed).toEqual({});
    expect(changeOf(book, 'A1', 1).changed).toEqual({ B1: [true, false], C1: ['many', 'few'] });
  });

  test('is followed over sheets, whole columns, names and tables', () => {
    const book = bookOf(
      {
        A1: 'Planted',
        A2: 10,
        A3: 20,
        B1: ['SUM(A:A)', 30],
        C1: ['Total*2', 60],
        C2: ['SUM(Plots[Planted])', 30],
      },
      {
        names: [{ name: 'Total', refersTo: 'Counts!$B$1', sheet: null, hidden: false }],
        tables: [
          {
            name: 'Plots',
            sheet: 'Counts',
            area: area('A1', 'A3'),
            headerRows: 1,
            totalsRows: 0,
            columns: ['Planted'],
          },
        ],
        others: [{ name: "Sam's", cells: cellsOf({ A1: ['Counts!B1+1', 31] }) }],
      },
    );
    const { changed } = book.change([{ sheet: 'counts', row: 2, column: 1, value: 15 }]);
    expect(changed.map(({ sheet, after }) => [sheet, after]).sort()).toEqual(
      [
        ['Counts', 35],
        ['Counts', 70],
        ['Counts', 35],
        ["Sam's", 36],
      ].sort(),
    );
  });

  test('of a formula puts a value in its place', () => {
    const book = bookOf({ A1: 2, B1: ['A1*2', 4], C1: ['B1+1', 5] });
    expect(changeOf(book, 'B1', 9).changed).toEqual({ C1: [5, 10] });
    expect(changeOf(book, 'A1', 7).changed).toEqual({});
  });

  test('follows a chain of 100,000', () => {
    const length = 100_000;
    const cells: CalcCell[] = [{ row: 1, column: 1, value: 1 }];
    for (let row = 2; row <= length; row++) {
      cells.push({ row, column: 1, value: row, formula: `A${row - 1}+1` });
    }
    const book = CalcBook.load({ sheets: [{ name: 'Counts', cells }], now: 0 });
    const { changed } = book.change([{ sheet: 'Counts', row: 1, column: 1, value: 11 }]);
    expect(changed).toHaveLength(length - 1);
    expect(book.get('Counts', length, 1)).toBe(length + 10);
    expect(book.check().every(({ status }) => status === 'not computed' || status === 'same')).toBe(
      true,
    );
  });

  test('reaches cells that are found only by computing', () => {
    const book = bookOf({
      A1: 1,
      A2: ['A1*2', 2],
      B1: 1,
      C1: ['OFFSET(A1,B1,0)+1', 3],
      C2: ['INDIRECT("A"&B1+1)', 2],
      D1: ['SUM(A1:INDEX(A:A,2))', 3],
    });
    expect(changeOf(book, 'A1', 5)).toEqual({
      changed: { A2: [2, 10], C1: [3, 11], C2: [2, 10], D1: [3, 15] },
      notFinal: {},
    });
    expect(changeOf(book, 'B1', 0).changed).toEqual({ C1: [11, 6], C2: [10, 5] });
  });
});

test('what is computed at every change stays to the last digit where nothing under it changed', () => {
  const book = bookOf({
    A1: 0.1,
    A2: 0.2,
    B1: ['SUM(OFFSET(A1,0,0,2,1))', 0.3],
    D1: 5,
    D2: ['D1*2', 10],
  });
  expect(changeOf(book, 'D1', 6).changed).toEqual({ D2: [10, 12] });
  expect(Object.keys(changeOf(book, 'A1', 0.4).changed)).toEqual(['B1']);
});

describe('what is not computed', () => {
  test('keeps the value of the file, and so does what rests on it', () => {
    const book = bookOf({
      A1: 2,
      B1: ['CUBEVALUE(A1)', 8],
      C1: ['B1+1', 9],
      D1: ['A1+1', 3],
    });
    expect(changeOf(book, 'A1', 5)).toEqual({
      changed: { D1: [3, 6] },
      notFinal: {
        B1: 'CUBEVALUE is not computed here',
        C1: 'it rests on Counts!B1: CUBEVALUE is not computed here',
      },
    });
    expect(book.get('Counts', 1, 3)).toBe(9);
  });

  test('a formula that comes to something else than in the file keeps it', () => {
    const book = bookOf({ A1: 2, B1: ['A1*2', 5], C1: ['B1*2', 10] });
    expect(book.check().map(({ status, computed }) => [status, computed])).toEqual([
      ['differs', 4],
      ['same', 10],
    ]);
    expect(changeOf(book, 'A1', 3)).toEqual({
      changed: {},
      notFinal: {
        B1: 'it comes to something else here than in the file',
        C1: 'it rests on Counts!B1: it comes to something else here than in the file',
      },
    });
  });

  test('a circle is named, and what rests on it is told', () => {
    const book = bookOf({
      A1: ['B1+1', 0],
      B1: ['C1', 0],
      C1: ['A1+D1', 0],
      D1: 1,
      E1: ['A1*2', 0],
    });
    const { changed, notFinal } = changeOf(book, 'D1', 2);
    expect(changed).toEqual({});
    expect(Object.keys(notFinal).sort()).toEqual(['A1', 'B1', 'C1', 'E1']);
    expect(notFinal.A1).toMatch(/^it goes round in a circle: (Counts![ABC]1( → )?){3}$/);
    expect(notFinal.E1).toBe('it rests on formulas that go round in a circle');
  });

  test('what changes by the clock is not compared', () => {
    const book = bookOf({ A1: 1, B1: ['TODAY()+A1', 40_000], B2: ['RAND()*A1', 0.3] });
    expect(book.check().map(({ status }) => status)).toEqual(['volatile', 'volatile']);
    const { changed, notFinal } = changeOf(book, 'A1', 2);
    expect(changed).toEqual({ B1: [40_000, 46_357] });
    expect(notFinal).toEqual({ B2: 'RAND is not computed here' });
  });

  test('a table of trials', () => {
    const book = bookOf(
      { A1: 2, B1: ['A1*2', 4], C1: 4, C2: ['SUM(C1)', 4] },
      { arrays: [{ row: 1, column: 3, area: area('C1', 'C1'), kind: 'what-if' }] },
    );
    expect(book.counts).toEqual({ formulas: 3, notComputed: 1 });
  });
});

describe('formulas that fill several cells', () => {
  const spilling = (ref: string, from: string, to: string): ArrayFormula => ({
    ...parseCell(ref)!,
    area: area(from, to),
    kind: 'spilling',
  });

  test('a fixed area', () => {
    const book = bookOf(
      { A1: 1, A2: 2, B1: ['A1:A2*10', 10], B2: 20, C1: ['SUM(B1:B2)', 30] },
      { arrays: [{ ...parseCell('B1')!, area: area('B1', 'B2'), kind: 'fixed' }] },
    );
    expect(changeOf(book, 'A2', 5).changed).toEqual({ B2: [20, 50], C1: [30, 60] });
  });

  test('as many as there are values', () => {
    const book = bookOf(
      {
        A1: 3,
        A2: 8,
        A3: 1,
        B1: ['FILTER(A1:A3,A1:A3>2)', 3],
        B2: 8,
        C1: ['SUM(B:B)', 11],
        C2: ['COUNT(B1#)', 2],
        C3: ['B3', 0],
      },
      { arrays: [spilling('B1', 'B1', 'B2')] },
    );
    expect(book.counts.notComputed).toBe(0);
    expect(changeOf(book, 'A3', 5).changed).toEqual({
      B3: [null, 5],
      C1: [11, 16],
      C2: [2, 3],
      C3: [0, 5],
    });
    expect(changeOf(book, 'A1', 0).changed).toEqual({
      B1: [3, 8],
      B2: [8, 5],
      B3: [5, null],
      C1: [16, 13],
      C2: [3, 2],
      C3: [5, 0],
    });
  });

  test('are in the way of something', () => {
    const book = bookOf(
      { A1: 2, B1: ['SEQUENCE(A1)', 1], B2: 2, B3: 'taken' },
      { arrays: [spilling('B1', 'B1', 'B2')] },
    );
    expect(changeOf(book, 'A1', 3).changed).toEqual({ B1: [1, '#SPILL!'], B2: [2, null] });
    expect(changeOf(book, 'B3', null).changed).toEqual({});
    expect(changeOf(book, 'A1', 2).changed).toEqual({ B1: ['#SPILL!', 1], B2: [null, 2] });
  });
});

describe('where formulas stand', () => {
  test('a range where one value is wanted gives the one beside', () => {
    const book = bookOf({
      A1: 1,
      A2: 2,
      B2: ['A1:A2*10', 20],
      B5: ['A1:A2*10', new FormulaError('#VALUE!')],
    });
    expect(book.counts.notComputed).toBe(0);
  });

  test('this row of a table', () => {
    const table: TableObject = {
      name: 'Plots',
      sheet: 'Counts',
      area: area('A1', 'C4'),
      headerRows: 1,
      totalsRows: 1,
      columns: ['Planted', 'Surviving', 'Share'],
    };
    const book = bookOf(
      {
        A1: 'Planted',
        B1: 'Surviving',
        C1: 'Share',
        A2: 10,
        B2: 5,
        C2: ['Plots[@Surviving]/[@Planted]', 0.5],
        A3: 20,
        B3: 5,
        C3: ['Plots[[#This Row],[Surviving]]/Plots[[#This Row],[Planted]]', 0.25],
        A4: ['SUBTOTAL(109,[Planted])', 30],
        E1: ['Plots[[#Totals],[Planted]]', 30],
        E2: ['COLUMNS(Plots[[Planted]:[Share]])', 3],
        E3: ['ROWS(Plots[#All])', 4],
      },
      { tables: [table] },
    );
    expect(book.counts).toEqual({ formulas: 6, notComputed: 0 });
    expect(changeOf(book, 'B3', 10).changed).toEqual({ C3: [0.25, 0.5] });
  });

  test('a name that moves with the cell', () => {
    const names = [{ name: 'Below', refersTo: 'Counts!A2', sheet: null, hidden: false }];
    const book = bookOf({ B1: ['Below*2', 14], B2: 7 }, { names });
    expect(changeOf(book, 'B2', 5).changed).toEqual({ B1: [14, 10] });
  });

  test('a subtotal leaves out other subtotals, and hidden rows where it is asked to', () => {
    const cells = cellsOf({
      A1: 1,
      A2: 2,
      A3: ['SUBTOTAL(9,A1:A2)', 3],
      A4: 4,
      A5: ['SUBTOTAL(9,A1:A4)', 7],
      A6: ['SUBTOTAL(109,A1:A4)', 5],
    });
    const book = CalcBook.load({
      sheets: [{ name: 'Counts', cells, hidden: [{ from: 2, to: 2, hidden: true }] }],
      now: 0,
    });
    expect(book.counts.notComputed).toBe(0);
  });

  test('a file that says no results has them computed', () => {
    const book = bookOf({ C1: ['B1+1'], B1: ['A1*2'], A1: 4, D1: ['A9'] });
    expect([book.get('Counts', 1, 2), book.get('Counts', 1, 3), book.get('Counts', 1, 4)]).toEqual([
      8, 9, 0,
    ]);
    expect(book.check().map(({ status }) => status)).toEqual(['differs', 'differs', 'differs']);
  });

  test('names that hold within a formula only', () => {
    expect(
      bookOf({ A1: 3, B1: ['_xlfn.LET(_xlpm.x,A1,_xlpm.y,_xlpm.x*2,_xlpm.y+_xlpm.x)', 9] }).counts
        .notComputed,
    ).toBe(0);
  });
});

// Whatever changes in whatever order, a book is as if it had been computed anew.
test('computing what changed and computing all come to the same', () => {
  const rows = 8;
  const reference = fc.record({
    row: fc.integer({ min: 1, max: rows }),
    column: fc.integer({ min: 1, max: 3 }),
  });
  const formula = fc.oneof(
    fc.tuple(reference, reference).map(([a, b]) => `${formatCell(a)}+${formatCell(b)}`),
    fc.tuple(reference, reference).map(([a, b]) => {
      const box = {
        top: Math.min(a.row, b.row),
        left: Math.min(a.column, b.column),
        bottom: Math.max(a.row, b.row),
        right: Math.max(a.column, b.column),
      };
      return `SUM(${formatCell({ row: box.top, column: box.left })}:${formatCell({ row: box.bottom, column: box.right })})`;
    }),
    reference.map((a) => `IF(${formatCell(a)}>5,${formatCell(a)},1)`),
  );
  fc.assert(
    fc.property(
      fc.array(fc.tuple(reference, formula), { maxLength: 12 }),
      fc.array(fc.tuple(reference, fc.integer({ min: 0, max: 9 })), { minLength: 1, maxLength: 6 }),
      (formulas, changes) => {
        // Formulas stand to the right of what they look at, so that none goes round in a circle.
        const load = (values: Map<string, number>) => {
          const cells: CalcCell[] = [...values].map(([ref, value]) => ({
            ...parseCell(ref)!,
            value,
          }));
          for (const [at, [place, text]] of formulas.entries()) {
            cells.push({ row: place.row, column: 10 + at, value: undefined, formula: text });
            cells.push({
              row: place.row,
              column: 40 + at,
              value: undefined,
              formula: `SUM(${formatCell({ row: 1, column: 10 })}:${formatCell({ row: rows, column: 10 + at })})`,
            });
          }
          return CalcBook.load({ sheets: [{ name: 'Counts', cells }], now: 0 });
        };
        const values = new Map<string, number>();
        for (let row = 1; row <= rows; row++)
          for (let column = 1; column <= 3; column++)
            values.set(formatCell({ row, column }), row * column);
        const book = load(values);
        for (const [place, value] of changes) {
          book.change([{ sheet: 'Counts', ...place, value }]);
          values.set(formatCell(place), value);
        }
        const anew = load(values);
        for (const [at, [place]] of formulas.entries()) {
          for (const column of [10 + at, 40 + at]) {
            expect(book.get('Counts', place.row, column)).toEqual(
              anew.get('Counts', place.row, column),
            );
          }
        }
      },
    ),
  );
});

describe('a formula that is put in', () => {
  const place = (ref: string) => ({ sheet: 'Counts', ...parseCell(ref)! });
  const put = (ref: string, formula: string) => ({ ...place(ref), value: null, formula });
  const shown = ({ changed }: ReturnType<CalcBook['change']>) =>
    Object.fromEntries(
      changed.map(({ row, column, after }) => [formatCell({ row, column }), show(after)]),
    );
  const book = () => bookOf({ A1: 2, A2: 3, A3: ['A1+A2', 5], B1: ['A3*10', 50] });

  test('is computed with what rests on it, and follows from then on', () => {
    const made = book();
    expect(shown(made.change([put('A2', 'A1*4'), put('C1', 'B1+1')]))).toEqual({
      A2: 8,
      A3: 10,
      B1: 100,
      C1: 101,
    });
    expect(shown(made.change([{ ...place('A1'), value: 1 }]))).toEqual({
      A2: 4,
      A3: 5,
      B1: 50,
      C1: 51,
    });
  });

  test('tried out leaves everything as it was, whatever it took the place of', () => {
    const made = book();
    const tried = made.tryOut([put('A3', 'A1*A2'), put('B2', 'SUM(A1:A3)')]);
    expect(shown(tried)).toEqual({ A3: 6, B1: 60, B2: 11 });
    expect(made.formulaOf(place('A3'))).toBe('A1+A2');
    expect(made.formulaOf(place('B2'))).toBeNull();
    expect(made.get('Counts', 3, 1)).toBe(5);
    expect(made.get('Counts', 2, 2)).toBeNull();
    expect(shown(made.change([{ ...place('A1'), value: 4 }]))).toEqual({ A3: 7, B1: 70 });
    expect(made.counts).toEqual({ formulas: 2, notComputed: 0 });
  });

  test('that rests on itself, or that nobody knows, is not final', () => {
    const made = book();
    const round = made.tryOut([put('A1', 'B1+1')]);
    expect(round.notFinal.map(({ row, column }) => formatCell({ row, column })).sort()).toEqual([
      'A1',
      'A3',
      'B1',
    ]);
    // Of that nothing is left behind.
    expect(shown(made.tryOut([{ ...place('A1'), value: 5 }]))).toEqual({ A3: 8, B1: 80 });
    const strange = made.tryOut([put('C1', 'NOSUCH(A1)')]);
    expect(strange.notFinal).toMatchObject([
      { row: 1, column: 3, why: expect.stringContaining('NOSUCH') },
    ]);
  });
});

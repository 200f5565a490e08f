import { describe, expect, it } from '@jest/globals';
import { snapshotOf } from '../sheet/snapshot.fixture.ts';
import { dressSnapshot, shownLook, TABLE_STYLES, type TableLook, USUAL_LOOK } from './look.ts';
import type { Override } from './overrides.ts';

const source = snapshotOf([
  ['Plot', 'Cover', 'Planted', 'Counted'],
  ['SC-01', { number: 0.4567, format: '0%' }, { number: 120, format: '0' }, { date: '2026-10-05' }],
  ['SC-02', { number: 0.5, format: '0%' }, { number: 80, format: '0.00' }, { date: '2026-10-06' }],
  ['All', null, { sum: 200 }, null],
]);
const all: TableLook = { letters: 'document', fills: 'document', formats: 'document' };
const dressed = (look: TableLook, document = USUAL_LOOK, snapshot = source) =>
  dressSnapshot(snapshot, { look, document, overrides: [] });
const cellAt = (snapshot: ReturnType<typeof dressed>, row: number, column: number) =>
  snapshot.cells.find((cell) => cell.row === row && cell.column === column)!;
const dressAt = (snapshot: ReturnType<typeof dressed>, row: number, column: number) =>
  snapshot.dresses[cellAt(snapshot, row, column).dress!]!;

describe('the look of a table', () => {
  it('is the source’s own, untouched, when everything follows the source', () => {
    expect(dressed({})).toBe(source);
    expect(dressed({ letters: 'source', widths: 'document' })).toBe(source);
  });

  it('keeps every value, however it is dressed', () => {
    for (const tableStyle of TABLE_STYLES) {
      const result = dressed(all, { ...USUAL_LOOK, tableStyle });
      const filled = result.cells.filter(({ type }) => type !== 'blank');
      expect(filled.map(({ value }) => value)).toEqual(source.cells.map(({ value }) => value));
    }
  });

  it('draws lines of the document under empty cells too', () => {
    const result = dressed({ fills: 'document' });
    expect(cellAt(result, 4, 2)).toMatchObject({ type: 'blank' });
    expect(dressAt(result, 4, 2).top).toEqual({ style: 'thin', colour: '#10242B' });
  });

  it('gives shares and amounts the decimals of the document, and whole numbers none', () => {
    const result = dressed({ formats: 'document' }, { ...USUAL_LOOK, decimals: 2 });
    expect(cellAt(result, 2, 2).text).toBe('45.67%');
    expect(cellAt(result, 2, 3).text).toBe('120');
    expect(cellAt(result, 4, 3).text).toBe('200');
  });

  it('shows dates as the document does', () => {
    expect(cellAt(dressed({ formats: 'document' }), 2, 4).text).toBe('5 Oct 2026');
  });

  it('leaves number formats that say more than a number', () => {
    const money = snapshotOf([
      ['Work package', 'Granted'],
      ['Fencing', { number: 1200, format: '"£"#,##0' }],
    ]);
    expect(cellAt(dressed({ formats: 'document' }, USUAL_LOOK, money), 2, 2)).toEqual(
      cellAt(money, 2, 2),
    );
  });

  it('makes white letters dark where their dark fill goes', () => {
    const dark = {
      ...source,
      dresses: [{ letters: { family: 'Calibri', size: 11, colour: '#FFFFFF' }, fill: '#0B4F5C' }],
    };
    const result = dressed({ fills: 'document' }, USUAL_LOOK, dark);
    expect(dressAt(result, 2, 1)).toMatchObject({ letters: { colour: '#10242B' } });
    expect(dressAt(result, 2, 1).fill).toBeUndefined();
  });

  it('keeps the weight of the source’s letters, which says which row is a total', () => {
    const bold = { ...source, dresses: [{ letters: { family: 'Calibri', size: 11, bold: true } }] };
    expect(dressAt(dressed({ letters: 'document' }, USUAL_LOOK, bold), 4, 1).letters).toMatchObject(
      {
        family: 'Source Serif 4',
        bold: true,
      },
    );
  });

  it('does not take a column of row sums for rows of totals', () => {
    const rows = snapshotOf([
      ['Plot', 'Spring', 'Autumn', 'Both'],
      ['SC-01', 1, 2, { sum: 3 }],
      ['SC-02', 3, 4, { sum: 7 }],
    ]);
    const result = dressed({ fills: 'document' }, USUAL_LOOK, rows);
    expect(dressAt(result, 2, 1).top).toBeUndefined();
  });
});

describe('how a part is shown', () => {
  const [plot, planted] = [
    { text: 'Plot', nth: 0, before: null, after: 'Cover' },
    { text: 'Planted', nth: 0, before: 'Cover', after: 'Counted' },
  ];
  const shown = (
    overrides: Override[],
    row: number | null,
    column: number | null,
    look: TableLook = {},
  ) => shownLook(dressSnapshot(source, { look, document: USUAL_LOOK, overrides }), row, column);

  it('is aligned by type where nothing is set: texts left, figures and dates right', () => {
    expect(shown([], 1, 0).align).toBe('left');
    expect(shown([], 1, 2).align).toBe('right');
    expect(shown([], 1, 3).align).toBe('right');
  });

  it('follows what is set for the column, and what the report makes of a header', () => {
    const bold = { row: null, column: planted, look: { bold: true, align: 'center' as const } };
    expect(shown([bold], 1, 2)).toEqual({ bold: true, italic: false, align: 'center' });
    expect(shown([bold], null, 2)).toEqual({ bold: true, italic: false, align: 'center' });
    // One cell that differs is enough: the next press sets all of them.
    expect(shown([bold], 1, null)).toEqual({ bold: false, italic: false, align: null });
    expect(shown([bold], 1, 0).bold).toBe(false);
    expect(shown([], 0, 0, all).bold).toBe(true);
  });

  it('of an empty cell says how the empty cell is dressed, and of nothing what is usual', () => {
    const slanted = { row: null, column: plot, look: { italic: true } };
    expect(shown([slanted], 3, 0).italic).toBe(true);
    expect(shown([], 40, 40)).toEqual({ bold: false, italic: false, align: null });
  });
});

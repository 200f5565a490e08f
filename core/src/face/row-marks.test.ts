import { describe, expect, it } from '@jest/globals';
import { snapshotOf } from '../sheet/snapshot.fixture.ts';
import { type MarkWish, marksOnOnePlace, rowMarks, suggestMarks } from './row-marks.ts';

const PLAN = { width: 24_000, height: 4_000 };
const AXIS = [
  { x: 1_000, y: 2_000 },
  { x: 23_000, y: 2_000 },
];
const piles = (rows: Parameters<typeof snapshotOf>[0] = []) =>
  snapshotOf([
    ['Boardwalk piles', null, null, null],
    ['Pile', 'Section (mm)', 'Chainage (m)', 'Length (m)'],
    ['P-01', '150 x 150', 0, 4.2],
    ['P-02', '150 x 150', 2.4, 4.2],
    ['P-03', '175 x 175', 4.8, 5.4],
    ...rows,
    ['Together', null, null, { sum: 13.8 }],
  ]);
const wish: MarkWish = {
  key: 'Pile',
  labels: ['Pile', 'Length (m)'],
  from: { kind: 'along', line: AXIS, chainage: 'Chainage (m)', offset: null, unit: 1_000 },
  places: {},
};

describe('rows as marks', () => {
  it('are set out along a line by their chainage, without header and totals', () => {
    const { marks, notes } = rowMarks(piles(), wish, PLAN);
    expect(marks.map(({ key, place, label }) => [key, place, label])).toEqual([
      ['P-01', { x: 1_000, y: 2_000 }, ['P-01', '4.2']],
      ['P-02', { x: 3_400, y: 2_000 }, ['P-02', '4.2']],
      ['P-03', { x: 5_800, y: 2_000 }, ['P-03', '5.4']],
    ]);
    expect(notes).toEqual([]);
    // The row is that of the table, so that a click finds it.
    expect(marks[0]!.row).toBe(2);
  });

  it('by two columns of coordinates', () => {
    const table = snapshotOf([
      ['Plot', 'x (mm)', 'y (mm)', 'Planted'],
      ['SC-01', 500, 700, 12],
      ['SC-02', 900, 100, 14],
    ]);
    const by: MarkWish = {
      ...wish,
      key: 'Plot',
      labels: [],
      from: { kind: 'coordinates', x: 'x (mm)', y: 'y (mm)', unit: 1 },
    };
    expect(rowMarks(table, by, PLAN).marks.map(({ place }) => place)).toEqual([
      { x: 500, y: 700 },
      { x: 900, y: 100 },
    ]);
  });

  it('by hand, the row found by its name wherever it went', () => {
    const by: MarkWish = {
      ...wish,
      from: { kind: 'hand' },
      places: { 'P-02': { x: 70, y: 80 }, 'P-99': { x: 1, y: 1 } },
    };
    const { marks, notes } = rowMarks(piles([['P-04', '175 x 175', 7.2, 5.4]]), by, PLAN);
    expect(marks.find(({ key }) => key === 'P-02')).toMatchObject({
      place: { x: 70, y: 80 },
      isByHand: true,
    });
    expect(notes).toEqual([
      { kind: 'unplaced', key: 'P-01' },
      { kind: 'unplaced', key: 'P-03' },
      { kind: 'unplaced', key: 'P-04' },
      { kind: 'gone', key: 'P-99' },
    ]);
  });

  it('a place by hand counts before one by columns', () => {
    const { marks } = rowMarks(piles(), { ...wish, places: { 'P-01': { x: 5, y: 6 } } }, PLAN);
    expect(marks[0]!.place).toEqual({ x: 5, y: 6 });
    expect(marks[1]!.place).toEqual({ x: 3_400, y: 2_000 });
  });

  it('tell of what cannot be set out: texts, far places, doubles, rows without a name', () => {
    const { marks, notes } = rowMarks(
      piles([
        ['P-04', null, 'at the sluice', 4],
        ['P-05', null, 99, 4],
        ['P-01', null, 12, 4],
        [null, '150 x 150', 14, 4],
        ['P-06', null, null, 4],
      ]),
      wish,
      PLAN,
    );
    expect(notes).toEqual([
      { kind: 'no number', key: 'P-04', column: 'Chainage (m)', text: 'at the sluice' },
      { kind: 'outside', key: 'P-05' },
      { kind: 'no name', row: 9 },
      { kind: 'no number', key: 'P-06', column: 'Chainage (m)', text: '' },
      { kind: 'double', key: 'P-01', count: 2 },
    ]);
    expect(marks).toHaveLength(7);
    expect(marks.find(({ key }) => key === 'P-04')!.place).toBeNull();
  });

  it('tell of a column that is gone, once', () => {
    const renamed = snapshotOf([
      ['Pile', 'Station (m)', 'Length (m)'],
      ['P-01', 0, 4.2],
      ['P-02', 2.4, 4.2],
    ]);
    const { marks, notes } = rowMarks(renamed, { ...wish, labels: ['Chainage (m)', 'Pile'] }, PLAN);
    expect(notes).toEqual([{ kind: 'column missing', column: 'Chainage (m)' }]);
    expect(marks.map(({ place }) => place)).toEqual([null, null]);
    const nameless = rowMarks(
      renamed,
      { ...wish, key: 'Bent', places: { 'P-01': { x: 1, y: 1 } } },
      PLAN,
    );
    expect(nameless.notes.filter(({ kind }) => kind !== 'column missing')).toEqual([]);
  });

  it('500 on one place are found as one group', () => {
    const table = snapshotOf([
      ['Plot', 'x', 'y'],
      ...Array.from({ length: 500 }, (_, at): [string, number, number] => [`N-${at}`, 1, 1]),
      ['Far', 9, 9],
    ]);
    const by: MarkWish = {
      key: 'Plot',
      labels: [],
      from: { kind: 'coordinates', x: 'x', y: 'y', unit: 1_000 },
      places: {},
    };
    const { marks } = rowMarks(table, by, { width: 1e5, height: 1e5 });
    expect(marksOnOnePlace(marks, 100).map((group) => group.length)).toEqual([500]);
  });

  it('hidden rows have no mark', () => {
    const table = snapshotOf(
      [
        ['Pile', 'Chainage (m)'],
        ['P-01', 0],
        ['P-02', 2.4],
        ['P-03', 4.8],
      ],
      { rows: [3] },
    );
    expect(rowMarks(table, { ...wish, labels: [] }, PLAN).marks.map(({ key }) => key)).toEqual([
      'P-01',
      'P-03',
    ]);
  });
});

it('columns of names, chainages and units are suggested from the header', () => {
  expect(suggestMarks(piles())).toEqual({
    key: 'Pile',
    labels: ['Pile'],
    chainage: 'Chainage (m)',
    x: null,
    y: null,
    unit: 1_000,
  });
  const plots = snapshotOf([
    ['Plot', 'x (mm)', 'y (mm)'],
    ['SC-01', 1, 2],
  ]);
  expect(suggestMarks(plots)).toMatchObject({ key: 'Plot', x: 'x (mm)', y: 'y (mm)', unit: 1 });
});

describe('the colours and sizes of marks', () => {
  it('are coloured by what a column says, a colour for each text in the order in which they come', () => {
    const { marks, colours } = rowMarks(
      piles(),
      { ...wish, colours: { kind: 'texts', column: 'Section (mm)' } },
      PLAN,
    );
    expect(colours.map(({ text }) => text)).toEqual(['150 x 150', '175 x 175']);
    const [slim, stout] = colours.map(({ colour }) => colour);
    expect(slim).not.toBe(stout);
    expect(marks.map(({ colour }) => colour)).toEqual([slim, slim, stout]);
  });

  it('are coloured as their cells are in the source: by their ground, else by their letters', () => {
    const table = piles();
    const letters = { family: 'Carlito', size: 11 };
    table.dresses = [
      { letters },
      { letters, fill: '#D3EBDF' },
      { letters: { ...letters, colour: '#B3261E' }, fill: '#FFFFFF' },
    ];
    const of = (row: number) => table.cells.find((cell) => cell.row === row && cell.column === 4)!;
    of(3).dress = 1;
    of(4).dress = 2;
    const { marks, colours } = rowMarks(
      table,
      { ...wish, colours: { kind: 'source', column: 'Length (m)' } },
      PLAN,
    );
    expect(marks.map(({ colour }) => colour)).toEqual(['#D3EBDF', '#B3261E', null]);
    // What the source's colours mean is the source's to say.
    expect(colours).toEqual([]);
  });

  it('have areas that go with a column of numbers, and say where that has none', () => {
    const { marks, notes } = rowMarks(
      snapshotOf([
        ['Plot', 'x', 'y', 'Planted'],
        ['SC-01', 1, 1, 400],
        ['SC-02', 2, 1, 100],
        ['SC-03', 3, 1, 0],
        ['SC-04', 4, 1, 'none'],
        ['SC-05', 5, 1, -4],
      ]),
      {
        ...wish,
        ...{ key: 'Plot', labels: [], sizes: 'Planted' },
        from: { kind: 'coordinates', x: 'x', y: 'y', unit: 1 },
      },
      PLAN,
    );
    // Four times the amount has four times the area, so twice the width.
    expect(marks.map(({ share }) => share)).toEqual([1, 0.5, 0.2, 1, 1]);
    expect(notes).toEqual([
      { kind: 'no size', key: 'SC-04', column: 'Planted', text: 'none' },
      { kind: 'no size', key: 'SC-05', column: 'Planted', text: '-4' },
    ]);
  });

  it('say which column is gone that their colours or sizes follow', () => {
    const { marks, notes } = rowMarks(
      piles(),
      { ...wish, colours: { kind: 'texts', column: 'Timber' }, sizes: 'Weight' },
      PLAN,
    );
    expect(notes).toEqual([
      { kind: 'column missing', column: 'Timber' },
      { kind: 'column missing', column: 'Weight' },
    ]);
    expect(marks.every(({ colour, share }) => colour === null && share === 1)).toBe(true);
  });
});

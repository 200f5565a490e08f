import { describe, expect, it } from '@jest/globals';
import { headerOf, headersOf } from './header.ts';
import type { Snapshot } from './sheet.ts';
import { type FixtureValue, snapshotOf } from './snapshot.fixture.ts';

const header = (rows: FixtureValue[][], extra: Partial<Snapshot> = {}) => {
  const snapshot = { ...snapshotOf(rows), ...extra };
  return { ...headerOf(snapshot), texts: headersOf(snapshot) };
};

describe('the header of a table', () => {
  it.each<[string, FixtureValue[][], { title: number; rows: number; texts: string[] }]>([
    [
      'one row',
      [
        ['Plot', 'Planted'],
        ['SC-01', 150],
      ],
      { title: 0, rows: 1, texts: ['Plot', 'Planted'] },
    ],
    [
      'a title and an empty row above it',
      [
        ['Plots in autumn', null],
        [null, null],
        ['Plot', 'Planted'],
        ['SC-01', 150],
      ],
      { title: 2, rows: 1, texts: ['Plot', 'Planted'] },
    ],
    [
      'units under it',
      [
        ['Pile', 'Length'],
        [null, 'm'],
        ['P-01', 4.5],
      ],
      { title: 0, rows: 2, texts: ['Pile', 'Length, m'] },
    ],
    [
      'a row of words in every column under it',
      [
        ['Pile', 'Length', 'Depth'],
        ['no.', 'm', 'm'],
        ['P-01', 4.5, 2],
        ['P-02', 4, 2],
      ],
      { title: 0, rows: 2, texts: ['Pile, no.', 'Length, m', 'Depth, m'] },
    ],
    [
      'none over figures',
      [
        ['SC-01', 150],
        ['SC-02', 90],
      ],
      { title: 0, rows: 0, texts: ['', ''] },
    ],
    [
      'a first row without figures is one of the data',
      [
        ['Plot', 'Planted'],
        ['SC-01', 'n/a'],
        ['SC-02', 90],
        ['SC-03', 20],
      ],
      { title: 0, rows: 1, texts: ['Plot', 'Planted'] },
    ],
    [
      'texts alone have one row of it',
      [
        ['Plot', 'Species'],
        ['SC-01', 'Sea aster'],
        ['SC-02', 'Glasswort'],
      ],
      { title: 0, rows: 1, texts: ['Plot', 'Species'] },
    ],
    ['nothing but a row', [['Plot', 'Planted']], { title: 0, rows: 0, texts: ['', ''] }],
  ])('%s', (_, rows, expected) => {
    expect(header(rows)).toEqual(expected);
  });

  it('has the rows that its merged cells reach, and their texts for each of their columns', () => {
    const rows: FixtureValue[][] = [
      ['Plot', 'Planted', null],
      [null, 'Spring', 'Autumn'],
      ['SC-01', 150, 90],
    ];
    const merges = [
      { top: 1, left: 1, bottom: 2, right: 1 },
      { top: 1, left: 2, bottom: 1, right: 3 },
    ];
    expect(header(rows, { merges })).toEqual({
      title: 0,
      rows: 2,
      texts: ['Plot', 'Planted, Spring', 'Planted, Autumn'],
    });
  });

  it('is what a person said it is', () => {
    const rows: FixtureValue[][] = [
      ['SC-01', 150],
      ['SC-02', 90],
    ];
    expect(header(rows, { header: { title: 0, rows: 1 } }).texts).toEqual(['SC-01', '150']);
    const named: FixtureValue[][] = [
      ['Plot', 'Species'],
      ['SC-01', 'Sea aster'],
    ];
    expect(header(named, { header: { title: 0, rows: 0 } }).texts).toEqual(['', '']);
    // At least one row is left below it.
    expect(header(named, { header: { title: 1, rows: 9 } })).toMatchObject({ title: 1, rows: 0 });
  });
});

import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { readPastedText } from '../find/pasted-text.ts';
import { snapshotOf } from '../sheet/snapshot.fixture.ts';
import { copiedTable, shownTexts, tabbed } from './copied.ts';

const counts = snapshotOf(
  [
    ['Plots in autumn', null, null],
    ['Plot', 'Species', 'Planted'],
    ['SC-01', 'Sea aster', 150],
    ['SC-02', 'Glasswort', 90],
  ],
  { columns: [2] },
);

describe('a table on its way to another program', () => {
  it('leaves hidden columns out and says which rows are heads', () => {
    const rows = copiedTable(counts, 2);
    expect(rows.map((row) => row.map(({ text }) => text))).toEqual([
      ['Plots in autumn', ''],
      ['Plot', 'Planted'],
      ['SC-01', '150'],
      ['SC-02', '90'],
    ]);
    expect(rows.map(([first]) => first!.isHead)).toEqual([true, true, false, false]);
    expect(rows[2]!.map(({ align }) => align)).toEqual(['left', 'right']);
  });

  it('gives merged cells as spans of what is shown of them', () => {
    const merged = { ...counts, merges: [{ top: 1, left: 1, bottom: 1, right: 3 }] };
    expect(copiedTable(merged, 1)[0]).toMatchObject([
      { text: 'Plots in autumn', rows: 1, columns: 2 },
    ]);
  });

  it('keeps the words of merged cells whose first row is hidden', () => {
    const merged = {
      ...counts,
      rows: [{ index: 1, hidden: true as const }],
      merges: [{ top: 1, left: 1, bottom: 2, right: 1 }],
    };
    expect(copiedTable(merged, 0)[0]).toMatchObject([
      { text: 'Plots in autumn', rows: 1 },
      { text: 'Planted' },
    ]);
  });

  it('has the same shown texts cell by cell', () => {
    expect(shownTexts(counts)[2]).toEqual(['SC-01', '150']);
  });

  it('comes back out of plain text as it was', () => {
    const texts = fc.array(
      fc.array(fc.stringMatching(/^[a-z"\t\n ,]{0,6}$/), { minLength: 2, maxLength: 4 }),
      { minLength: 2, maxLength: 5 },
    );
    fc.assert(
      fc.property(texts, (rows) => {
        const width = Math.max(...rows.map((row) => row.length));
        const even = rows.map((row) => [...row, ...new Array(width - row.length).fill('')]);
        // An empty last line cannot be told from the end of the text.
        fc.pre(even.at(-1)!.some((text) => text !== ''));
        expect(readPastedText(tabbed(even))).toEqual(even);
      }),
      { seed: 5 },
    );
  });
});

import { describe, expect, it } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import { gridOf } from '../sheet/sheet.ts';
import { snapshotOf } from '../sheet/snapshot.fixture.ts';
import { dressSnapshot, USUAL_LOOK } from './look.ts';
import {
  columnKeys,
  findBand,
  type Override,
  placeOverrides,
  rowKeys,
  setOverride,
} from './overrides.ts';

const before = snapshotOf([
  ['Plot', 'Species', 'Planted', 'Surviving'],
  ['SC-01', 'Glasswort', 120, 96],
  ['SC-02', 'Cordgrass', 80, 71],
  ['SC-03', 'Glasswort', 95, 60],
]);
const rowKey = (at: number) => rowKeys(gridOf(before))[at]!;
const columnKey = (at: number) => columnKeys(before)[at]!;

describe('what identifies a row or column', () => {
  it('is its texts up to the first number, and the header of a column', () => {
    expect(rowKey(2).text).toBe('SC-02 · Cordgrass');
    expect(columnKey(3).text).toBe('Surviving');
  });

  it('finds a row again after rows were inserted above it and figures changed', () => {
    const after = snapshotOf([
      ['Plot', 'Species', 'Planted', 'Surviving'],
      ['SC-00', 'Sea lavender', 10, 9],
      ['SC-01', 'Glasswort', 125, 101],
      ['SC-02', 'Cordgrass', 82, 70],
    ]);
    expect(findBand(rowKeys(gridOf(after)), rowKey(2))).toBe(3);
  });

  it('finds a column again where it moved', () => {
    const after = snapshotOf([
      ['Surviving', 'Plot', 'Planted'],
      [96, 'SC-01', 120],
    ]);
    expect(findBand(columnKeys(after), columnKey(3))).toBe(0);
  });

  it('stays with its column when another one is given the same header', () => {
    const headers = (...texts: string[]) => columnKeys(snapshotOf([texts, texts.map(() => 1)]));
    const [, , cover] = headers('Plot', 'Planted', 'Cover');
    expect(findBand(headers('Plot', 'Cover', 'Cover'), cover!)).toBe(2);
    const [, first] = headers('Plot', 'Cover', 'Planted', 'Height');
    expect(findBand(headers('Plot', 'Cover', 'Planted', 'Cover'), first!)).toBe(1);
  });

  it('finds a row whose own text changed between the same neighbours', () => {
    const after = snapshotOf([
      ['Plot', 'Species', 'Planted', 'Surviving'],
      ['SC-01', 'Glasswort', 120, 96],
      ['SC-02', 'Common cordgrass', 80, 71],
      ['SC-03', 'Glasswort', 95, 60],
    ]);
    expect(findBand(rowKeys(gridOf(after)), rowKey(2))).toBe(2);
  });

  it('does not take another row for one that is gone', () => {
    const after = snapshotOf([
      ['Plot', 'Species', 'Planted', 'Surviving'],
      ['SC-01', 'Glasswort', 120, 96],
      ['SC-03', 'Glasswort', 95, 60],
    ]);
    expect(findBand(rowKeys(gridOf(after)), rowKey(2))).toBeNull();
  });

  it('tells rows with the same texts apart by their neighbours, then by their order', () => {
    const twins = snapshotOf([
      ['Plot', 'Planted'],
      ['a', 1],
      ['same', 2],
      ['b', 3],
      ['same', 4],
    ]);
    const second = rowKeys(gridOf(twins))[4]!;
    const after = snapshotOf([
      ['Plot', 'Planted'],
      ['same', 9],
      ['a', 1],
      ['same', 2],
      ['b', 3],
      ['same', 4],
    ]);
    expect(findBand(rowKeys(gridOf(after)), second)).toBe(5);
  });

  it('holds for any table: every row and column is found where it is', () => {
    const cell = fc.oneof(fc.integer({ min: 0, max: 9 }), fc.constantFrom('a', 'b', 'c', 'total'));
    fc.assert(
      fc.property(
        fc.array(fc.array(cell, { minLength: 3, maxLength: 3 }), { minLength: 1, maxLength: 12 }),
        (rows) => {
          const snapshot = snapshotOf(rows);
          const [down, across] = [rowKeys(gridOf(snapshot)), columnKeys(snapshot)];
          const texts = (list: typeof down, at: number | null) => at !== null && list[at]!.text;
          for (const key of down) expect(texts(down, findBand(down, key))).toBe(key.text);
          for (const key of across) expect(texts(across, findBand(across, key))).toBe(key.text);
        },
      ),
      { seed: 4, numRuns: runs(300) },
    );
  });

  it('stays with its row through any insertion elsewhere', () => {
    const names = fc.uniqueArray(
      fc.string({ minLength: 1, maxLength: 6 }).filter((text) => text.trim() !== ''),
      {
        minLength: 2,
        maxLength: 10,
        selector: (text) => text.trim(),
      },
    );
    fc.assert(
      fc.property(names, fc.nat(), fc.nat(), (all, taken, put) => {
        const rows = all.slice(1).map((name, at) => [name, at]);
        const wanted = rowKeys(gridOf(snapshotOf(rows)))[taken % rows.length]!;
        const longer = [...rows];
        longer.splice(put % (rows.length + 1), 0, [all[0]!, 99]);
        const keys = rowKeys(gridOf(snapshotOf(longer)));
        expect(keys[findBand(keys, wanted)!]!.text).toBe(wanted.text);
      }),
      { seed: 4, numRuns: runs(300) },
    );
  });
});

describe('overrides', () => {
  const dressed = (overrides: Override[], snapshot = before) =>
    dressSnapshot(snapshot, { look: {}, document: USUAL_LOOK, overrides });
  const at = (snapshot: ReturnType<typeof dressed>, row: number, column: number) =>
    snapshot.cells.find((cell) => cell.row === row && cell.column === column)!;

  it('of a cell win over those of its row, its column and the table', () => {
    const overrides: Override[] = [
      { row: rowKey(1), column: columnKey(2), look: { colour: '#B3261E' } },
      { row: rowKey(1), column: null, look: { colour: '#1F7A5C', bold: true } },
      { row: null, column: columnKey(2), look: { align: 'center' } },
      { row: null, column: null, look: { colour: '#10242B' } },
    ];
    const result = dressed(overrides);
    const dress = result.dresses[at(result, 2, 3).dress!]!;
    expect(dress).toMatchObject({
      horizontal: 'center',
      letters: { colour: '#B3261E', bold: true },
    });
    expect(result.dresses[at(result, 3, 3).dress!]!.letters.colour).toBe('#10242B');
  });

  it('of number formats show the figures under them and leave texts alone', () => {
    const result = dressed([{ row: null, column: columnKey(2), look: { format: '0.00' } }]);
    expect([1, 2, 3].map((row) => at(result, row, 3).text)).toEqual(['Planted', '120.00', '80.00']);
  });

  it('of widths and heights are those of a column in millimetres and a row in millimetres', () => {
    const result = dressed([
      { row: null, column: columnKey(1), look: { width: 25.4 } },
      { row: rowKey(1), column: null, look: { height: 25.4 } },
    ]);
    expect(result.columns).toEqual([
      { index: 2, size: 96 / before.defaults.digitWidth, isSet: true },
    ]);
    expect(result.rows).toEqual([{ index: 2, size: 72, isSet: true }]);
  });

  it('hide a column, which keeps its place for what follows it', () => {
    const result = dressed([{ row: null, column: columnKey(1), look: { isHidden: true } }]);
    expect(result.columns).toEqual([{ index: 2, hidden: true }]);
    expect(result.area).toEqual(before.area);
  });

  it('wait while their row is not there', () => {
    const gone = { ...rowKey(2), text: 'SC-09', before: 'x', after: 'y' };
    const override: Override = { row: gone, column: null, look: { bold: true } };
    expect(placeOverrides(before, [override])).toEqual({ placed: [], waiting: [override] });
    expect(dressed([override]).dresses).toEqual(before.dresses);
  });

  it('go back one by one, and are gone with the last', () => {
    const one = setOverride([], rowKey(1), null, { bold: true, align: 'left' });
    const two = setOverride(one, rowKey(1), null, { bold: undefined });
    expect(two).toEqual([{ row: rowKey(1), column: null, look: { align: 'left' } }]);
    expect(setOverride(two, rowKey(1), null, { align: undefined })).toEqual([]);
  });
});

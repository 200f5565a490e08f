import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { holds } from './address.ts';
import { cutSnapshot, type Snapshot, snapshotCutter } from './sheet.ts';
import { snapshotOf } from './snapshot.fixture.ts';

const place = fc.integer({ min: 1, max: 12 });
const cells = fc.uniqueArray(fc.record({ row: place, column: place, dress: fc.nat(3) }), {
  selector: ({ row, column }) => `${row} ${column}`,
});
const areas = fc
  .tuple(place, place, fc.nat(6), fc.nat(6))
  .map(([top, left, down, right]) => ({ top, left, bottom: top + down, right: left + right }));
const bands = fc.uniqueArray(fc.record({ index: place, size: fc.nat(90) }), {
  selector: ({ index }) => index,
});

/** Any cells in four dresses, in the order of their rows, with rows and columns of their own sizes. */
const snapshots = fc.tuple(cells, bands, bands).map(([found, rows, columns]): Snapshot => {
  const plain = snapshotOf([]);
  return {
    ...plain,
    area: { top: 1, left: 1, bottom: 12, right: 12 },
    cells: [...found]
      .sort((a, b) => a.row - b.row || a.column - b.column)
      .map((at) => ({ ...at, type: 'text', value: 'x', text: `${at.row} ${at.column}` })),
    rows: [...rows].sort((a, b) => a.index - b.index),
    columns,
    dresses: [9, 10, 11, 12].map((size) => ({ letters: { family: 'Calibri', size } })),
  };
});

test('a part of a snapshot has the cells, sizes and dresses that lie in it', () => {
  fc.assert(
    fc.property(snapshots, areas, (whole, area) => {
      const part = cutSnapshot(whole, area);
      const inside = whole.cells.filter((cell) => holds(area, cell));
      expect(part.cells.map(({ text }) => text)).toEqual(inside.map(({ text }) => text));
      expect(part.cells.map(({ dress }) => part.dresses[dress!])).toEqual(
        inside.map(({ dress }) => whole.dresses[dress!]),
      );
      expect(part.dresses).toHaveLength(new Set(inside.map(({ dress }) => dress)).size);
      const { top, bottom, left, right } = area;
      expect(part.rows).toEqual(whole.rows.filter((e) => e.index >= top && e.index <= bottom));
      expect(part.columns).toEqual(
        whole.columns.filter((e) => e.index >= left && e.index <= right),
      );
    }),
  );
});

test('a part of a part is that part of the whole', () => {
  fc.assert(
    fc.property(snapshots, fc.array(areas, { minLength: 1 }), (whole, wanted) => {
      const cut = snapshotCutter(whole);
      const wide = cut({ top: 2, left: 2, bottom: 20, right: 20 });
      for (const area of wanted.filter(({ top, left }) => top > 1 && left > 1)) {
        expect(cutSnapshot(wide, area)).toEqual(cut(area));
      }
    }),
  );
});

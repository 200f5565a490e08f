import { describe, expect, it } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import { layoutTable, type TableLayout } from '../look/layout.ts';
import { snapshotOf } from '../sheet/snapshot.fixture.ts';
import { brokenPieces, cutsOf, FOLD_GAP, type FoldWish, foldedSize, foldTable } from './fold.ts';
import { paginate } from './pages.ts';

const layout = (widths: number[], rows: number, height = 20): Omit<TableLayout, 'narrowed'> => ({
  fit: 'source',
  widths,
  heights: new Array<number>(rows).fill(height),
  headerRows: 1,
});
const wish = (change: Partial<FoldWish> = {}): FoldWish => ({
  room: 300,
  pageHeight: 400,
  beside: 1,
  nameColumns: 1,
  ...change,
});

describe('folding a table', () => {
  it('leaves a table that fits in one piece', () => {
    expect(foldTable(layout([100, 100, 100], 5), wish())).toEqual([
      { parts: [{ head: [0], from: 1, to: 5, columns: [0, 1, 2] }], height: 100 },
    ]);
  });

  it('lets columns that do not fit go on below, with the names of the rows again', () => {
    const strips = foldTable(layout([80, 100, 100, 100, 100], 5), wish());
    expect(strips.map(({ parts }) => parts[0]!.columns)).toEqual([
      [0, 1, 2],
      [0, 3, 4],
    ]);
  });

  it('does not repeat names that would take most of the room', () => {
    const strips = foldTable(layout([200, 100, 100, 100], 5), wish());
    expect(strips.map(({ parts }) => parts[0]!.columns)).toEqual([
      [0, 1],
      [2, 3],
    ]);
  });

  it('puts rows side by side in parts of like height, the header over each', () => {
    const [strip, ...more] = foldTable(layout([60, 60], 13), wish({ beside: 2 }));
    expect(more).toEqual([]);
    expect(strip!.parts.map(({ head, from, to }) => [head, from, to])).toEqual([
      [[0], 1, 7],
      [[0], 7, 13],
    ]);
    expect(strip!.height).toBe(20 + 6 * 20);
  });

  it('puts no more parts side by side than fit the room', () => {
    const [strip] = foldTable(layout([100, 40], 13), wish({ beside: 4 }));
    expect(strip!.parts).toHaveLength(Math.floor((300 + FOLD_GAP.x) / (140 + FOLD_GAP.x)));
  });

  it('reckons without the parts that stand elsewhere', () => {
    const [strip] = foldTable(layout([100, 100], 13), wish({ beside: 3, apart: 2 }));
    expect(strip!.parts.map(({ from, to }) => [from, to])).toEqual([
      [1, 5],
      [5, 9],
      [9, 13],
    ]);
    // A table that is too wide for its room still has its first part.
    expect(foldTable(layout([400], 9), wish({ beside: 2, apart: 1 }))[0]!.parts).toHaveLength(2);
  });

  it('goes on in another strip when parts would be higher than a page', () => {
    const strips = foldTable(layout([60, 60], 61), wish({ beside: 2, pageHeight: 220 }));
    expect(strips.map(({ height }) => height <= 220)).toEqual(strips.map(() => true));
    expect(strips.flatMap(({ parts }) => parts.map(({ from, to }) => to - from))).toEqual([
      10, 10, 10, 10, 10, 10,
    ]);
  });

  it('shows every row and column once for any table, apart from what is repeated', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 160 }), { minLength: 1, maxLength: 12 }),
        fc.array(fc.integer({ min: 10, max: 60 }), { minLength: 2, maxLength: 60 }),
        fc.integer({ min: 1, max: 4 }),
        fc.integer({ min: 0, max: 2 }),
        (widths, heights, beside, nameColumns) => {
          const table = { fit: 'source' as const, widths, heights, headerRows: 1 };
          const strips = foldTable(table, wish({ beside, nameColumns }));
          const seen = new Map<string, number>();
          for (const { from, to, columns } of strips.flatMap(({ parts }) => parts)) {
            for (let row = from; row < to; row++) {
              for (const column of columns) {
                const key = `${row},${column}`;
                seen.set(key, (seen.get(key) ?? 0) + 1);
              }
            }
          }
          for (let row = 1; row < heights.length; row++) {
            widths.forEach((width, column) => {
              const times = seen.get(`${row},${column}`) ?? 0;
              if (width === 0) expect(times).toBe(0);
              else if (column >= nameColumns) expect(times).toBe(1);
              else expect(times).toBeGreaterThanOrEqual(1);
            });
          }
        },
      ),
      { seed: 5, numRuns: runs(300) },
    );
  });

  it('is cut between rows only, never leaving one row alone', () => {
    const table = layout([100, 100], 12);
    const strips = foldTable(table, wish());
    const { cuts, places } = cutsOf(table, strips, 50, 18);
    expect(places.map(({ row }) => row)).toEqual([3, 4, 5, 6, 7, 8, 9, 10]);
    expect(cuts[0]).toEqual({ at: 50 + 3 * 20, repeat: 20 + 18 });
    const { breaks } = paginate([{ top: 0, bottom: 50 + 240, keepsWithNext: false, cuts }], 180);
    // 50 above it and 6 rows; then a line, the header and the other 6 rows.
    expect(breaks.map(({ cut }) => places[cut!]!.row)).toEqual([6]);
  });
});

describe('the room of a folded table', () => {
  it('is that of its strips and what lies between them', () => {
    const table = layout([80, 100, 100, 100, 100], 5);
    const strips = foldTable(table, wish());
    expect(strips).toHaveLength(2);
    expect(foldedSize(table, strips)).toEqual({ width: 280, height: 2 * 100 + FOLD_GAP.y });
    const beside = layout([60, 60], 21);
    expect(foldedSize(beside, foldTable(beside, wish({ beside: 2 })))).toEqual({
      width: 2 * 120 + FOLD_GAP.x,
      height: 20 + 10 * 20,
    });
  });

  it('has pieces, where pages break it, that are as high together as the whole', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 4, max: 60 }),
        fc.integer({ min: 1, max: 9 }),
        fc.integer({ min: 120, max: 500 }),
        (rows, columns, page) => {
          const table = layout(new Array<number>(columns).fill(70), rows);
          const strips = foldTable(table, wish({ pageHeight: page }));
          const size = { ...foldedSize(table, strips), ...cutsOf(table, strips, 0, 22) };
          const { breaks } = paginate(
            [{ top: 0, bottom: size.height, keepsWithNext: false, cuts: size.cuts }],
            page,
          );
          const rooms = breaks.map(({ cut, rest }) => ({ place: size.places[cut!]!, gap: rest }));
          const pieces = brokenPieces(size, rooms, 22);
          expect(pieces).toHaveLength(breaks.length + 1);
          expect(pieces.reduce((sum, { height }) => sum + height, 0)).toBe(size.height);
          // Behind the first, what stands on one page fits it with the line above and the header.
          for (const { gap, head, height } of pieces.slice(0, -1)) {
            expect((gap === null ? 0 : 22) + head + height).toBeLessThanOrEqual(page + 0.5);
          }
        },
      ),
    );
  });
});

describe('sizes of a table', () => {
  const long = 'Sea lavender on the silted ground east of the sluice';
  const table = snapshotOf([
    ['Plot', 'Remark', 'Planted'],
    ['SC-01', long, 120],
    ['SC-02', 'none', 80],
  ]);

  it('that fits the page fill its room, the column with more to say getting more', () => {
    const { widths, heights } = layoutTable(table, 'page', 300);
    expect(widths.reduce((sum, each) => sum + each, 0)).toBe(300);
    expect(widths[1]).toBeGreaterThan(widths[0]! + widths[2]!);
    expect(heights[1]).toBeGreaterThan(heights[2]!);
  });

  it('that fits the page never come out wider than their room, whatever fraction of a pixel that has', () => {
    for (const room of [604.72, 300.5, 299.99]) {
      const { widths } = layoutTable(table, 'page', room);
      expect(widths.reduce((sum, each) => sum + each, 0)).toBe(Math.floor(room));
    }
  });

  it('that follows its source keep the heights of the source, and grow where text wraps', () => {
    const { widths, heights } = layoutTable(table, 'source', 300);
    expect(widths).toEqual([63, 63, 63]);
    expect(heights).toEqual([20, 20, 20]);
    const wrapping = {
      ...table,
      dresses: [{ letters: { family: 'Calibri', size: 11 }, wrap: true }],
    };
    expect(layoutTable(wrapping, 'source', 300).heights[1]).toBeGreaterThan(100);
  });

  it('give hidden columns nothing', () => {
    const hidden = { ...table, columns: [{ index: 2, hidden: true as const }] };
    expect(layoutTable(hidden, 'page', 300).widths[1]).toBe(0);
  });
});

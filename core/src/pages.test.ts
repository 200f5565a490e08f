import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { type FlowBlock, type PageBreak, paginate, sheetSize, USUAL_PAPER } from './pages.ts';

/** Blocks one below the other, `gap` apart. */
function flow(
  heights: (number | { height: number; cuts?: number[]; repeat?: number; keeps?: boolean })[],
  gap = 10,
): FlowBlock[] {
  let y = 0;
  return heights.map((each, index) => {
    const {
      height,
      cuts = [],
      repeat = 0,
      keeps = false,
    } = typeof each === 'number' ? { height: each } : each;
    const top = y + (index === 0 ? 0 : gap);
    y = top + height;
    return {
      top,
      bottom: y,
      keepsWithNext: keeps,
      cuts: cuts.map((at) => ({ at: top + at, repeat })),
    };
  });
}

const where = ({ breaks }: { breaks: PageBreak[] }) => breaks.map(({ block, cut }) => [block, cut]);

describe('sheets', () => {
  it('have the sizes of ISO 216 at 96 pixels an inch', () => {
    const { width, height, textWidth } = sheetSize(USUAL_PAPER);
    expect([width.toFixed(2), height.toFixed(2)]).toEqual(['793.70', '1122.52']);
    expect(textWidth).toBeCloseTo((160 / 25.4) * 96);
    expect(sheetSize({ ...USUAL_PAPER, isLandscape: true }).width).toBeCloseTo(height);
  });
});

describe('breaking a flow into pages', () => {
  it('breaks before the first block that does not fit', () => {
    const pages = paginate(flow([40, 40, 40]), 100);
    expect(where(pages)).toEqual([[2, null]]);
    expect(pages).toEqual({ breaks: [{ block: 2, cut: null, rest: 10 }], count: 2 });
  });

  it('drops the room above a block at the head of a page', () => {
    expect(paginate(flow([40, 40, 100], 10), 100).count).toBe(2);
  });

  it('cuts a block at its last cut on the page', () => {
    const pages = paginate(flow([40, { height: 100, cuts: [20, 40, 60, 80] }]), 100);
    expect(pages.breaks).toEqual([{ block: 1, cut: 1, rest: 10 }]);
  });

  it('gives every later page the room of the repeated header', () => {
    const cuts = Array.from({ length: 29 }, (_, row) => (row + 1) * 10);
    const pages = paginate(flow([{ height: 300, cuts, repeat: 20 }]), 100);
    // 10 rows on the first page, 8 on those with a header: 10 + 8 + 8 + 4.
    expect(pages.breaks.map(({ cut }) => cut! + 1)).toEqual([10, 18, 26]);
    expect(pages.count).toBe(4);
  });

  it('takes headings along with what they head', () => {
    const blocks = flow([50, { height: 10, keeps: true }, { height: 10, keeps: true }, 40], 0);
    expect(where(paginate(blocks, 100))).toEqual([[1, null]]);
  });

  it('does not run in circles over a page full of headings', () => {
    const blocks = flow([{ height: 60, keeps: true }, { height: 60, keeps: true }, 60], 0);
    expect(where(paginate(blocks, 100))).toEqual([
      [1, null],
      [2, null],
    ]);
  });

  it('lets a block that is too high and cannot be cut run over, and begins a page behind it', () => {
    const pages = paginate(flow([20, 250, 20], 0), 100);
    expect(pages.breaks).toEqual([
      { block: 1, cut: null, rest: 80 },
      { block: 2, cut: null, rest: 50 },
    ]);
    expect(pages.count).toBe(5);
  });

  it('ends for any flow, and no page holds more than fits unless it cannot be helped', () => {
    const block = fc.record({
      height: fc.integer({ min: 1, max: 260 }),
      cuts: fc.array(fc.integer({ min: 1, max: 250 }), { maxLength: 12 }),
      repeat: fc.integer({ min: 0, max: 30 }),
      keeps: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(block, { maxLength: 20 }), (specs) => {
        const blocks = flow(
          specs.map((each) => ({
            ...each,
            cuts: [...new Set(each.cuts)].filter((at) => at < each.height).sort((a, b) => a - b),
          })),
        );
        const { breaks, count } = paginate(blocks, 100);
        expect(breaks.length).toBeLessThan(count + 1);
        const order = breaks.map(
          ({ block: index, cut }) => index * 1000 + (cut === null ? 0 : cut + 1),
        );
        expect(order).toEqual([...new Set(order)].sort((a, b) => a - b));
        for (const { rest } of breaks) {
          expect(rest).toBeGreaterThanOrEqual(0);
          expect(rest).toBeLessThan(100);
        }
      }),
      { seed: 11, numRuns: 500 },
    );
  });
});

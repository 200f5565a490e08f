import { describe, expect, it } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import {
  brokenHeight,
  type FlowBlock,
  type PageBreak,
  type Pages,
  paginate,
  paginateRuns,
  roomAt,
  sheetSize,
  USUAL_PAPER,
} from './pages.ts';

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
    expect(pages).toEqual({
      breaks: [{ block: 2, cut: null, rest: 10, pages: 1, height: 100 }],
      count: 2,
      used: 40,
      pages: [
        { run: 0, from: 0, to: 100 },
        { run: 0, from: 100, to: Number.POSITIVE_INFINITY },
      ],
    });
  });

  it('ends a page where somebody wished, also one that is full, and none behind the last block', () => {
    const blocks = flow([40, { height: 0 }, 40, { height: 40, keeps: true }, { height: 0 }, 40, 0]);
    for (const index of [1, 4, 6]) blocks[index]!.endsPage = true;
    const pages = paginate(blocks, 120);
    expect(where(pages)).toEqual([
      [2, null],
      [5, null],
    ]);
    expect(pages.count).toBe(3);
    const full = paginate(
      flow([100, 0, 40], 0).map((each, index) => ({ ...each, endsPage: index === 1 })),
      100,
    );
    expect(where(full)).toEqual([[2, null]]);
  });

  it('drops the room above a block at the head of a page', () => {
    expect(paginate(flow([40, 40, 100], 10), 100).count).toBe(2);
  });

  it('cuts a block at its last cut on the page', () => {
    const pages = paginate(flow([40, { height: 100, cuts: [20, 40, 60, 80] }]), 100);
    expect(pages.breaks).toEqual([{ block: 1, cut: 1, rest: 10, pages: 1, height: 100 }]);
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
      { block: 1, cut: null, rest: 80, pages: 1, height: 100 },
      { block: 2, cut: null, rest: 50, pages: 3, height: 100 },
    ]);
    expect(pages.count).toBe(5);
    // Behind the three pages that it runs over, the next text stands at the head of the fifth sheet.
    expect(piecesOf(flow([20, 250, 20], 0), pages, 30).at(-1)).toMatchObject({ from: 4 * 130 });
    expect(brokenHeight(pages, () => 30)).toBe(4 * 130 + 20);
  });

  const block = fc.record({
    height: fc.integer({ min: 1, max: 260 }),
    cuts: fc.array(fc.integer({ min: 1, max: 250 }), { maxLength: 12 }),
    repeat: fc.integer({ min: 0, max: 30 }),
    keeps: fc.boolean(),
  });
  const flows = fc.array(block, { maxLength: 20 }).map((specs) =>
    flow(
      specs.map((each) => ({
        ...each,
        cuts: [...new Set(each.cuts)].filter((at) => at < each.height).sort((a, b) => a - b),
      })),
    ),
  );

  it('ends for any flow, in the order of the text', () => {
    fc.assert(
      fc.property(flows, (blocks) => {
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
      { seed: 11, numRuns: runs(500) },
    );
  });

  it('puts every piece of any flow within the text of one sheet, the same on the screen and in print', () => {
    fc.assert(
      fc.property(flows, (blocks) => {
        const pages = paginate(blocks, 100);
        // On a screen sheets lie apart; in print only the margins are between two texts.
        const [onScreen, inPrint] = [70, 50].map((between) => {
          const pieces = piecesOf(blocks, pages, between);
          const pitch = 100 + between;
          for (const { from, to, isWhole, repeat } of pieces) {
            const sheet = Math.floor(from / pitch + 1e-9);
            const isInText = to <= sheet * pitch + 100 + 0.5;
            // What is higher than a page, or has no cut where one is needed, begins its page and runs over.
            if (!isInText) expect([isWhole, from - repeat]).toEqual([true, sheet * pitch]);
          }
          expect(pieces.at(-1)?.to ?? 0).toBeCloseTo(brokenHeight(pages, () => between));
          return pieces.map(({ from }) => Math.floor(from / pitch + 1e-9));
        });
        expect(onScreen).toEqual(inPrint);
      }),
      { seed: 12, numRuns: runs(1000) },
    );
  });

  it('settles in one pass: blocks that are measured with their breaks left out break as before', () => {
    fc.assert(
      fc.property(flows, (blocks) => {
        const pages = paginate(blocks, 100);
        // What stands below a break is lower by the rooms of all breaks before it, and by what is repeated there.
        const lower = (index: number, cut: number) =>
          pages.breaks
            .filter(
              ({ block: at, cut: of }) => at < index || (at === index && (of === null || of < cut)),
            )
            .reduce((sum, each) => {
              const above =
                each.cut === null
                  ? blocks[each.block]!.top - (blocks[each.block - 1]?.bottom ?? 0)
                  : -blocks[each.block]!.cuts[each.cut]!.repeat;
              return sum + roomAt(each, 70) - above;
            }, 0);
        const pieces = piecesOf(blocks, pages, 70);
        const unbroken = blocks.map((each, index) => {
          const own = pieces.filter((piece) => piece.block === index);
          return {
            ...each,
            top: own[0]!.from - lower(index, 0),
            bottom: own.at(-1)!.to - lower(index, Number.POSITIVE_INFINITY),
          };
        });
        expect(paginate(unbroken, 100)).toEqual(pages);
      }),
      { seed: 13, numRuns: runs(500) },
    );
  });
});

describe('notes at the foot of pages', () => {
  const noted = (blocks: FlowBlock[], ...notes: [block: number, at: number, height: number][]) =>
    blocks.map((each, index) => ({
      ...each,
      notes: notes
        .filter(([block]) => block === index)
        .map(([, at, height]) => ({ at: each.top + at, height })),
    }));

  it('take their room from the page on which their numbers stand', () => {
    const blocks = flow([40, 40, 15], 0);
    expect(where(paginate(blocks, 100))).toEqual([]);
    // 40 + 40 and a note of 6 with the gap above it; what would have stood below goes to the next page.
    const pages = paginate(noted(blocks, [1, 5, 6]), 100);
    expect(where(pages)).toEqual([[2, null]]);
    expect(pages.breaks[0]!.rest).toBe(20);
    expect(pages.pages.map(({ from }) => from)).toEqual([0, 80]);
  });

  it('go with the line that has their number', () => {
    const blocks = flow([{ height: 90, cuts: [30, 60] }], 0);
    // With the note of the third line the page would be too high: the line goes, and its note with it.
    const pages = paginate(noted(blocks, [0, 70, 10]), 100);
    expect(where(pages)).toEqual([[0, 1]]);
    expect(pages.pages.map(({ from, to }) => [from, to])).toEqual([
      [0, 60],
      [60, Number.POSITIVE_INFINITY],
    ]);
  });

  it('too high for any page do not keep the text from going on', () => {
    const pages = paginate(noted(flow([50, 50, 50], 0), [1, 5, 300]), 100);
    expect(where(pages)).toEqual([
      [1, null],
      [2, null],
    ]);
  });
});

describe('pages of several heights', () => {
  const blocks = flow([60, 60, 60, 60, 60], 0);

  it('begin with their run, and hold what fits them', () => {
    const pages = paginateRuns(blocks, [
      { from: 0, height: 130 },
      { from: 2, height: 70 },
      { from: 4, height: 130 },
    ]);
    expect(pages.breaks).toEqual([
      { block: 2, cut: null, rest: 10, pages: 1, height: 130 },
      { block: 3, cut: null, rest: 10, pages: 1, height: 70 },
      { block: 4, cut: null, rest: 10, pages: 1, height: 70 },
    ]);
    expect(pages.pages.map(({ run, from }) => [run, from])).toEqual([
      [0, 0],
      [1, 120],
      [1, 180],
      [2, 240],
    ]);
    expect(brokenHeight(pages, () => 30)).toBe(130 + 30 + 2 * (70 + 30) + 60);
  });

  it('cut blocks at the same places as pages of one height where there is one run', () => {
    const cut = flow([{ height: 260, cuts: [50, 100, 150, 200], repeat: 10 }, 40], 0);
    expect(paginateRuns(cut, [{ from: 0, height: 100 }])).toEqual(paginate(cut, 100));
    const behind = flow([20, { height: 260, cuts: [50, 100, 150, 200], repeat: 10 }, 40], 0);
    const runs = paginateRuns(behind, [
      { from: 0, height: 100 },
      { from: 1, height: 100 },
    ]);
    expect(where(runs).slice(1)).toEqual(
      where(paginate(cut, 100)).map(([block, at]) => [block! + 1, at]),
    );
  });

  it('let what is too high for its run stand alone on its pages', () => {
    const pages = paginateRuns(flow([250, 20], 0), [
      { from: 0, height: 100 },
      { from: 1, height: 50 },
    ]);
    expect(pages.count).toBe(4);
    expect(pages.breaks).toEqual([{ block: 1, cut: null, rest: 50, pages: 3, height: 100 }]);
  });
});

/** Where each piece of each block comes to stand when its breaks are carried out. `isWhole`: nothing in it can be cut. */
function piecesOf(blocks: readonly FlowBlock[], pages: Pages, between: number) {
  const pieces: { block: number; from: number; to: number; isWhole: boolean; repeat: number }[] =
    [];
  let y = 0;
  blocks.forEach((each, index) => {
    const own = pages.breaks.filter((at) => at.block === index);
    const before = own.find(({ cut }) => cut === null);
    y += before
      ? roomAt(before, between)
      : index === 0
        ? each.top
        : each.top - blocks[index - 1]!.bottom;
    let at = each.top;
    let repeat = 0;
    for (const cutHere of [...own.filter(({ cut }) => cut !== null), null]) {
      const cut = cutHere ? each.cuts[cutHere.cut!]! : null;
      const end = cut?.at ?? each.bottom;
      const isWhole = !each.cuts.some((inside) => inside.at > at && inside.at < end);
      const top = y;
      y += end - at;
      pieces.push({ block: index, from: top, to: y, isWhole, repeat });
      repeat = cut?.repeat ?? 0;
      if (cutHere) y += roomAt(cutHere, between) + repeat;
      at = end;
    }
  });
  return pieces;
}

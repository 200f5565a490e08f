import { PIXELS_PER_MM } from '../look/layout.ts';

/** Sizes of paper by ISO 216, in millimetres, upright. */
export const PAPER_SIZES = { A3: [297, 420], A4: [210, 297], A5: [148, 210] } as const;
export type PaperSize = keyof typeof PAPER_SIZES;

/** The paper of a document: its size, and the margins in millimetres. */
export interface Paper {
  size: PaperSize;
  isLandscape: boolean;
  margins: { top: number; right: number; bottom: number; left: number };
}

/** What a document that says nothing is printed on. */
export const USUAL_PAPER: Paper = {
  size: 'A4',
  isLandscape: false,
  margins: { top: 25, right: 25, bottom: 25, left: 25 },
};

/** Pixels of a sheet and of the room for text on it. */
export interface SheetSize {
  width: number;
  height: number;
  textWidth: number;
  textHeight: number;
}

/** The sheet in CSS pixels. Margins that leave no room give a text of one inch. */
export function sheetSize({ size, isLandscape, margins }: Paper): SheetSize {
  const [short, long] = PAPER_SIZES[size];
  const [width, height] = (isLandscape ? [long, short] : [short, long]).map(
    (side) => side * PIXELS_PER_MM,
  ) as [number, number];
  const text = (side: number, a: number, b: number) => Math.max(96, side - (a + b) * PIXELS_PER_MM);
  return {
    width,
    height,
    textWidth: text(width, margins.left, margins.right),
    textHeight: text(height, margins.top, margins.bottom),
  };
}

/** A place where a block may be cut. */
export interface Cut {
  /** Pixels from the top of the unbroken flow. */
  at: number;
  /** Pixels that the next page needs before what follows: a repeated header. */
  repeat: number;
}

/** A paragraph, heading, list or object in the flow of a document that is not broken into pages yet. */
export interface FlowBlock {
  /** Pixels from the top of the flow to its upper and its lower side. */
  top: number;
  bottom: number;
  /** A heading stays with what it heads. */
  keepsWithNext: boolean;
  /** What follows it begins a page, as somebody wished. */
  endsPage?: boolean;
  /** Ascending. */
  cuts: Cut[];
}

/** Where one page ends and the next begins: before a block, or at one of its cuts. */
export interface PageBreak {
  block: number;
  /** Index of the cut; null for before the block. */
  cut: number | null;
  /** Pixels that stay empty of the page, or of the last of the pages that a block runs over. */
  rest: number;
  /** Pages that end here: more than one behind a block that is higher than a page and cannot be cut. */
  pages: number;
}

export interface Pages {
  breaks: PageBreak[];
  /** How many pages there are. */
  count: number;
  /** Pixels of the flow behind the last break; what is repeated there counts as well. */
  used: number;
}

/**
 * Pixels of room that a break needs between what stands before and behind it, where two texts on following pages lie
 * `between` pixels apart: the margins, and on a screen the gap between two sheets.
 */
export function roomAt({ rest, pages }: PageBreak, between: number): number {
  return rest + pages * between;
}

/** Pixels from the top of the first page's text to the end of the last, with pages `between` apart. */
export function brokenHeight({ breaks, used }: Pages, height: number, between: number): number {
  return breaks.reduce((sum, { pages }) => sum + pages * (height + between), used);
}

/** Rounding of pixels must not push a block that fits. */
const SLACK = 0.5;

/**
 * Breaks a flow into pages of `height` pixels: never within a line or a row, a heading never at the foot of a page. A
 * block too high for a page that cannot be cut stands on a page of its own and runs over its foot.
 */
export function paginate(blocks: readonly FlowBlock[], height: number): Pages {
  const breaks: PageBreak[] = [];
  /** Where in the flow the page begins; what is repeated on it counts as if it stood there before. */
  let start = 0;
  let count = 1;
  /** The first block on the page; the page may begin within it. */
  let first = 0;
  const fits = (y: number) => y - start <= height + SLACK;
  const breakAt = (block: number, cut: number | null, used: number, next: number) => {
    const pages = pagesFor(used, height);
    breaks.push({ block, cut, rest: Math.max(0, pages * height - used), pages });
    count += pages;
    start = next;
    first = block;
  };
  const breakBefore = (block: number) => {
    // The room above a block is not kept at the head of a page.
    breakAt(block, null, blocks[block - 1]!.bottom - start, blocks[block]!.top);
  };

  let index = 0;
  /** The first cut of this block that lies on the page. */
  let cut = 0;
  while (index < blocks.length) {
    const block = blocks[index]!;
    if (fits(block.bottom)) {
      index++;
      cut = 0;
      if (block.endsPage && index < blocks.length) breakBefore(index);
      continue;
    }
    const beyond = block.cuts.findIndex(({ at }, each) => each >= cut && !fits(at));
    const last = (beyond < 0 ? block.cuts.length : beyond) - 1;
    if (last >= cut) {
      const { at, repeat } = block.cuts[last]!;
      breakAt(index, last, at - start, at - repeat);
      cut = last + 1;
      continue;
    }
    if (index === first) {
      // Nothing can be cut and nothing stands before it: it runs over the foot, and what follows begins a page.
      if (beyond >= 0) {
        const { at, repeat } = block.cuts[beyond]!;
        breakAt(index, beyond, at - start, at - repeat);
        cut = beyond + 1;
        continue;
      }
      index++;
      cut = 0;
      if (index < blocks.length) breakBefore(index);
      continue;
    }
    let from = index;
    while (from - 1 > first && blocks[from - 1]!.keepsWithNext) from--;
    // A page that begins with nothing but headings cannot give them all away.
    if (from - 1 === first && blocks[first]!.keepsWithNext) from = index;
    breakBefore(from);
    index = from;
    cut = 0;
  }
  const used = (blocks.at(-1)?.bottom ?? 0) - start;
  return { breaks, count: count - 1 + pagesFor(used, height), used };
}

function pagesFor(used: number, height: number): number {
  return Math.max(1, Math.ceil((used - SLACK) / height));
}

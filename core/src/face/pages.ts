import { PIXELS_PER_MM } from '../look/layout.ts';
import { type ASize, aSheet } from '../page/paper.ts';

/** Sizes that reports are printed on. */
export const PAPER_SIZES = ['A3', 'A4', 'A5'] as const satisfies readonly ASize[];
export type PaperSize = (typeof PAPER_SIZES)[number];

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
  const sheet = aSheet(size, isLandscape);
  const [width, height] = [sheet.width * PIXELS_PER_MM, sheet.height * PIXELS_PER_MM];
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

/** A note at the foot of the page that has its number. */
export interface FlowNote {
  /** Where its number stands, in pixels from the top of the unbroken flow. */
  at: number;
  /** Pixels that it takes at the foot. */
  height: number;
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
  /** Its notes, ascending. */
  notes?: readonly FlowNote[];
}

/** Blocks from one on that stand on pages of one height. */
export interface PageRun {
  from: number;
  /** Pixels of the text of a page. */
  height: number;
}

/** Where one page ends and the next begins: before a block, or at one of its cuts. */
export interface PageBreak {
  block: number;
  /** Index of the cut; null for before the block. */
  cut: number | null;
  /** Pixels that stay empty of the page, or of the last of the pages that a block runs over; its notes stand there. */
  rest: number;
  /** Pages that end here: more than one behind a block that is higher than a page and cannot be cut. */
  pages: number;
  /** Pixels of the text of these pages. */
  height: number;
}

/** A page of a broken flow. */
export interface FlowPage {
  /** Index of the run that it belongs to. */
  run: number;
  /** Where in the flow the text of the page begins, and where that of the next does. */
  from: number;
  to: number;
}

export interface Pages {
  breaks: PageBreak[];
  /** How many pages there are. */
  count: number;
  /** Pixels of the flow behind the last break; what is repeated there counts as well. */
  used: number;
  /** The pages, with the part of the flow that stands on each; what runs over several counts to the first of them. */
  pages: FlowPage[];
}

/**
 * Pixels of room that a break needs between what stands before and behind it, where two texts on following pages lie
 * `between` pixels apart: the margins, and on a screen the gap between two sheets.
 */
export function roomAt({ rest, pages }: PageBreak, between: number): number {
  return rest + pages * between;
}

/** Pixels from the top of the first page's text to the end of the last; `between` says how far apart texts lie, by the height of the upper one. */
export function brokenHeight(
  { breaks, used }: Pick<Pages, 'breaks' | 'used'>,
  between: (height: number) => number,
): number {
  return breaks.reduce((sum, { pages, height }) => sum + pages * (height + between(height)), used);
}

/** Rounding of pixels must not push a block that fits. */
const SLACK = 0.5;
/** Pixels between the text of a page and its notes, with the line that parts them. */
export const NOTES_GAP = 14;

/**
 * Breaks a flow into pages of `height` pixels: never within a line or a row, a heading never at the foot of a page. A
 * block too high for a page that cannot be cut stands on a page of its own and runs over its foot. A page has room at its
 * foot for the notes whose numbers stand on it.
 */
export function paginate(blocks: readonly FlowBlock[], height: number): Pages {
  return breakRun(blocks, height).broken;
}

/** The same, and how many pages the last of the text takes: more than one where it runs over. */
function breakRun(
  blocks: readonly FlowBlock[],
  height: number,
): { broken: Pages; lastPages: number } {
  const breaks: PageBreak[] = [];
  const pages: FlowPage[] = [];
  const notes = blocks.flatMap((block) => block.notes ?? []);
  /** Where in the flow the page begins; what is repeated on it counts as if it stood there before. */
  let start = 0;
  /** Where what is not repeated begins. */
  let begun = start;
  /** The first block on the page; the page may begin within it. */
  let first = 0;
  const notesUntil = (y: number) => notesIn(notes, begun, y);
  const fits = (y: number) => y - start + notesUntil(y) <= height + SLACK;
  const breakAt = (block: number, cut: number | null, end: number, next: number, repeat = 0) => {
    const used = end - start;
    const ended = pagesFor(used + notesUntil(end), height);
    breaks.push({
      block,
      cut,
      rest: Math.max(0, ended * height - used),
      pages: ended,
      height,
    });
    addPages(pages, ended, { run: 0, from: begun, to: next });
    begun = next;
    start = next - repeat;
    first = block;
  };
  const breakBefore = (block: number) => {
    // The room above a block is not kept at the head of a page.
    breakAt(block, null, blocks[block - 1]!.bottom, blocks[block]!.top);
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
      breakAt(index, last, at, at, repeat);
      cut = last + 1;
      continue;
    }
    if (index === first) {
      // Nothing can be cut and nothing stands before it: it runs over the foot, and what follows begins a page.
      if (beyond >= 0) {
        const { at, repeat } = block.cuts[beyond]!;
        breakAt(index, beyond, at, at, repeat);
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
  const end = blocks.at(-1)?.bottom ?? 0;
  const used = end - start;
  const lastPages = pagesFor(used + notesUntil(end), height);
  addPages(pages, lastPages, { run: 0, from: begun, to: Number.POSITIVE_INFINITY });
  return { broken: { breaks, count: pages.length, used, pages }, lastPages };
}

/** The same with pages of several heights: each run of blocks begins a page. Runs are in order, the first from block 0. */
export function paginateRuns(blocks: readonly FlowBlock[], runs: readonly PageRun[]): Pages {
  const all: Pages = { breaks: [], count: 0, used: 0, pages: [] };
  runs.forEach(({ from, height }, run) => {
    const next = runs[run + 1]?.from ?? blocks.length;
    const top = from === 0 ? 0 : (blocks[from]?.top ?? 0);
    const { broken, lastPages } = breakRun(
      blocks.slice(from, next).map((each) => lifted(each, top)),
      height,
    );
    all.breaks.push(...broken.breaks.map((each) => ({ ...each, block: each.block + from })));
    all.pages.push(
      ...broken.pages.map((page) => ({ run, from: page.from + top, to: page.to + top })),
    );
    all.used = broken.used;
    if (next >= blocks.length) return;
    // What runs over the last page has it to itself.
    for (const page of all.pages.slice(-lastPages)) page.to = blocks[next]!.top;
    const rest = Math.max(0, lastPages * height - broken.used);
    all.breaks.push({ block: next, cut: null, rest, pages: lastPages, height });
  });
  all.count = all.pages.length;
  return all;
}

/** A block as it stands `by` pixels further up. Its cuts are looked for only when it does not fit. */
function lifted(block: FlowBlock, by: number): FlowBlock {
  if (by === 0) return block;
  let cuts: Cut[] | null = null;
  return {
    ...(block.endsPage === undefined ? {} : { endsPage: block.endsPage }),
    ...(block.notes ? { notes: block.notes.map((note) => ({ ...note, at: note.at - by })) } : {}),
    top: block.top - by,
    bottom: block.bottom - by,
    keepsWithNext: block.keepsWithNext,
    get cuts() {
      cuts ??= block.cuts.map(({ at, repeat }) => ({ at: at - by, repeat }));
      return cuts;
    },
  };
}

/** Pixels that the notes take whose numbers stand between two places of the flow. */
function notesIn(notes: readonly FlowNote[], from: number, to: number): number {
  let sum = 0;
  for (const { at, height } of notes) if (at >= from && at < to) sum += height;
  return sum === 0 ? 0 : sum + NOTES_GAP;
}

function addPages(pages: FlowPage[], count: number, page: FlowPage): void {
  pages.push(page);
  // Pages that something runs over have nothing that begins on them.
  for (let each = 1; each < count; each++) pages.push({ ...page, from: page.to });
}

function pagesFor(used: number, height: number): number {
  return Math.max(1, Math.ceil((used - SLACK) / height));
}

import { type Area, union } from '../sheet/address.ts';
import { type KeyCounts, Tally } from './key-counts.ts';
import { type SheetPrint, within } from './sheet-print.ts';

/** Cells that stand together, with nothing around them. */
interface Block extends Area {
  filled: number;
  /** How many of the wanted cells it can hold. */
  content: number;
}

/** Blocks that are looked at, and places that are made of them. */
const MOST_BLOCKS = 24;
const MOST_WINDOWS = 5;
/** What a cell in a place costs that has nothing to do with what is looked for, against one that has. */
const FOREIGN = 0.3;
/** A block that holds more than this share of a place once more is another copy. */
const TWICE = 0.4;
/** What an empty one costs: what stands far away does not belong to it. */
const EMPTY = 0.04;

/**
 * Places of a sheet where the wanted cells may stand (their keys and how many of each), the fullest first: blocks of cells that hold
 * much of them, joined where rows or columns that were put in part them. Two copies are two places.
 */
export function windowsOf(print: SheetPrint, counted: () => KeyCounts, filled: number): Area[] {
  const all = blocksOf(print);
  // One that stands alone needs no looking for others.
  if (all.length === 1) return all;
  const wanted = counted();
  const blocks = all
    .map((block) => ({ ...block, content: tallied(print, block, wanted).found }))
    .filter(({ content }) => content > 0)
    .sort((a, b) => b.content - a.content)
    .slice(0, MOST_BLOCKS);
  const windows: { area: Area; score: number }[] = [];
  for (const seed of blocks) {
    let area: Area = seed;
    let score = scoreOf(print, seed, wanted, filled);
    for (;;) {
      let best: (typeof windows)[number] | null = null;
      for (const block of blocks) {
        if (isInside(block, area)) continue;
        const joined = union(area, block);
        // What holds the same again is another copy, and no part of this one.
        const own = tallied(print, area, wanted);
        const twice = tallied(print, joined, wanted).twice - own.twice;
        if (twice > TWICE * own.found) continue;
        const joinedScore = scoreOf(print, joined, wanted, filled);
        if (joinedScore > (best?.score ?? score) + 1e-9)
          best = { area: joined, score: joinedScore };
      }
      if (!best) break;
      ({ area, score } = best);
    }
    if (!windows.some((each) => isSameArea(each.area, area))) windows.push({ area, score });
  }
  windows.sort((a, b) => b.score - a.score);
  const apart: Area[] = [];
  for (const { area } of windows) {
    if (apart.length === MOST_WINDOWS) break;
    if (!apart.some((each) => doOverlap(each, area))) apart.push(area);
  }
  return apart;
}

function scoreOf(print: SheetPrint, area: Area, wanted: KeyCounts, filled: number): number {
  const { found: content, filled: all } = tallied(print, area, wanted);
  const foreign = all - content;
  const places = (area.bottom - area.top + 1) * (area.right - area.left + 1);
  const empty = Math.max(0, places - content - foreign);
  const cost = FOREIGN * Math.min(foreign, 2 * filled) + EMPTY * Math.min(empty, 10 * filled);
  return (content - cost) / filled;
}

/** What of the wanted cells an area holds, what more than once, and how much it holds in all. */
export function tallied(
  print: SheetPrint,
  area: Area,
  wanted: KeyCounts,
): { found: number; twice: number; filled: number } {
  const tally = new Tally(wanted);
  let filled = 0;
  const { rows, columns, keys } = print;
  const [top, below] = within(rows, area.top, area.bottom);
  const [left, beside] = within(columns, area.left, area.right);
  for (let row = top; row < below; row++) {
    for (let at = row * columns.length + left; at < row * columns.length + beside; at++) {
      if (keys[at] === 0) continue;
      filled++;
      tally.add(keys[at]!);
    }
  }
  return { found: tally.found, twice: tally.twice, filled };
}

const isInside = (a: Area, b: Area) =>
  a.top >= b.top && a.bottom <= b.bottom && a.left >= b.left && a.right <= b.right;
const doOverlap = (a: Area, b: Area) =>
  a.top <= b.bottom && b.top <= a.bottom && a.left <= b.right && b.left <= a.right;
const isSameArea = (a: Area, b: Area) => isInside(a, b) && isInside(b, a);

/** The blocks of a sheet: cut along empty rows and columns until nothing is left to cut. */
function blocksOf(print: SheetPrint): Omit<Block, 'content'>[] {
  const { rows, columns, keys } = print;
  const width = columns.length;
  const blocks: Omit<Block, 'content'>[] = [];
  const open: [top: number, below: number, left: number, beside: number][] = [
    [0, rows.length, 0, width],
  ];
  for (let part = open.pop(); part; part = open.pop()) {
    const [top, below, left, beside] = part;
    const rowFilled = new Int32Array(below - top);
    const columnFilled = new Int32Array(beside - left);
    for (let row = top; row < below; row++) {
      for (let column = left; column < beside; column++) {
        if (keys[row * width + column] === 0) continue;
        rowFilled[row - top]!++;
        columnFilled[column - left]!++;
      }
    }
    const rowRuns = runsOf(rowFilled, rows, top);
    const columnRuns = runsOf(columnFilled, columns, left);
    if (rowRuns.length === 0) continue;
    if (rowRuns.length > 1) {
      for (const [from, to] of rowRuns) open.push([from, to, left, beside]);
    } else if (columnRuns.length > 1) {
      for (const [from, to] of columnRuns) open.push([top, below, from, to]);
    } else {
      const [[firstRow, rowEnd], [firstColumn, columnEnd]] = [rowRuns[0]!, columnRuns[0]!];
      blocks.push({
        ...{ top: rows[firstRow]!, bottom: rows[rowEnd - 1]! },
        ...{ left: columns[firstColumn]!, right: columns[columnEnd - 1]! },
        filled: rowFilled.reduce((sum, count) => sum + count, 0),
      });
    }
  }
  return blocks;
}

/** Runs of lines in which something stands, without one between them in which nothing does: from, and behind the last. */
function runsOf(filled: Int32Array, numbers: Int32Array, offset: number): [number, number][] {
  const runs: [number, number][] = [];
  let from = -1;
  for (let at = 0; at <= filled.length; at++) {
    const isOn = at < filled.length && filled[at]! > 0;
    const isNext = from < 0 || numbers[offset + at]! === numbers[offset + at - 1]! + 1;
    if (from >= 0 && (!isOn || !isNext)) {
      runs.push([offset + from, offset + at]);
      from = -1;
    }
    if (isOn && from < 0) from = at;
  }
  return runs;
}

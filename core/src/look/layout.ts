import { headerOf } from '../sheet/header.ts';
import { placeIn, shownPlaces, spansIn } from '../sheet/merged.ts';
import {
  type Band,
  type Cell,
  type Dress,
  gridOf,
  type Letters,
  type Snapshot,
} from '../sheet/sheet.ts';
import { PIXELS_PER_POINT, textWidth, wordsOf, wrapText } from './fonts/measure.ts';

/** CSS pixels in a millimetre. */
export const PIXELS_PER_MM = 96 / 25.4;

/**
 * Pixels of a column `width` digits wide when a digit of the workbook's normal letters is `digitWidth` pixels wide:
 * `trunc(((256 * width + trunc(128 / digitWidth)) / 256) * digitWidth)` (ECMA-376 Part 1, 18.3.1.13, col).
 */
export function columnPixels(width: number, digitWidth: number): number {
  return Math.trunc(((256 * width + Math.trunc(128 / digitWidth)) / 256) * digitWidth);
}

/** Pixels of every column of the snapshot's area, left to right; 0 for hidden ones. */
export function columnWidths(snapshot: Snapshot): number[] {
  const { area, columns, defaults } = snapshot;
  const usual = columnPixels(defaults.columnWidth, defaults.digitWidth);
  const widths = new Array<number>(area.right - area.left + 1).fill(usual);
  for (const { index, size, hidden } of columns) {
    widths[index - area.left] = hidden
      ? 0
      : size === undefined
        ? usual
        : columnPixels(size, defaults.digitWidth);
  }
  return widths;
}

/** Pixels of every row of the snapshot's area, top to bottom; 0 for hidden ones. */
export function rowHeights(snapshot: Snapshot): number[] {
  const { area, rows, defaults } = snapshot;
  const usual = defaults.rowHeight * PIXELS_PER_POINT;
  const heights = new Array<number>(area.bottom - area.top + 1).fill(usual);
  for (const { index, size, hidden } of rows) {
    heights[index - area.top] = hidden ? 0 : size === undefined ? usual : size * PIXELS_PER_POINT;
  }
  return heights;
}

/** Advance width of a digit as a share of the letter size, for the families that workbooks name as their normal one. */
const DIGIT_SHARE: Record<string, number> = {
  calibri: 0.507,
  carlito: 0.507,
  arial: 0.556,
  arimo: 0.556,
  'liberation sans': 0.556,
  cambria: 0.554,
  verdana: 0.636,
  'times new roman': 0.5,
};

/**
 * Pixels of the widest digit of the workbook's normal letters, the unit of column widths (ECMA-376 Part 1, 18.3.1.13):
 * 7 for Calibri 11. `size` in points; unknown families count as of middling width. Shares measured from the fonts.
 */
export function digitWidth(family: string, size: number): number {
  const share = DIGIT_SHARE[family.toLowerCase()] ?? 0.55;
  return Math.max(1, Math.floor(size * PIXELS_PER_POINT * share));
}

/** Height of a line of text as a multiple of the letter size. */
export const LINE_HEIGHT = 1.25;
/** Pixels kept free at the left and right of a cell's text, and above and below it. */
export const CELL_PADDING = { source: { x: 3, y: 0 }, page: { x: 6, y: 2 } } as const;
/** Letters of cells whose source names none, such as those of delimited text. */
export const PLAIN_LETTERS: Letters = { family: 'Source Serif 4', size: 10.5 };

/** How wide a table is: as wide as its source's columns, or as wide as the room that the page gives it. */
export type TableFit = 'source' | 'page';

/** Sizes of a table's columns and rows in pixels, 0 for hidden ones, in the order of the snapshot's area. */
export interface TableLayout {
  fit: TableFit;
  widths: number[];
  heights: number[];
  /** Rows from the top that are headers: repeated where the table goes on on another page. */
  headerRows: number;
  /** Columns that the page has no room for as wide as they are: they are as wide as it, and their lines are broken. */
  narrowed: ReadonlySet<number>;
}

/** Pixels between a cell's sides and its text at each side, with its indent of three spaces a step (18.8.1). */
export function indentOf(dress: Dress | undefined): number {
  return (dress?.indent ?? 0) * 9;
}

/** Where a value stands when its cell does not say: text left, numbers and dates right, truths and errors centred. */
export function usualAlignment(cell: Cell | undefined): 'left' | 'center' | 'right' {
  if (cell?.type === 'number' || cell?.type === 'date') return 'right';
  if (cell?.type === 'boolean' || cell?.type === 'error') return 'center';
  return 'left';
}

/** What a cell's text needs for its height when the cell is `width` pixels wide. */
function neededHeight(
  cell: Cell,
  dress: Dress | undefined,
  width: number,
  fit: TableFit,
  isBroken: boolean,
): number {
  const letters = dress?.letters ?? PLAIN_LETTERS;
  const { x, y } = CELL_PADDING[fit];
  const line = letters.size * PIXELS_PER_POINT * LINE_HEIGHT;
  const wraps = isBroken || dress?.wrap === true;
  const room = Math.max(8, width - 2 * x - indentOf(dress) - (cell.icon ? 16 : 0));
  const lines = wraps ? wrapText(cell.text, letters, room).length : 1;
  return lines * line + 2 * y + 1;
}

/**
 * Widths and heights of a table without a screen. Rows are as high as the source says, and higher where their text needs
 * it: letters never shrink and no line is cut. `room` is the width in pixels that a table fitting the page shares out, and
 * the most that a column gets: what is wider would be cut off at the side of the page. 0 is no bound.
 */
export function layoutTable(snapshot: Snapshot, fit: TableFit, room: number): TableLayout {
  const grid = gridOf(snapshot);
  const { area, dresses } = snapshot;
  const { title, rows: headed } = headerOf(snapshot, grid);
  const headerRows = title + headed;
  const shown = shownPlaces(snapshot);
  const groups = [
    shown.rows.filter((row) => row < headerRows),
    shown.rows.filter((row) => row >= headerRows),
  ];
  const spans = spansIn(snapshot, groups, shown.columns, grid);
  const wished = columnWidths(snapshot);
  const source = room > 0 ? wished.map((width) => Math.min(width, room)) : wished;
  const narrowed = new Set(
    fit === 'page' ? [] : wished.flatMap((width, at) => (width > source[at]! ? [at] : [])),
  );
  const widths =
    fit === 'source'
      ? source
      : shareWidth(grid, dresses, source, setBands(snapshot.columns, area.left), spans, room);
  const given = rowHeights(snapshot);
  const setRows = setBands(snapshot.rows, area.top);
  const heights = given.map((height, at) =>
    height === 0 || fit === 'source' || setRows.has(at) ? height : 0,
  );
  const hasSpans = spans.size > 0;
  /** Merged cells over several rows: their text may need more than these have. */
  const tall: { from: number; to: number; needed: number }[] = [];
  for (const r of shown.rows) {
    if (given[r] === 0) continue;
    for (const c of shown.columns) {
      const span = hasSpans ? spans.get(`${r},${c}`) : undefined;
      const cell = span ? span.cell : grid[r]![c];
      if (!cell || cell.type === 'blank' || widths[c] === 0 || span === null) continue;
      const dress = cell.dress === undefined ? undefined : dresses[cell.dress];
      const last = span ? shown.columns[placeIn(shown.columns, c) + span.columns - 1]! : c;
      let width = 0;
      for (let each = c; each <= last; each++) width += widths[each]!;
      const isBroken = fit === 'page' || narrowed.has(c);
      const needed = neededHeight(cell, dress, width, fit, isBroken);
      if (span && span.rows > 1) {
        tall.push({ from: r, to: shown.rows[placeIn(shown.rows, r) + span.rows - 1]!, needed });
      } else heights[r] = Math.max(heights[r]!, needed);
    }
    if (heights[r] === 0) {
      heights[r] =
        PLAIN_LETTERS.size * PIXELS_PER_POINT * LINE_HEIGHT + 2 * CELL_PADDING.page.y + 1;
    }
  }
  for (const { from, to, needed } of tall) {
    let height = 0;
    for (let row = from; row <= to; row++) height += heights[row]!;
    if (height < needed && fit === 'page') heights[to]! += needed - height;
  }
  return { fit, widths, heights, headerRows, narrowed };
}

/** Which rows or columns have a size that was set for the document, by their place in the area. */
function setBands(bands: readonly Band[], first: number): Set<number> {
  return new Set(bands.filter(({ isSet }) => isSet).map(({ index }) => index - first));
}

/** Pixels of a column of words that are broken to find room. */
const NARROWEST = 48;

/**
 * Shares `room` among the columns: each gets what its longest word needs, and then more in the proportion of what its
 * longest line would need (as the automatic table layout of CSS 2.2, 17.5.2.2 suggests).
 */
function shareWidth(
  grid: (Cell | undefined)[][],
  dresses: readonly Dress[],
  source: readonly number[],
  set: ReadonlySet<number>,
  spans: ReadonlyMap<string, unknown>,
  wholeRoom: number,
): number[] {
  const least = source.map(() => 0);
  const figures = source.map(() => 0);
  const most = source.map(() => 0);
  const pad = 2 * CELL_PADDING.page.x + 1;
  grid.forEach((row, r) => {
    row.forEach((cell, c) => {
      if (!cell || cell.type === 'blank') return;
      if (spans.size > 0 && spans.has(`${r},${c}`)) return;
      const dress = cell.dress === undefined ? undefined : dresses[cell.dress];
      const letters = dress?.letters ?? PLAIN_LETTERS;
      const extra = pad + indentOf(dress) + (cell.icon ? 16 : 0);
      const whole = textWidth(cell.text, letters) + extra;
      const isNumber = cell.type === 'number' || cell.type === 'date';
      if (isNumber && whole > figures[c]!) figures[c] = whole;
      if (whole > most[c]!) most[c] = whole;
      // Only what is longer than the longest word so far can have a longer one.
      if (whole <= least[c]!) return;
      const word = isNumber
        ? whole
        : Math.max(...wordsOf(cell.text).map((each) => textWidth(each, letters))) + extra;
      if (word > least[c]!) least[c] = word;
    });
  });
  const shown = source.map((width, index) => width > 0 && !set.has(index));
  const sum = (list: readonly number[]) =>
    list.reduce((total, each, index) => total + (shown[index] ? each : 0), 0);
  const usual = (list: readonly number[]) => list.map((each) => Math.max(each, 24));
  const [low, high] = [usual(least), usual(most)];
  const [lowSum, highSum] = [sum(low), sum(high)];
  // Columns whose width was set keep it; the others share what is left, or take what their words need.
  const kept = source.reduce((total, width, index) => total + (set.has(index) ? width : 0), 0);
  const left = Math.floor(wholeRoom) - kept;
  const room = set.size > 0 ? Math.max(left, lowSum) : left;
  // A word can be broken when there is no other way, a figure cannot: what is too wide with these is folded.
  const hard = low.map((each, index) => Math.max(figures[index]!, Math.min(each, NARROWEST)));
  const hardSum = sum(hard);
  const soft = Math.max(0, room - hardSum);
  const widths = low.map((each, index) => {
    if (!shown[index]) return source[index]!;
    if (highSum <= room) return (high[index]! * room) / highSum;
    if (lowSum >= room)
      return hard[index]! + ((each - hard[index]!) * soft) / (lowSum - hardSum || 1);
    return each + ((high[index]! - each) * (room - lowSum)) / (highSum - lowSum);
  });
  return wholePixels(widths);
}

/** Whole pixels with the same sum, so that lines between columns are sharp. */
function wholePixels(widths: readonly number[]): number[] {
  let exact = 0;
  let given = 0;
  return widths.map((width) => {
    exact += width;
    const whole = width === 0 ? 0 : Math.round(exact) - given;
    given += whole;
    return whole;
  });
}

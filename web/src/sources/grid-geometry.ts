import {
  type Area,
  columnPixels,
  MAX_COLUMNS,
  MAX_ROWS,
  type RowHeights,
  type Snapshot,
  union,
} from '@tether/core';

export const ROW_HEIGHT = 22;
export const ROW_HEADER = 52;
const USUAL_WIDTH = 64;
/** What is left of a hidden row or column. */
export const SLIVER = 3;
/** Empty rows and columns shown beyond what is filled. */
const MARGIN_ROWS = 60;
const MARGIN_COLUMNS = 12;

/** How many rows and columns the grid shows: what is filled and what is selected, with some room around. */
export function gridSize(
  used: Area | null,
  selection: Area | null,
): { rows: number; columns: number } {
  const cell = { top: 1, left: 1, bottom: 1, right: 1 };
  // Whole columns and rows are drawn as far as the sheet is shown anyway.
  const bounded = selection && {
    ...selection,
    bottom: selection.bottom === MAX_ROWS ? 1 : selection.bottom,
    right: selection.right === MAX_COLUMNS ? 1 : selection.right,
  };
  const whole = union(used ?? cell, bounded ?? cell);
  return {
    rows: Math.min(MAX_ROWS, whole.bottom + MARGIN_ROWS),
    columns: Math.min(MAX_COLUMNS, Math.max(whole.right + MARGIN_COLUMNS, 26)),
  };
}

/** Pixels of each column of the sheet, from column 1; hidden ones keep a sliver so that they can be noticed. */
export function gridWidths(columns: number, bands: Snapshot | undefined): number[] {
  const usual = bands
    ? columnPixels(bands.defaults.columnWidth, bands.defaults.digitWidth)
    : USUAL_WIDTH;
  const widths = new Array<number>(columns).fill(usual);
  for (const { index, size, hidden } of bands?.columns ?? []) {
    if (index > columns) continue;
    widths[index - 1] = hidden
      ? SLIVER
      : size === undefined
        ? usual
        : columnPixels(size, bands!.defaults.digitWidth);
  }
  return widths;
}

/**
 * Pixels of each row of the sheet, from row 1: the usual one as high as a line of the grid, others in proportion; hidden
 * ones keep a sliver.
 */
export function gridHeights(rows: number, { usual, runs }: RowHeights): number[] {
  const heights = new Array<number>(rows).fill(ROW_HEIGHT);
  for (const { from, to, size, hidden } of runs) {
    if (from > rows) break;
    const height = hidden
      ? SLIVER
      : size === undefined || usual <= 0
        ? ROW_HEIGHT
        : Math.max(SLIVER, Math.round((size / usual) * ROW_HEIGHT));
    heights.fill(height, from - 1, Math.min(to, rows));
  }
  return heights;
}

/** Where each column or row begins, and where the last one ends: one entry more than there are. */
export function offsetsOf(sizes: readonly number[]): number[] {
  const offsets = [0];
  let end = 0;
  for (const size of sizes) {
    end += size;
    offsets.push(end);
  }
  return offsets;
}

/** The column or row (from 1) that the pixel lies in. */
export function bandAt(offsets: readonly number[], pixel: number): number {
  let [low, high] = [0, offsets.length - 2];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (offsets[middle]! <= pixel) low = middle;
    else high = middle - 1;
  }
  return low + 1;
}

/** Where an area is drawn, in pixels from the upper left corner of the grid; what lies beyond it ends at its sides. */
export function boxOf(
  { top, left, bottom, right }: Area,
  offsets: readonly number[],
  lines: readonly number[],
) {
  const [columns, rows] = [offsets.length - 1, lines.length - 1];
  const [from, to] = [Math.min(left - 1, columns), Math.min(right, columns)];
  const [above, below] = [lines[Math.min(top - 1, rows)]!, lines[Math.min(bottom, rows)]!];
  return {
    top: ROW_HEIGHT + above - 1,
    left: ROW_HEADER + offsets[from]! - 1,
    width: offsets[to]! - offsets[from]! + 1,
    height: below - above + 1,
  };
}

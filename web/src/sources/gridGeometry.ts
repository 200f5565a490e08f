import { type Area, columnPixels, MAX_COLUMNS, MAX_ROWS, type Snapshot, union } from '@tether/core';

export const ROW_HEIGHT = 22;
export const ROW_HEADER = 52;
const USUAL_WIDTH = 64;
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
      ? 3
      : size === undefined
        ? usual
        : columnPixels(size, bands!.defaults.digitWidth);
  }
  return widths;
}

/** Left side of each column and the right side of the last: one entry more than there are columns. */
export function offsetsOf(widths: readonly number[]): number[] {
  const offsets = [0];
  for (const width of widths) offsets.push(offsets.at(-1)! + width);
  return offsets;
}

/** The column (from 1) that the pixel lies in. */
export function columnAt(offsets: readonly number[], pixel: number): number {
  let [low, high] = [0, offsets.length - 2];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (offsets[middle]! <= pixel) low = middle;
    else high = middle - 1;
  }
  return low + 1;
}

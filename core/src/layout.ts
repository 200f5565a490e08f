import type { Snapshot } from './sheet.ts';

/** CSS pixels in a point. */
export const PIXELS_PER_POINT = 96 / 72;

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

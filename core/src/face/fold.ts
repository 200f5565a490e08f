import type { TableLayout } from '../look/layout.ts';
import type { Cut } from './pages.ts';

/** Rows and columns of a table that stand together as one piece, as indices into its area. */
export interface TablePart {
  /** Rows repeated at its head. */
  head: number[];
  /** From the first of these rows to the one before `to`. */
  from: number;
  to: number;
  /** Columns shown, left to right; those that name the rows first. */
  columns: number[];
}

/** Parts that stand side by side, with the pixels that they take. */
export interface Strip {
  parts: TablePart[];
  height: number;
}

/** How a table that does not fit its room is folded. */
export interface FoldWish {
  /** Pixels there are for it. */
  room: number;
  /** Pixels of a page's text; parts side by side never get higher. */
  pageHeight: number;
  /** How many parts of rows stand side by side, where they fit. */
  beside: number;
  /** How many of these stand at places of their own, and take none of the room. */
  apart?: number;
  /** Columns from the left that name the rows: repeated where columns are folded. */
  nameColumns: number;
}

/** Pixels between parts side by side, and between strips below one another. */
export const FOLD_GAP = { x: 24, y: 14 };

/**
 * Folds a table into its room: columns that are too many go on in a strip below, with those that name the rows repeated;
 * rows can stand in several parts side by side, the header over each. Nothing is made smaller, nothing left out.
 */
export function foldTable(layout: Omit<TableLayout, 'narrowed'>, wish: FoldWish): Strip[] {
  const head = Array.from({ length: layout.headerRows }, (_, row) => row);
  const groups = columnGroups(layout.widths, wish);
  const rows = layout.heights.length;
  return groups.flatMap((columns) => {
    const width = sum(columns.map((column) => layout.widths[column]!));
    const fitting = Math.floor((wish.room + FOLD_GAP.x) / (width + FOLD_GAP.x));
    const beside = Math.max(1, Math.min(wish.beside, Math.max(1, fitting) + (wish.apart ?? 0)));
    if (beside === 1) {
      const part = { head, from: head.length, to: rows, columns };
      return [{ parts: [part], height: sum(layout.heights) }];
    }
    return besideStrips(layout, head, columns, beside, wish.pageHeight);
  });
}

function sum(list: readonly number[]): number {
  return list.reduce((total, each) => total + each, 0);
}

/** Columns in groups that fit the room; a column wider than the room stands alone. */
function columnGroups(widths: readonly number[], { room, nameColumns }: FoldWish): number[][] {
  const shown = widths.flatMap((width, column) => (width > 0 ? [column] : []));
  const total = sum(widths);
  if (total <= room || shown.length < 2) return [shown];
  const names = shown.filter((column) => column < nameColumns);
  const namesWidth = sum(names.map((column) => widths[column]!));
  // Names that take half of the room are not worth repeating.
  const repeated = namesWidth <= room / 2 ? names : [];
  const groups: number[][] = [];
  let group: number[] = [];
  let used = 0;
  for (const column of shown) {
    const width = widths[column]!;
    if (group.length > 0 && used + width > room) {
      groups.push(group);
      group = [...repeated];
      used = repeated.length > 0 ? namesWidth : 0;
      if (group.includes(column)) continue;
    }
    group.push(column);
    used += width;
  }
  return [...groups, group];
}

/** Strips of parts of about equal height; each strip is no higher than a page. */
function besideStrips(
  layout: Omit<TableLayout, 'narrowed'>,
  head: number[],
  columns: number[],
  beside: number,
  pageHeight: number,
): Strip[] {
  const { heights, headerRows } = layout;
  const headHeight = sum(heights.slice(0, headerRows));
  const strips: Strip[] = [];
  let at = headerRows;
  while (at < heights.length) {
    const rest = sum(heights.slice(at));
    // The last strip is as low as it can be, so that its parts come out alike.
    const target = Math.min(pageHeight - headHeight, rest / beside);
    const parts: TablePart[] = [];
    let tallest = 0;
    for (let n = 0; n < beside && at < heights.length; n++) {
      const from = at;
      let height = heights[at++]!;
      while (
        at < heights.length &&
        height + heights[at]! / 2 <= target &&
        height + heights[at]! <= pageHeight - headHeight
      ) {
        height += heights[at++]!;
      }
      const isLast = n === beside - 1 && rest / beside <= pageHeight - headHeight;
      while (isLast && at < heights.length && height + heights[at]! <= pageHeight - headHeight) {
        height += heights[at++]!;
      }
      tallest = Math.max(tallest, height);
      parts.push({ head, from, to: at, columns });
    }
    strips.push({ parts, height: headHeight + tallest });
  }
  return strips.length > 0
    ? strips
    : [{ parts: [{ head, from: headerRows, to: heights.length, columns }], height: headHeight }];
}

/** Pixels of a folded table across and down, as it stands on the screen before pages break it. */
export function foldedSize(
  { widths }: Pick<TableLayout, 'widths'>,
  strips: readonly Strip[],
): { width: number; height: number } {
  const across = strips.map(
    ({ parts }) =>
      sum(parts.map(({ columns }) => sum(columns.map((column) => widths[column]!)))) +
      Math.max(0, parts.length - 1) * FOLD_GAP.x,
  );
  return {
    width: Math.max(0, ...across),
    height: sum(strips.map(({ height }) => height)) + Math.max(0, strips.length - 1) * FOLD_GAP.y,
  };
}

/** A strip of a folded table and the row of its only part at which it is cut. */
export interface StripCut {
  strip: number;
  /** The first row behind the cut; null for a cut before the strip. */
  row: number | null;
}

/** Rows of a table that stay together at its beginning and its end. */
const KEPT_ROWS = 2;

/**
 * Where a folded table may be cut for the next page, from `top`: between its strips, and within strips of one part between
 * rows, where the header is repeated below a line of `continuedHeight` pixels that says that the table goes on.
 */
export function cutsOf(
  layout: Omit<TableLayout, 'narrowed'>,
  strips: readonly Strip[],
  top: number,
  continuedHeight: number,
): { cuts: Cut[]; places: StripCut[] } {
  const cuts: Cut[] = [];
  const places: StripCut[] = [];
  let y = top;
  strips.forEach(({ parts, height }, strip) => {
    if (strip > 0) {
      cuts.push({ at: y, repeat: continuedHeight });
      places.push({ strip, row: null });
    }
    const [part] = parts;
    if (parts.length === 1 && part) {
      const head = sum(part.head.map((row) => layout.heights[row]!));
      let at = y + head;
      for (let row = part.from; row < part.to; row++) {
        const isInside = row - part.from >= KEPT_ROWS && part.to - row >= KEPT_ROWS;
        if (isInside && layout.heights[row]! > 0) {
          cuts.push({ at, repeat: head + continuedHeight });
          places.push({ strip, row });
        }
        at += layout.heights[row]!;
      }
    }
    y += height + FOLD_GAP.y;
  });
  return { cuts, places };
}

/** A piece of a table that stands on one page. */
export interface Piece {
  /** Pixels of the room before it; null for the first. */
  gap: number | null;
  /** Pixels of the header that is repeated over it, and of what stands below. */
  head: number;
  height: number;
}

/** The pieces of a table of this height that can be cut as `cutsOf` says, where pages break it. */
export function brokenPieces(
  table: { height: number; cuts: readonly Cut[]; places: readonly StripCut[] },
  breaks: readonly { place: StripCut; gap: number }[],
  continuedHeight: number,
): Piece[] {
  const { height, cuts, places } = table;
  const pieces: Piece[] = [];
  let from = 0;
  let next: Pick<Piece, 'gap' | 'head'> = { gap: null, head: 0 };
  for (const { place, gap } of breaks) {
    const index = places.findIndex(({ strip, row }) => strip === place.strip && row === place.row);
    const cut = cuts[index];
    if (!cut) continue;
    pieces.push({ ...next, height: cut.at - from });
    from = cut.at;
    next = { gap, head: cut.repeat - continuedHeight };
  }
  pieces.push({ ...next, height: height - from });
  return pieces;
}

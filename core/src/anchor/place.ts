import type { Area } from '../sheet/address.ts';
import type { SheetMatching } from './align-sheets.ts';
import { type SheetPrint, within } from './sheet-print.ts';

/** How far apart lines may come to stand that belong together: so many, and half as many as there are. */
export const APART = 8;

/** The lines of an area that hold something, by their places in the print: the first, and behind the last. */
export interface OwnLines {
  top: number;
  below: number;
  left: number;
  beside: number;
  filled: number;
}

export function ownLines({ rows, columns, keys }: SheetPrint, area: Area): OwnLines {
  let [top, below] = within(rows, area.top, area.bottom);
  let [left, beside] = within(columns, area.left, area.right);
  const width = columns.length;
  const isRowEmpty = (row: number) =>
    keys.subarray(row * width + left, row * width + beside).every((key) => key === 0);
  const isColumnEmpty = (column: number) => {
    for (let row = top; row < below; row++) if (keys[row * width + column] !== 0) return false;
    return true;
  };
  while (top < below && isRowEmpty(top)) top++;
  while (below > top && isRowEmpty(below - 1)) below--;
  while (left < beside && isColumnEmpty(left)) left++;
  while (beside > left && isColumnEmpty(beside - 1)) beside--;
  let filled = 0;
  for (let row = top; row < below; row++) {
    for (let column = left; column < beside; column++) {
      if (keys[row * width + column] !== 0) filled++;
    }
  }
  return { top, below, left, beside, filled };
}

/** A place that the area may have. */
export interface Place {
  /** The print in which it was matched, and its lines there. */
  before: SheetPrint;
  own: OwnLines;
  sheet: SheetPrint;
  area: Area;
  matching: SheetMatching;
  /** Share of the area's cells that hold the same there. */
  share: number;
  /** By which places are put in order. */
  rank: number;
  /** Whether there are lines at its edges of which nothing says whether they belong to it. */
  isEdgeOpen: boolean;
}

export const isSameName = (a: string, b: string) => a.toLowerCase() === b.toLowerCase();

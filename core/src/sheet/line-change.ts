import { type Area, MAX_COLUMNS, MAX_ROWS } from './address.ts';

/** Rows or columns that are put into a sheet or taken out of it. */
export interface LineChange {
  sheet: string;
  axis: 'rows' | 'columns';
  kind: 'put in' | 'take out';
  /** The first of them, from 1: those put in come before it. */
  at: number;
  count: number;
}

/** Where a row or column stands afterwards; null for one that is taken out, or pushed off the sheet. */
export function movedLine({ axis, kind, at, count }: LineChange, line: number): number | null {
  if (line < at) return line;
  if (kind === 'take out') return line < at + count ? null : line - count;
  const most = axis === 'rows' ? MAX_ROWS : MAX_COLUMNS;
  return line + count > most ? null : line + count;
}

/**
 * Where an area stands afterwards: what is put in within it makes it longer, what is put in before its first line moves it, and
 * what is put in behind its last one leaves it as it is (common practice). Whole columns stay whole. Null for one of which
 * nothing is left.
 */
export function movedArea(change: LineChange, area: Area): Area | null {
  const isRows = change.axis === 'rows';
  const [first, last] = isRows ? [area.top, area.bottom] : [area.left, area.right];
  const most = isRows ? MAX_ROWS : MAX_COLUMNS;
  if (first === 1 && last === most) return area;
  const { at, count } = change;
  let [from, to] = [first, last];
  if (change.kind === 'put in') {
    if (first >= at) from += count;
    if (last >= at) to = Math.min(most, to + count);
    if (from > most) return null;
  } else {
    const end = at + count;
    from = first < at ? first : first < end ? at : first - count;
    to = last < at ? last : last < end ? at - 1 : last - count;
    if (from > to) return null;
  }
  return isRows ? { ...area, top: from, bottom: to } : { ...area, left: from, right: to };
}

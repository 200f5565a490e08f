import { hiddenPlaces } from './hidden.ts';
import { type Cell, gridOf, type Snapshot } from './sheet.ts';

/** What stands at a place from which merged cells are drawn: how far it spans, and what it shows. */
export interface Span {
  rows: number;
  columns: number;
  cell: Cell | undefined;
}

/** Rows and columns that are shown, as indices into the area of a snapshot. */
export interface ShownPlaces {
  rows: number[];
  columns: number[];
}

/** Which rows and columns of a snapshot are shown. */
export function shownPlaces({ area, rows, columns }: Snapshot): ShownPlaces {
  const shown = (bands: Snapshot['rows'], from: number, to: number) => {
    const hidden = hiddenPlaces(bands);
    return Array.from({ length: to - from + 1 }, (_, at) => at).filter(
      (at) => !hidden.has(from + at),
    );
  };
  return {
    rows: shown(rows, area.top, area.bottom),
    columns: shown(columns, area.left, area.right),
  };
}

/**
 * The merged cells of a snapshot as one piece of it draws them, by `row,column`: a span where one begins, null where one
 * only goes on. `groups` are the rows of the piece in groups that no span may cross (the head and the body of a table, a
 * page and the next).
 *
 * What merged cells show is in their first cell, also where its row or column is hidden. Where a piece has only a later
 * part of them, a text stands there again, since it says what the rows are; a figure does not, since it would be counted
 * twice.
 */
export function spansIn(
  snapshot: Snapshot,
  groups: readonly (readonly number[])[],
  columns: readonly number[],
  grid = gridOf(snapshot),
): Map<string, Span | null> {
  const spans = new Map<string, Span | null>();
  const { area, merges } = snapshot;
  if (merges.length === 0) return spans;
  const shown = shownPlaces(snapshot);
  for (const merge of merges) {
    const [top, bottom] = [merge.top - area.top, merge.bottom - area.top];
    const [left, right] = [merge.left - area.left, merge.right - area.left];
    const across = within(columns, left, right);
    const [firstColumn] = across;
    if (firstColumn === undefined) continue;
    const held = grid[top]?.[left];
    const isFirst = (row: number) =>
      row === shown.rows[placeIn(shown.rows, top)] &&
      firstColumn === shown.columns[placeIn(shown.columns, left)];
    for (const rows of groups) {
      const down = within(rows, top, bottom);
      const [firstRow] = down;
      if (firstRow === undefined) continue;
      for (const row of down) for (const column of across) spans.set(`${row},${column}`, null);
      const cell = held?.type === 'text' || isFirst(firstRow) ? held : emptied(held);
      spans.set(`${firstRow},${firstColumn}`, { rows: down.length, columns: across.length, cell });
    }
  }
  return spans;
}

/** The place of the first of ascending numbers that is `value` or more, found by halving. */
export function placeIn(numbers: readonly number[], value: number): number {
  let [low, high] = [0, numbers.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (numbers[middle]! < value) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Those of ascending numbers that lie between two. */
function within(numbers: readonly number[], from: number, to: number): number[] {
  return numbers.slice(placeIn(numbers, from), placeIn(numbers, to + 1));
}

/** The cell without what it holds, in its dress. */
function emptied(cell: Cell | undefined): Cell | undefined {
  if (!cell) return undefined;
  const { row, column, dress } = cell;
  const blank = { row, column, type: 'blank' as const, value: '', text: '' };
  return dress === undefined ? blank : { ...blank, dress };
}

import { type Area, type CellAddress, holds } from './address.ts';
import { type Occupancy, overlaps } from './occupancy.ts';
import { type Cell, gridOf, type Landmarks, type Snapshot } from './sheet.ts';

/** An object of fewer cells is a small one: most of them are single figures out of a table. */
export const FEW_CELLS = 8;

/** Cells that may be the head of each row and column of an area, the likeliest first. */
export interface LandmarkPlaces {
  rows: CellAddress[][];
  columns: CellAddress[][];
}

/** A landmark that says something else than before. */
export interface LandmarkChange {
  was: string;
  /** Empty when nothing stands there any more. */
  is: string;
}

/** So many cells of one run of filled cells, and of all runs, may be a head: words do not stand behind many figures. */
const MOST_OF_RUN = 4;
const MOST_HEADS = 8;

/**
 * Finds the heads of rows and columns of small areas on one sheet. By common practice a row is named at its left and a
 * column at its upper end: these are the first cells of the run of filled cells that reaches into the area, then those of
 * the run before it. Of the cells within the area all but the last may be one.
 */
export function landmarkFinder(occupancy: Occupancy): (area: Area) => LandmarkPlaces {
  const rowRuns = new Map(occupancy.rows.map(({ row, runs }) => [row, runs]));
  const knownColumns = new Map<number, number[]>();
  const columnRuns = (column: number): number[] => {
    const known = knownColumns.get(column);
    if (known) return known;
    const runs: number[] = [];
    for (const { row, runs: filled } of occupancy.rows) {
      if (!overlaps(filled, column, column)) continue;
      if (runs.at(-1) === row - 1) runs[runs.length - 1] = row;
      else runs.push(row, row);
    }
    knownColumns.set(column, runs);
    return runs;
  };
  return (area) => {
    const { top, left, bottom, right } = area;
    const places: LandmarkPlaces = { rows: [], columns: [] };
    for (let row = top; row <= bottom; row++) {
      const heads = headsBefore(rowRuns.get(row) ?? [], right);
      places.rows.push(heads.map((column) => ({ row, column })));
    }
    for (let column = left; column <= right; column++) {
      const heads = headsBefore(columnRuns(column), bottom);
      places.columns.push(heads.map((row) => ({ row, column })));
    }
    return places;
  };
}

/** The first places of each run of filled places in front of `end`, those of the nearest run first. */
function headsBefore(runs: readonly number[], end: number): number[] {
  const heads: number[] = [];
  let at = runs.length - 2;
  while (at >= 0 && runs[at]! >= end) at -= 2;
  for (; at >= 0 && heads.length < MOST_HEADS; at -= 2) {
    const last = Math.min(runs[at + 1]!, end - 1, runs[at]! + MOST_OF_RUN - 1);
    for (let place = runs[at]!; place <= last; place++) heads.push(place);
  }
  return heads;
}

/**
 * The words that stand at the places for the cells in `taken`; null when there are none. `cellAt` gives the cell of a place.
 * A text within the area is a word for its row or column only when that ends in something else: of texts alone each may
 * be what the object is about.
 */
export function landmarksAt(
  places: LandmarkPlaces,
  taken: Snapshot,
  cellAt: (place: CellAddress) => Cell | undefined,
): Landmarks | null {
  const { area } = taken;
  const grid = gridOf(taken);
  const words = (heads: readonly CellAddress[], last: Cell | undefined) => {
    const endsInText = !last || last.type === 'text';
    for (const place of heads) {
      const cell = cellAt(place);
      if (!cell) continue;
      const isWord = holds(area, place) ? cell.type === 'text' && !endsInText : isWords(cell);
      if (isWord) return cell.text.trim();
    }
    return '';
  };
  const landmarks = {
    rows: places.rows.map((heads, at) => words(heads, grid[at]?.at(-1))),
    columns: places.columns.map((heads, at) => words(heads, grid.at(-1)?.[at])),
  };
  return [...landmarks.rows, ...landmarks.columns].some((each) => each !== '') ? landmarks : null;
}

/** Whether a cell beside others names their row or column: a text, a date, or a number written like a year. */
function isWords({ type, value, text }: Cell): boolean {
  if (type === 'number') return /^(19|20)\d\d$/.test(text) && text === String(value);
  return type === 'text' || type === 'date';
}

/** The landmarks of `before` that say something else in `after`, each once. */
export function landmarksChanged(before: Snapshot, after: Snapshot): LandmarkChange[] {
  const [was, is] = [before.landmarks, after.landmarks];
  if (!was) return [];
  const changed = new Map<string, LandmarkChange>();
  for (const side of ['rows', 'columns'] as const) {
    was[side].forEach((word, at) => {
      const now = is?.[side][at] ?? '';
      if (word !== '' && word !== now) changed.set(`${word}\n${now}`, { was: word, is: now });
    });
  }
  return [...changed.values()];
}

/** `at “SC-13” instead of “Total”`: the first of the changes, and how many there are beside it. */
export function describeLandmarks([first, ...rest]: readonly LandmarkChange[]): string {
  if (!first) return '';
  const more = rest.length > 0 ? `, and ${rest.length} more` : '';
  return first.is === ''
    ? `no longer at “${first.was}”${more}`
    : `at “${first.is}” instead of “${first.was}”${more}`;
}

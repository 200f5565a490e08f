import { type Cell, isFilled } from '../sheet/sheet.ts';
import { alignRows, type RowPair } from './align.ts';

type Grid = readonly (readonly (Cell | undefined)[])[];

/** One step of an alignment of columns: one kept (both), removed (`after` null) or inserted; indexes from 0. */
export type ColumnPair = RowPair & {
  /** It stands elsewhere among the others now. */
  isMoved?: true;
};

/**
 * Matches the columns of two versions of a table by their headers and by what they hold, not by their place, as `alignRows`
 * does with rows: an inserted column reads as one inserted column, not as a change of everything beside it. Columns without
 * a filled cell on either side (hidden ones that are not taken) are left out.
 *
 * Where the headers are the same in the same order, the columns are too. What is left between matched columns in equal
 * numbers is paired by its place: a column whose header and figures are all new is one that changed.
 */
export function alignColumns(
  before: { grid: Grid; headers: readonly string[] },
  after: { grid: Grid; headers: readonly string[] },
): ColumnPair[] {
  const old = filledColumns(before.grid);
  const now = filledColumns(after.grid);
  const label = (headers: readonly string[], column: number) => headers[column] ?? '';
  const isSame =
    old.length === now.length &&
    old.every((column, at) => label(before.headers, column) === label(after.headers, now[at]!));
  const hasHeaders = after.headers.some((text) => text !== '') && isSame;
  if (isSame && (hasHeaders || !hasMoved(before.grid, old, after.grid, now))) {
    return old.map((column, at) => ({ before: column, after: now[at]! }));
  }
  const alignable = (grid: Grid, columns: number[], headers: readonly string[]) =>
    columns.map((column) => ({
      cells: grid.map((row) => keyOf(row[column])),
      label: label(headers, column),
    }));
  const pairs = alignRows(
    alignable(before.grid, old, before.headers),
    alignable(after.grid, now, after.headers),
  ).map(({ before: i, after: j }) => ({
    before: i === null ? null : old[i]!,
    after: j === null ? null : now[j]!,
  }));
  return withMoves(pairedByPlace(pairs), before, after);
}

function keyOf(cell: Cell | undefined): string {
  return isFilled(cell) ? `${cell.type}:${cell.value}` : '';
}

function filledColumns(grid: Grid): number[] {
  const width = grid.reduce((most, row) => Math.max(most, row.length), 0);
  const all = Array.from({ length: width }, (_, column) => column);
  const empty = new Set(all);
  for (const row of grid) {
    for (const column of empty) if (isFilled(row[column])) empty.delete(column);
    // Most often the first few rows fill every column.
    if (empty.size === 0) break;
  }
  return all.filter((column) => !empty.has(column));
}

/** Whether a column, cell for cell, stands at another place now: without headers that is how a move is seen. */
function hasMoved(old: Grid, oldColumns: number[], now: Grid, nowColumns: number[]): boolean {
  if (old.length !== now.length) return false;
  const whole = (grid: Grid, column: number) =>
    grid.map((row) => keyOf(row[column])).join('\u0001');
  const before = oldColumns.map((column) => whole(old, column));
  const after = nowColumns.map((column) => whole(now, column));
  return after.some((key, at) => key !== before[at] && before.includes(key));
}

/** Ties columns that went and came back elsewhere with the same header, or without one with the same cells. */
function withMoves(
  pairs: readonly ColumnPair[],
  before: { grid: Grid; headers: readonly string[] },
  after: { grid: Grid; headers: readonly string[] },
): ColumnPair[] {
  const nameOf = ({ grid, headers }: typeof before, column: number) =>
    headers[column]
      ? `header ${headers[column]}`
      : grid.map((row) => keyOf(row[column])).join('\u0001');
  const gone = new Map<string, number[]>();
  for (const pair of pairs) {
    if (pair.before === null || pair.after !== null) continue;
    const name = nameOf(before, pair.before);
    gone.set(name, [...(gone.get(name) ?? []), pair.before]);
  }
  const moved = new Set<number>();
  const come = pairs.map((pair): ColumnPair => {
    if (pair.before !== null || pair.after === null) return pair;
    const from = gone.get(nameOf(after, pair.after))?.shift();
    if (from === undefined) return pair;
    moved.add(from);
    return { before: from, after: pair.after, isMoved: true };
  });
  return come.filter((pair) => pair.after !== null || !moved.has(pair.before!));
}

/** Removed and inserted columns between the same neighbours, in equal numbers, become changed ones. */
function pairedByPlace(pairs: readonly ColumnPair[]): ColumnPair[] {
  const done: ColumnPair[] = [];
  for (let at = 0; at < pairs.length; ) {
    let end = at;
    while (end < pairs.length && (pairs[end]!.before === null) !== (pairs[end]!.after === null))
      end++;
    const gap = pairs.slice(at, end);
    const gone = gap.flatMap(({ before }) => (before === null ? [] : [before]));
    const come = gap.flatMap(({ after }) => (after === null ? [] : [after]));
    if (gone.length === come.length) {
      done.push(...gone.map((before, nth) => ({ before, after: come[nth]! })));
    } else done.push(...gap);
    if (end < pairs.length) done.push(pairs[end]!);
    at = end + 1;
  }
  return done;
}

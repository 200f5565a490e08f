import { type BandKey, bandKeys, findBand } from '../look/overrides.ts';
import { findHeader, headerOf, headersOf } from '../sheet/header.ts';
import { shownPlaces } from '../sheet/merged.ts';
import { type Cell, gridOf, isFilled, type Snapshot } from '../sheet/sheet.ts';
import { isTotalsRow, totalsRows } from '../sheet/totals.ts';
import type { ChartMaking, SeriesMaking } from './making.ts';
import { areYears } from './years.ts';

type Grid = (Cell | undefined)[][];

/** A column (or row) of the cells that can be a series, as it is set. */
interface OfferedSeries extends SeriesMaking {
  /** Its place among the columns. */
  at: number;
}

/** Which columns (or rows) of the cells are drawn, and which one names their points. */
export interface DrawnColumns {
  header: Grid[number] | null;
  names: string[];
  keys: BandKey[];
  body: Grid;
  /** How many rows of totals there are. */
  totals: number;
  /** The column that names the points; absent where they are counted. */
  categories: number | undefined;
  /** The column that says where the points lie across: of a scatter chart one of numbers, else the one that names them. */
  across: number | undefined;
  /** Every column that can be a series, in order. */
  offered: OfferedSeries[];
  /** Those that are drawn. */
  drawn: number[];
  /** What was set for a column that is not there now. */
  lost: BandKey[];
}

/** What of a making decides on the columns. */
type ColumnWish = Pick<ChartMaking, 'seriesBy' | 'kind' | 'withTotals' | 'points' | 'series'>;

/** Finds which columns (or rows) of the cells are drawn, and in which order. */
export function columnsOf(snapshot: Snapshot, making: ColumnWish): DrawnColumns {
  const upright = visibleGrid(snapshot);
  const turnedOrNot = making.seriesBy === 'rows' ? turned(upright) : headed(snapshot, upright);
  const { head, names, rows, totals: sums } = turnedOrNot;
  const totals = rows.filter((row) => sums.has(row)).length;
  // A table of nothing but totals is drawn as it is.
  const leavesOut = !making.withTotals && totals < rows.length;
  const body = leavesOut ? rows.filter((row) => !sums.has(row)) : rows;
  const width = Math.max(
    0,
    ...upright.rows.map(({ cells }) => cells.length),
    ...rows.map((row) => row.length),
  );
  const columns = Array.from({ length: width }, (_, index) => index);
  const keys = bandKeys(columns.map((column) => names[column] ?? ''));
  const hasNumbers = (column: number) => body.some((row) => row[column]?.type === 'number');
  const numeric = columns.filter(hasNumbers);
  const years = numeric.filter((column) =>
    areYears(
      names[column] ?? '',
      body.map((row) => row[column]),
    ),
  );
  const { points } = making;
  const chosen = points ? findBand(keys, points) : null;
  const lost = points && chosen === null ? [points] : [];
  // The first column without numbers names the points (for dates that is their column), else the one with years.
  const found =
    columns.find((column) => !hasNumbers(column) && body.some((row) => isFilled(row[column]))) ??
    years[0];
  const categories = points === null ? undefined : (chosen ?? found);
  const measured = numeric.length > 1 ? numeric[0] : undefined;
  const across = making.kind === 'scatter' ? (chosen ?? measured ?? categories) : categories;
  const { offered, missing } = inOrder(
    keys,
    numeric.filter((column) => column !== across && column !== categories),
    new Set(numeric.length > years.length ? years : []),
    making.series ?? [],
  );
  return {
    header: head.at(-1) ?? null,
    names,
    keys,
    body,
    totals,
    categories,
    across,
    offered,
    drawn: offered.filter(({ isLeftOut }) => !isLeftOut).map(({ at }) => at),
    lost: [...lost, ...missing],
  };
}

/** The columns that can be series in the order that was set, and what was set for columns that are not there. */
function inOrder(
  keys: readonly BandKey[],
  columns: readonly number[],
  leftOut: ReadonlySet<number>,
  set: readonly SeriesMaking[],
): { offered: OfferedSeries[]; missing: BandKey[] } {
  const rest = new Set(columns);
  const offered: OfferedSeries[] = [];
  const missing: BandKey[] = [];
  for (const each of set) {
    const at = findBand(keys, each.column);
    if (at === null) missing.push(each.column);
    else if (rest.delete(at)) offered.push({ ...each, column: keys[at]!, at });
  }
  for (const at of rest) offered.push({ column: keys[at]!, isLeftOut: leftOut.has(at), at });
  return { offered, missing };
}

/** A drawn series as it can be carried on: its cells from the first point to the last, with the ones that name them. */
export interface DrawnSeries {
  name: string;
  points: { name: Cell | undefined; value: Cell | undefined }[];
  header: Cell | undefined;
}

/** The series that a chart of these cells draws. */
export function drawnSeries(snapshot: Snapshot, making: ChartMaking): DrawnSeries[] {
  const columns = columnsOf(snapshot, making);
  const { header, body, across, drawn } = columns;
  return drawn.map((column) => ({
    name: seriesName(columns, column),
    header: header?.[column],
    points: body.map((row) => ({
      name: across === undefined ? undefined : row[across],
      value: row[column],
    })),
  }));
}

/** What the series of a column is called: by its header, else by its number. */
export function seriesName(
  { names, offered }: Pick<DrawnColumns, 'names' | 'offered'>,
  column: number,
): string {
  return names[column] || `Series ${offered.findIndex(({ at }) => at === column) + 1}`;
}

/** Rows under their header, with the names of the columns. */
interface Headed {
  head: Grid;
  names: string[];
  rows: Grid;
  /** Those of the rows that are totals of others. */
  totals: ReadonlySet<Grid[number]>;
}

/** The rows of cells that are shown, without empty ones, with the places of rows and columns in the area. */
interface VisibleGrid {
  rows: { at: number; cells: Grid[number] }[];
  columns: number[];
}

function headed(snapshot: Snapshot, { rows, columns }: VisibleGrid): Headed {
  const grid = gridOf(snapshot);
  const header = headerOf(snapshot, grid);
  const isHead = (at: number) => at < header.title + header.rows;
  const texts = headersOf(snapshot, grid);
  const totals = totalsRows(snapshot, grid);
  return {
    head: rows.filter(({ at }) => isHead(at) && at >= header.title).map(({ cells }) => cells),
    names: columns.map((column) => texts[column] ?? ''),
    rows: rows.filter(({ at }) => !isHead(at)).map(({ cells }) => cells),
    totals: new Set(rows.filter(({ at }) => totals.has(at)).map(({ cells }) => cells)),
  };
}

/** Rows as columns: the labels of the rows become the header. */
function turned({ rows }: VisibleGrid): Headed {
  const upright = rows.map(({ cells }) => cells);
  const width = Math.max(0, ...upright.map((row) => row.length));
  const grid = Array.from({ length: width }, (_, column) =>
    upright.map((row) => row[column]),
  ).filter((row) => row.some(isFilled));
  const { rows: count } = findHeader(grid);
  const head = grid.slice(0, count);
  return {
    head,
    names: (head[0] ?? []).map((cell) => cell?.text.trim() ?? ''),
    rows: grid.slice(count),
    totals: new Set(grid.slice(count).filter((row) => isTotalsRow(row, 'across'))),
  };
}

function visibleGrid(snapshot: Snapshot): VisibleGrid {
  const { rows, columns } = shownPlaces(snapshot);
  const grid = gridOf(snapshot);
  return {
    rows: rows
      .map((at) => ({ at, cells: columns.map((column) => grid[at]![column]) }))
      .filter(({ cells }) => cells.some(isFilled)),
    columns,
  };
}

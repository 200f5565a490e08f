import { scalarOf } from '../look/conditional.ts';
import { findHeader, headerOf, headersOf } from '../sheet/header.ts';
import { shownPlaces } from '../sheet/merged.ts';
import { type Cell, gridOf, isFilled, type Snapshot } from '../sheet/sheet.ts';
import type { ChartGroup, ChartSeries } from '../sheet/source-chart.ts';
import { isTotalsRow, totalsRows } from '../sheet/totals.ts';
import { categoriesOf } from './categories.ts';
import { type ChartData, notComputed, type SeriesData } from './chart-data.ts';

/** Kinds of chart that can be made of an object's cells. */
export const MADE_KINDS = ['column', 'bar', 'line', 'area', 'pie', 'doughnut', 'scatter'] as const;
export type MadeKind = (typeof MADE_KINDS)[number];

/** How a chart is made of the cells that an object takes. */
export interface ChartMaking {
  kind: MadeKind;
  /** Whether each column or each row is a series. */
  seriesBy: 'columns' | 'rows';
  stacking: ChartGroup['stacking'];
  /** Words above it; empty for none. */
  title: string;
  legend: ChartData['legend'];
  /** Whether a last row of sums is drawn like the others. */
  withTotals: boolean;
}

type Grid = (Cell | undefined)[][];

/** How a chart of these cells is best begun: a line over dates, columns otherwise. */
export function suggestMaking(snapshot: Snapshot): ChartMaking {
  const { body } = columnsOf(snapshot, { seriesBy: 'columns', kind: 'column', withTotals: false });
  const isOverTime = body.filter((row) => row[0]?.type === 'date').length > body.length / 2;
  return {
    kind: isOverTime ? 'line' : 'column',
    seriesBy: 'columns',
    stacking: 'none',
    title: '',
    legend: 'bottom',
    withTotals: false,
  };
}

/**
 * A chart of what an object shows: names from the header, categories from the first column that is no number, one series
 * for each column (or row) with numbers in it. What cannot be drawn is said in the warnings.
 */
export function makeChart(snapshot: Snapshot, making: ChartMaking): ChartData {
  const cells = columnsOf(snapshot, making);
  const { body, categories, across, drawn } = cells;
  const { kind } = making;
  const isRound = kind === 'pie' || kind === 'doughnut';
  const isFree = kind === 'scatter';
  const shown = isRound ? drawn.slice(0, 1) : drawn;
  const series = shown.map((column, index) => seriesOf(column, index, cells, isFree));
  const { together, apart, isMixed } = partShares(series, making);
  const acrossCell =
    across === undefined ? undefined : body.find((row) => isFilled(row[across]))?.[across];
  const stacking = isRound || isFree || kind === 'line' ? 'none' : making.stacking;
  const groups = [
    groupOf(together, {
      kind,
      stacking,
      isSecondary: false,
      ...(kind === 'doughnut' ? { hole: 55 } : {}),
    }),
  ];
  const axes: ChartData['axes'] = [
    { ...AXIS, role: 'category', hasGrid: false, format: acrossCell?.format ?? 'General' },
    {
      ...AXIS,
      role: 'value',
      hasGrid: true,
      format: making.stacking === 'share' ? '0%' : (together[0]?.format ?? 'General'),
    },
  ];
  if (apart.length > 0) {
    groups.push(groupOf(apart, { kind: 'line', stacking: 'none', isSecondary: true }));
    const { format } = apart[0]!;
    axes.push({ ...AXIS, role: 'second value', hasGrid: false, min: 0, format });
  }
  return {
    title: making.title,
    // Without a column that names them the points are counted.
    ...(categories === undefined
      ? { labels: body.map((_, at) => String(at + 1)), dates: null }
      : categoriesOf(body.map((row) => row[categories]))),
    groups,
    axes,
    legend: isRound || series.length > 1 ? making.legend : null,
    warnings: [
      ...warningsOf(cells, shown, making),
      ...(isMixed && apart.length === 0 && !isFree ? [MIXED] : []),
    ],
  };
}

const AXIS = {
  title: '',
  min: null,
  max: null,
  isReversed: false,
  isLogarithmic: false,
  isHidden: false,
};
const MIXED =
  'Shares and amounts stand on one axis: pick columns of one measure, or draw them as columns or lines.';

function groupOf(
  series: SeriesData[],
  group: Omit<ChartData['groups'][number]['group'], 'series'>,
): ChartData['groups'][number] {
  return { group: { ...group, series: series.map((each) => each.series) }, series };
}

/** What is to be known about the cells that cannot be drawn as they are. */
function warningsOf(
  { body, totals, drawn }: DrawnColumns,
  shown: readonly number[],
  making: ChartMaking,
): string[] {
  const warnings: string[] = [];
  if (drawn.length === 0) warnings.push('There are no numbers in these cells to draw.');
  if (shown.length < drawn.length) warnings.push('A pie shows one series: the first of them.');
  const count = (type: Cell['type']) =>
    shown.reduce((sum, column) => sum + body.filter((row) => row[column]?.type === type).length, 0);
  const texts = count('text');
  if (texts > 0) {
    warnings.push(
      `${texts} ${texts === 1 ? 'cell holds a text' : 'cells hold texts'} where a number is needed: left as gaps.`,
    );
  }
  if (totals > 0 && !making.withTotals) {
    const rows = totals === 1 ? 'The row of totals is' : `${totals} rows of totals are`;
    warnings.push(`${rows} not drawn.`);
  }
  const unknown = count('uncomputed');
  if (unknown > 0) warnings.push(notComputed(unknown));
  return warnings;
}

/** One column of the cells as a series; a free one has its own places across, counted where none is said. */
function seriesOf(
  column: number,
  index: number,
  { names, body, across }: DrawnColumns,
  isFree: boolean,
): SeriesData {
  const own: ChartSeries = {
    name: null,
    categories: null,
    values: null,
    hasMarkers: body.length <= 40,
  };
  const x = body.map((row, at) =>
    across === undefined ? at + 1 : (serial(row[across]) ?? at + 1),
  );
  return {
    name: names[column] || `Series ${index + 1}`,
    values: body.map((row) => numberOf(row[column])),
    ...(isFree ? { x } : {}),
    format: body.find((row) => row[column]?.type === 'number')?.[column]?.format ?? 'General',
    series: isFree ? { ...own, hasLine: false } : own,
  };
}

/** Shares beside amounts would lie flat on the axis: where they may, they get one of their own, as lines over the columns. */
function partShares(
  series: SeriesData[],
  { kind, stacking }: ChartMaking,
): { together: SeriesData[]; apart: SeriesData[]; isMixed: boolean } {
  const isShare = ({ format }: SeriesData) => format.includes('%');
  const isMixed = series.some(isShare) && !series.every(isShare);
  const mayPart = ['column', 'line', 'area'].includes(kind) && stacking === 'none';
  const apart = isMixed && mayPart ? series.filter(isShare) : [];
  return { together: series.filter((each) => !apart.includes(each)), apart, isMixed };
}

type DrawnColumns = ReturnType<typeof columnsOf>;

/** Which columns (or rows) of the cells are drawn, and which one names their points. */
function columnsOf(
  snapshot: Snapshot,
  making: Pick<ChartMaking, 'seriesBy' | 'kind' | 'withTotals'>,
) {
  const upright = visibleGrid(snapshot);
  const {
    head,
    names,
    rows,
    totals: sums,
  } = making.seriesBy === 'rows' ? turned(upright) : headed(snapshot, upright);
  const totals = rows.filter((row) => sums.has(row)).length;
  // A table of nothing but totals is drawn as it is.
  const leavesOut = !making.withTotals && totals < rows.length;
  const body = leavesOut ? rows.filter((row) => !sums.has(row)) : rows;
  const header = head.at(-1) ?? null;
  const width = Math.max(
    0,
    ...upright.rows.map(({ cells }) => cells.length),
    ...rows.map((row) => row.length),
  );
  const columns = Array.from({ length: width }, (_, index) => index);
  const hasNumbers = (column: number) => body.some((row) => row[column]?.type === 'number');
  // The first column without numbers names the points; for dates that is their column.
  const categories = columns.find(
    (column) => !hasNumbers(column) && body.some((row) => isFilled(row[column])),
  );
  const numeric = columns.filter(hasNumbers);
  const across =
    making.kind === 'scatter' ? (numeric.length > 1 ? numeric[0] : categories) : categories;
  return {
    header,
    names,
    body,
    totals,
    categories,
    across,
    drawn: numeric.filter((each) => each !== across),
  };
}

/** A drawn series as it can be carried on: its cells from the first point to the last, with the ones that name them. */
export interface DrawnSeries {
  name: string;
  points: { name: Cell | undefined; value: Cell | undefined }[];
  header: Cell | undefined;
}

/** The series that a chart of these cells draws. */
export function drawnSeries(snapshot: Snapshot, making: ChartMaking): DrawnSeries[] {
  const { header, names, body, across, drawn } = columnsOf(snapshot, making);
  return drawn.map((column, index) => ({
    name: names[column] || `Series ${index + 1}`,
    header: header?.[column],
    points: body.map((row) => ({
      name: across === undefined ? undefined : row[across],
      value: row[column],
    })),
  }));
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

function numberOf(cell: Cell | undefined): number | null {
  return cell?.type === 'number' ? (cell.value as number) : null;
}

function serial(cell: Cell | undefined): number | null {
  const value = scalarOf(cell);
  return typeof value === 'number' ? value : null;
}

import type { ChartData, SeriesData } from './chart.ts';
import { scalarOf } from './conditional.ts';
import { hasHeaderRow } from './header.ts';
import { type Cell, gridOf, type Snapshot } from './sheet.ts';
import type { ChartGroup, ChartKind, ChartSeries } from './sourcechart.ts';
import { isTotalsRow } from './totals.ts';

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
  const { body } = parts(visibleGrid(snapshot), false);
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
  const warnings: string[] = [];
  const { header, body, totals, categories, across, drawn } = columnsOf(snapshot, making);
  const isFree = making.kind === 'scatter';
  const isRound = making.kind === 'pie' || making.kind === 'doughnut';
  if (drawn.length === 0) warnings.push('There are no numbers in these cells to draw.');
  if (isRound && drawn.length > 1) {
    warnings.push('A pie shows one series: the first of them.');
  }
  const shown = isRound ? drawn.slice(0, 1) : drawn;
  const texts = shown.flatMap((column) =>
    body.filter((row) => row[column]?.type === 'text'),
  ).length;
  if (texts > 0) {
    warnings.push(
      `${texts} ${texts === 1 ? 'cell holds a text' : 'cells hold texts'} where a number is needed: left as gaps.`,
    );
  }
  if (totals > 0 && !making.withTotals) warnings.push('The row of totals is not drawn.');
  const kind: ChartKind = making.kind;
  const series = shown.map((column, index): SeriesData => {
    const values = body.map((row) => numberOf(row[column]));
    const own: ChartSeries = {
      name: null,
      categories: null,
      values: null,
      hasMarkers: body.length <= 40,
    };
    return {
      name: header?.[column]?.text.trim() || `Series ${index + 1}`,
      values,
      ...(isFree
        ? {
            x: body.map((row, at) =>
              across === undefined ? at + 1 : (serial(row[across]) ?? at + 1),
            ),
          }
        : {}),
      format: body.find((row) => row[column]?.type === 'number')?.[column]?.format ?? 'General',
      series: isFree ? { ...own, hasLine: false } : own,
    };
  });
  // Shares beside amounts would lie flat on the axis: they get one of their own, as lines over the columns.
  const isShare = ({ format }: SeriesData) => format.includes('%');
  const mayPart = ['column', 'line', 'area'].includes(kind) && making.stacking === 'none';
  const isMixed = series.some(isShare) && !series.every(isShare);
  const apart = isMixed && mayPart ? series.filter(isShare) : [];
  if (isMixed && !mayPart && !isFree) {
    warnings.push(
      'Shares and amounts stand on one axis: pick columns of one measure, or draw them as columns or lines.',
    );
  }
  const together = series.filter((each) => !apart.includes(each));
  const axisFormat = together[0]?.format ?? 'General';
  const axis = {
    title: '',
    min: null,
    max: null,
    isReversed: false,
    isLogarithmic: false,
    isHidden: false,
  };
  const acrossCell =
    across === undefined ? undefined : body.find((row) => isFilled(row[across]))?.[across];
  return {
    title: making.title,
    labels: body.map((row, at) =>
      categories === undefined ? String(at + 1) : (row[categories]?.text ?? ''),
    ),
    groups: [
      {
        group: {
          kind,
          stacking: isRound || isFree || kind === 'line' ? 'none' : making.stacking,
          isSecondary: false,
          ...(kind === 'doughnut' ? { hole: 55 } : {}),
          series: together.map((each) => each.series),
        },
        series: together,
      },
      ...(apart.length > 0
        ? [
            {
              group: {
                kind: 'line' as const,
                stacking: 'none' as const,
                isSecondary: true,
                series: apart.map((each) => each.series),
              },
              series: apart,
            },
          ]
        : []),
    ],
    axes: [
      { ...axis, role: 'category', hasGrid: false, format: acrossCell?.format ?? 'General' },
      {
        ...axis,
        role: 'value',
        hasGrid: true,
        format: making.stacking === 'share' ? '0%' : axisFormat,
      },
      ...(apart.length > 0
        ? [
            {
              ...axis,
              role: 'second value' as const,
              hasGrid: false,
              min: 0,
              format: apart[0]!.format,
            },
          ]
        : []),
    ],
    legend: isRound || series.length > 1 ? making.legend : null,
    warnings,
  };
}

/** Which columns (or rows) of the cells are drawn, and which one names their points. */
function columnsOf(snapshot: Snapshot, making: ChartMaking) {
  const upright = visibleGrid(snapshot);
  const grid = making.seriesBy === 'rows' ? transposed(upright) : upright;
  const { header, body, totals } = parts(grid, making.withTotals);
  const width = Math.max(0, ...grid.map((row) => row.length));
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
  const { header, body, across, drawn } = columnsOf(snapshot, making);
  return drawn.map((column, index) => ({
    name: header?.[column]?.text.trim() || `Series ${index + 1}`,
    header: header?.[column],
    points: body.map((row) => ({
      name: across === undefined ? undefined : row[across],
      value: row[column],
    })),
  }));
}

/** Header row, rows to draw, and how many rows of totals stand below them. */
function parts(
  grid: Grid,
  withTotals: boolean,
): { header: Grid[number] | null; body: Grid; totals: number } {
  const filled = grid.filter((row) => row.some(isFilled));
  const header = hasHeaderRow(filled) ? filled[0]! : null;
  const rows = header ? filled.slice(1) : filled;
  let end = rows.length;
  while (end > 1 && isTotalsRow(rows[end - 1]!)) end--;
  return { header, body: withTotals ? rows : rows.slice(0, end), totals: rows.length - end };
}

/** Rows of cells without what is hidden. */
function visibleGrid(snapshot: Snapshot): Grid {
  const { area } = snapshot;
  const rows = new Set(snapshot.rows.filter(({ hidden }) => hidden).map(({ index }) => index));
  const columns = new Set(
    snapshot.columns.filter(({ hidden }) => hidden).map(({ index }) => index),
  );
  return gridOf(snapshot).flatMap((row, r) =>
    rows.has(area.top + r)
      ? []
      : [Array.from(row, (cell) => cell).filter((_, c) => !columns.has(area.left + c))],
  );
}

function transposed(grid: Grid): Grid {
  const width = Math.max(0, ...grid.map((row) => row.length));
  return Array.from({ length: width }, (_, column) => grid.map((row) => row[column]));
}

function isFilled(cell: Cell | undefined): cell is Cell {
  return cell !== undefined && cell.type !== 'blank';
}

function numberOf(cell: Cell | undefined): number | null {
  return cell?.type === 'number' ? (cell.value as number) : null;
}

function serial(cell: Cell | undefined): number | null {
  const value = scalarOf(cell);
  return typeof value === 'number' ? value : null;
}

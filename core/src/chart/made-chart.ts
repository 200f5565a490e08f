import { scalarOf } from '../look/conditional.ts';
import { type Cell, isFilled, type Snapshot } from '../sheet/sheet.ts';
import type { ChartSeries } from '../sheet/source-chart.ts';
import { categoriesOf } from './categories.ts';
import { type ChartData, notComputed, type SeriesData } from './chart-data.ts';
import { columnsOf, type DrawnColumns, seriesName } from './drawn-columns.ts';
import { type AxisMaking, type ChartMaking, hasAxes, USUAL_AXIS } from './making.ts';

/** How a chart of these cells is best begun: a line over dates or years, columns otherwise. */
export function suggestMaking(snapshot: Snapshot): ChartMaking {
  const { body, categories } = columnsOf(snapshot, {
    seriesBy: 'columns',
    kind: 'column',
    withTotals: false,
  });
  const inTime = (cell: Cell | undefined) => cell?.type === 'date' || cell?.type === 'number';
  const isOverTime =
    categories !== undefined &&
    body.filter((row) => inTime(row[categories])).length > body.length / 2;
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
  const isRound = !hasAxes(making);
  const isFree = kind === 'scatter';
  const shown = isRound ? drawn.slice(0, 1) : drawn;
  const series = shown.map((column) => seriesOf(column, cells, making));
  const { together, apart } = partSeries(series, shown, cells, making);
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
  const { namesAxis = USUAL_AXIS, valueAxis = USUAL_AXIS, secondAxis = USUAL_AXIS } = making;
  const axes: ChartData['axes'] = [
    {
      ...axisOf(namesAxis, acrossCell?.format ?? 'General'),
      ...(isFree ? {} : { min: null, max: null }),
      role: 'category',
      hasGrid: false,
      // Bars stand in the order of the table, the first one at the top.
      isReversed: kind === 'bar',
    },
    {
      ...axisOf(valueAxis, stacking === 'share' ? '0%' : (together[0]?.format ?? 'General')),
      role: 'value',
      hasGrid: true,
    },
  ];
  if (apart.length > 0) {
    // Columns of another measure would hide those of the first.
    const second = kind === 'column' ? 'line' : kind;
    groups.push(groupOf(apart, { kind: second, stacking: 'none', isSecondary: true }));
    const { format } = apart[0]!;
    const axis = axisOf(secondAxis, format);
    // Shares are of a whole: their axis begins at nothing, unless some of them lie below it.
    const isWhole = apart.every(
      (each) => isShare(each) && each.values.every((value) => value === null || value >= 0),
    );
    const min = axis.min ?? (isWhole ? 0 : null);
    axes.push({ ...axis, min, role: 'second value', hasGrid: false });
  }
  const named = isFree || !namesAxis.format ? null : namesAxis.format;
  return {
    title: making.title,
    // Without a column that names them the points are counted.
    ...(categories === undefined
      ? { labels: body.map((_, at) => String(at + 1)), dates: null }
      : categoriesOf(
          body.map((row) => row[categories]),
          named,
        )),
    groups,
    axes,
    legend: isRound || series.length > 1 ? making.legend : null,
    levelsZeros: true,
    warnings: [
      ...warningsOf(cells, shown, making),
      ...(!isFree && [together, apart].some(isMixed) ? [MIXED] : []),
      ...(isRound && making.legend === null && series.some(hasThinSlice) ? [THIN] : []),
      ...(isRound ? [] : outsideOf(together, valueAxis)),
      ...outsideOf(apart, secondAxis),
    ],
  };
}

function axisOf(
  { title, min, max, format }: AxisMaking,
  usualFormat: string,
): Omit<ChartData['axes'][number], 'role' | 'hasGrid'> {
  // Bounds that leave no room between them are none.
  const isRange = min === null || max === null || min < max;
  return {
    title,
    min: isRange ? min : null,
    max: isRange ? max : null,
    isReversed: false,
    isLogarithmic: false,
    isHidden: false,
    format: format || usualFormat,
  };
}

const isShare = ({ format }: SeriesData) => format.includes('%');

/** Whether shares and amounts are among these series: the shares would lie flat. */
function isMixed(series: readonly SeriesData[]): boolean {
  return series.some(isShare) && !series.every(isShare);
}

const MIXED =
  'Shares and amounts stand on one axis: give one of them an axis of its own, or leave it out.';

/** A slice of less than this share has no room for its name. */
export const THIN_SLICE = 0.04;
const THIN = 'Thin slices have no room for their names: a legend says them.';

function hasThinSlice({ values }: SeriesData): boolean {
  const whole = values.reduce<number>((sum, value) => sum + (value ?? 0), 0);
  return values.some((value) => value !== null && value > 0 && value < whole * THIN_SLICE);
}

function groupOf(
  series: SeriesData[],
  group: Omit<ChartData['groups'][number]['group'], 'series'>,
): ChartData['groups'][number] {
  return { group: { ...group, series: series.map((each) => each.series) }, series };
}

/** What is to be known about the cells that cannot be drawn as they are. */
function warningsOf(
  { body, totals, drawn, offered, names, lost }: DrawnColumns,
  shown: readonly number[],
  making: ChartMaking,
): string[] {
  const warnings: string[] = [];
  if (offered.length === 0) warnings.push('There are no numbers in these cells to draw.');
  else if (drawn.length === 0) warnings.push('Every series is left out.');
  for (const { text } of lost) {
    warnings.push(`What is set for “${text}” waits: there is no such column now.`);
  }
  if (shown.length < drawn.length) {
    warnings.push(`A pie shows one series: ${names[shown[0]!] || 'the first of them'}.`);
  }
  const years = making.series === undefined ? offered.filter(({ isLeftOut }) => isLeftOut) : [];
  for (const { column } of years) {
    warnings.push(`“${column.text || 'One column'}” holds years: it is not drawn.`);
  }
  const count = (matches: (cell: Cell | undefined) => boolean) =>
    shown.reduce((sum, column) => sum + body.filter((row) => matches(row[column])).length, 0);
  const texts = count((cell) => cell?.type === 'text');
  if (texts > 0) {
    warnings.push(
      `${texts} ${texts === 1 ? 'cell holds a text' : 'cells hold texts'} where a number is needed: left as gaps.`,
    );
  }
  const below = hasAxes(making) ? 0 : count((cell) => (numberOf(cell) ?? 0) < 0);
  if (below > 0) {
    warnings.push(
      `${below} ${below === 1 ? 'figure is' : 'figures are'} below zero and cannot be a slice: left out.`,
    );
  }
  if (totals > 0 && !making.withTotals) {
    const rows = totals === 1 ? 'The row of totals is' : `${totals} rows of totals are`;
    warnings.push(`${rows} not drawn.`);
  }
  const unknown = count((cell) => cell?.type === 'uncomputed');
  if (unknown > 0) warnings.push(notComputed(unknown));
  return warnings;
}

/** Figures that the bounds of their axis do not show. */
function outsideOf(series: readonly SeriesData[], { min, max }: AxisMaking): string[] {
  if (min !== null && max !== null && min >= max) {
    return ['The least value of an axis must be below the greatest: neither is used.'];
  }
  const outside = series.reduce(
    (sum, { values }) =>
      sum +
      values.filter(
        (value) =>
          value !== null && ((min !== null && value < min) || (max !== null && value > max)),
      ).length,
    0,
  );
  if (outside === 0) return [];
  return [`${outside} ${outside === 1 ? 'figure lies' : 'figures lie'} outside of its axis.`];
}

/** One column of the cells as a series; a free one has its own places across, counted where none is said. */
function seriesOf(column: number, cells: DrawnColumns, making: ChartMaking): SeriesData {
  const { body, across } = cells;
  const own: ChartSeries = {
    name: null,
    categories: null,
    values: null,
    hasMarkers: body.length <= 40,
  };
  const isFree = making.kind === 'scatter';
  const x = body.map((row, at) =>
    across === undefined ? at + 1 : (serial(row[across]) ?? at + 1),
  );
  const values = body.map((row) => numberOf(row[column]));
  return {
    name: seriesName(cells, column),
    // A slice cannot be less than nothing.
    values: hasAxes(making)
      ? values
      : values.map((each) => (each !== null && each < 0 ? null : each)),
    ...(isFree ? { x } : {}),
    format: body.find((row) => row[column]?.type === 'number')?.[column]?.format ?? 'General',
    series: isFree ? { ...own, hasLine: false } : own,
  };
}

/**
 * The series that go by a second axis: those for which that is set, else shares beside amounts where they may, since they
 * would lie flat on the axis of the amounts.
 */
function partSeries(
  series: SeriesData[],
  columns: readonly number[],
  { offered }: DrawnColumns,
  making: ChartMaking,
): { together: SeriesData[]; apart: SeriesData[] } {
  const { kind, stacking } = making;
  const parts = isMixed(series) && ['column', 'line', 'area'].includes(kind) && stacking === 'none';
  const apart = hasAxes(making)
    ? series.filter((each, index) => {
        const set = offered.find(({ at }) => at === columns[index])?.isOnSecond;
        return set ?? (parts && isShare(each));
      })
    : [];
  // Where all go by the second axis it is the first.
  if (apart.length === series.length) return { together: series, apart: [] };
  return { together: series.filter((each) => !apart.includes(each)), apart };
}

function numberOf(cell: Cell | undefined): number | null {
  return cell?.type === 'number' ? (cell.value as number) : null;
}

function serial(cell: Cell | undefined): number | null {
  const value = scalarOf(cell);
  return typeof value === 'number' ? value : null;
}

/** The series that a chart of these cells has, in their order, and whether each goes by a second axis now. */
export function seriesOffered(
  snapshot: Snapshot,
  making: ChartMaking,
): (DrawnColumns['offered'][number] & { name: string; isApart: boolean })[] {
  const cells = columnsOf(snapshot, making);
  const shown = cells.drawn;
  const series = shown.map((column) => seriesOf(column, cells, making));
  const { apart } = partSeries(series, shown, cells, making);
  return cells.offered.map((each) => ({
    ...each,
    name: seriesName(cells, each.at),
    isApart: apart.includes(series[shown.indexOf(each.at)]!),
  }));
}

/** The columns (or rows) that may name the points of a chart, and which one does now; null for none. */
export function pointsOffered(
  snapshot: Snapshot,
  making: ChartMaking,
): { columns: DrawnColumns['keys']; now: number | null } {
  const { keys, across, body } = columnsOf(snapshot, making);
  const isNamed = (at: number) => body.some((row) => isFilled(row[at]));
  const places = keys.map((_, at) => at).filter(isNamed);
  const now = across === undefined ? -1 : places.indexOf(across);
  return { columns: places.map((at) => keys[at]!), now: now < 0 ? null : now };
}

import { scalarOf } from '../look/conditional.ts';
import { type Area, cellCount, parseReference } from '../sheet/address.ts';
import { hiddenPlaces } from '../sheet/hidden.ts';
import { showNumber, showsDate } from '../sheet/number-format.ts';
import { gridOf, type Snapshot } from '../sheet/sheet.ts';
import type {
  ChartAxis,
  ChartCells,
  ChartGroup,
  ChartSeries,
  ChartText,
  SourceChart,
} from '../sheet/source-chart.ts';
import { type Categories, categoriesOf } from './categories.ts';

/** A series with its values as the cells hold them now. */
export interface SeriesData {
  name: string;
  values: (number | null)[];
  /** The horizontal values of a scatter or bubble chart. */
  x?: (number | null)[];
  sizes?: (number | null)[];
  /** Number format code of the first value. */
  format: string;
  series: ChartSeries;
  /** What carries another series on: the forecast itself, or one of its bounds. */
  carriesOn?: { name: string; role: 'forecast' | 'lower' | 'upper' };
}

/** A chart with everything it draws. */
export interface ChartData {
  title: string;
  labels: string[];
  /** Number format of labels that are dates; null where they are none. */
  dates: string | null;
  groups: { group: ChartGroup; series: SeriesData[] }[];
  axes: (Omit<ChartAxis, 'title' | 'format'> & { title: string; format: string })[];
  legend: SourceChart['legend'];
  /** Whether nothing stands at the same height on both value axes; a source draws its own as it says. */
  levelsZeros: boolean;
  warnings: string[];
}

/** The cells of a reference as charts write it: `Counts!$B$5:$B$16`, or several in brackets with commas between. */
export function parseChartCells(text: string): ChartCells | null {
  const bare = text
    .trim()
    .replace(/^=/, '')
    .replace(/^\((.*)\)$/s, '$1');
  const parts = bare.match(/(?:'(?:[^']|'')*'|[^,'])+/g) ?? [];
  const references = parts.map((part) => parseReference(part.trim()));
  const areas: Area[] = [];
  let sheet: string | null = null;
  for (const reference of references) {
    if (!reference.ok || reference.value.sheet === null) return null;
    if (sheet !== null && reference.value.sheet !== sheet) return null;
    sheet = reference.value.sheet;
    areas.push(reference.value.area);
  }
  return sheet === null ? null : { sheet, areas };
}

/** Every range that a chart reads. */
export function cellsOfChart(chart: SourceChart): ChartCells[] {
  const texts = [chart.title, ...chart.axes.map(({ title }) => title)];
  const inText = (text: ChartText | null) => (text && 'cells' in text ? [text.cells] : []);
  return [
    ...texts.flatMap(inText),
    ...chart.groups.flatMap(({ series }) =>
      series.flatMap((each) => [
        ...inText(each.name),
        ...[each.categories, each.values, each.sizes ?? null].filter((cells) => cells !== null),
      ]),
    ),
  ];
}

/** The most points that a series is drawn with. */
export const MAX_POINTS = 100_000;

/** What a chart draws now; `read` gives what its cells hold, null where they are not to be had. */
export function chartData(
  chart: SourceChart,
  read: (sheet: string, area: Area) => Snapshot | null,
): ChartData {
  const warnings = chart.unknown.map(
    (kind) => `A part of it (${kind}) is of a kind that is not drawn here.`,
  );
  const cellsOf = (cells: ChartCells | null): FlatCell[] => {
    if (!cells) return [];
    const count = cells.areas.reduce((sum, area) => sum + cellCount(area), 0);
    if (count > MAX_POINTS) {
      warnings.push(`A series names ${count.toLocaleString('en')} cells, too many to draw.`);
      return [];
    }
    return cells.areas.flatMap((area) => {
      const snapshot = read(cells.sheet, area);
      if (!snapshot) {
        warnings.push(`The cells of the sheet ${cells.sheet} cannot be read.`);
        return [];
      }
      return flatten(snapshot);
    });
  };
  const textOf = (text: ChartText | null): string =>
    text === null
      ? ''
      : 'text' in text
        ? text.text
        : cellsOf(text.cells)
            .map((cell) => cell?.text ?? '')
            .filter(Boolean)
            .join(' ');

  const axisFormat = chart.axes.find(({ role }) => role === 'category')?.format;
  const axisDates = axisFormat && showsDate(axisFormat) ? axisFormat : null;
  let named: Categories = { labels: [], dates: null };
  const groups = chart.groups.map((group) => ({
    group,
    series: group.series.map((series, index): SeriesData => {
      const cells = cellsOf(series.values);
      const unknown = cells.filter((cell) => cell?.type === 'uncomputed').length;
      if (unknown > 0) warnings.push(notComputed(unknown));
      const values = series.values ? cells.map(numberOf) : (series.literalValues ?? []);
      const isFree = group.kind === 'scatter' || group.kind === 'bubble';
      const categories = categoriesOfSeries(series, cellsOf, axisDates);
      if (!isFree && categories.labels.length > named.labels.length) named = categories;
      const x = isFree ? horizontal(series, cellsOf, values.length) : undefined;
      const sizes = series.sizes ? cellsOf(series.sizes).map(numberOf) : undefined;
      return {
        name: textOf(series.name) || `Series ${index + 1}`,
        values,
        ...(x ? { x } : {}),
        ...(sizes ? { sizes } : {}),
        format: cells.find((cell) => typeof cell?.value === 'number')?.format ?? 'General',
        series,
      };
    }),
  }));
  const longest = Math.max(
    0,
    ...groups.flatMap(({ series }) => series.map(({ values }) => values.length)),
  );
  const labels = [...named.labels];
  // Without categories points are counted.
  for (let at = labels.length; at < longest; at++) labels.push(String(at + 1));
  const formatOf = (isSecond: boolean) =>
    groups.find(({ group }) => group.isSecondary === isSecond)?.series[0]?.format ?? 'General';
  return {
    title: textOf(chart.title) || soleName(chart, groups),
    labels,
    dates: named.dates,
    groups,
    axes: chart.axes.map((axis) => ({
      ...axis,
      title: textOf(axis.title),
      format:
        axis.format ??
        (axis.role === 'category' ? 'General' : formatOf(axis.role === 'second value')),
    })),
    legend: chart.legend,
    levelsZeros: false,
    warnings: [...new Set(warnings)],
  };
}

/** What is said of figures that a chart cannot draw, since no program has computed them. */
export function notComputed(count: number): string {
  return `${count} ${count === 1 ? 'figure is' : 'figures are'} not computed in the source: left as gaps.`;
}

type FlatCell =
  | { value: number | string | boolean; text: string; type: string; format?: string }
  | undefined;

/** A chart that has a title without words and one series is named after that (common practice). */
function soleName(chart: SourceChart, groups: ChartData['groups']): string {
  const series = groups.flatMap((group) => group.series);
  return chart.title !== null && series.length === 1 ? series[0]!.name : '';
}

/** Cells row by row, hidden rows and columns left out, as charts do unless told otherwise (21.2.2.146). */
function flatten(snapshot: Snapshot): FlatCell[] {
  const { area } = snapshot;
  const rows = hiddenPlaces(snapshot.rows);
  const columns = hiddenPlaces(snapshot.columns);
  return gridOf(snapshot).flatMap((row, r) =>
    rows.has(area.top + r)
      ? []
      : Array.from(row, (cell) => cell).filter((_, c) => !columns.has(area.left + c)),
  );
}

function numberOf(cell: FlatCell): number | null {
  if (!cell) return null;
  const value = scalarOf(cell as Parameters<typeof scalarOf>[0]);
  if (typeof value === 'number') return value;
  // A text counts as zero, an empty cell is a gap (common practice).
  return typeof value === 'string' ? 0 : null;
}

/** What names the points of a series; `axisDates` is the format that the axis has for dates, if it has one of its own. */
function categoriesOfSeries(
  series: ChartSeries,
  cellsOf: (cells: ChartCells | null) => FlatCell[],
  axisDates: string | null,
): Categories {
  if (!series.categories) return { labels: series.literalCategories ?? [], dates: null };
  const [first] = series.categories.areas;
  const cells = cellsOf(series.categories);
  const width = first ? first.right - first.left + 1 : 1;
  const height = first ? first.bottom - first.top + 1 : 1;
  if (series.categories.areas.length > 1 || width === 1 || height === 1) {
    return categoriesOf(cells, axisDates);
  }
  // Categories of several levels stand side by side; shown as one text.
  return {
    labels: Array.from({ length: height }, (_, row) =>
      cells
        .slice(row * width, (row + 1) * width)
        .map((cell) => cell?.text)
        .filter(Boolean)
        .join(' '),
    ),
    dates: null,
  };
}

function horizontal(
  series: ChartSeries,
  cellsOf: (cells: ChartCells | null) => FlatCell[],
  length: number,
): (number | null)[] {
  const cells = cellsOf(series.categories);
  // Texts cannot be measured along the axis: the points are counted then (common practice).
  if (cells.length === 0 || cells.some((cell) => cell?.type === 'text')) {
    return Array.from({ length }, (_, at) => at + 1);
  }
  return cells.map(numberOf);
}

/** A value as an axis shows it. */
export function axisText(value: number, format: string): string {
  return showNumber(Number(value.toPrecision(12)), format);
}

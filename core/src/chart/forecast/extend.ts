import type { Result } from '../../fault.ts';
import { scalarOf } from '../../look/conditional.ts';
import { serialToIso } from '../../sheet/date.ts';
import { showNumber } from '../../sheet/number-format.ts';
import type { Band, Cell, Dress, Snapshot } from '../../sheet/sheet.ts';
import { formatOfDate } from '../categories.ts';
import { axisText, type ChartData, type SeriesData } from '../chart-data.ts';
import { type DrawnSeries, drawnSeries } from '../drawn-columns.ts';
import { suggestMaking } from '../made-chart.ts';
import type { ChartMaking } from '../making.ts';
import type { ForecastPoint, ForecastWish, SeriesForecast, SeriesInput } from './forecast.ts';

/** Series are carried on at most so many at a time. */
const MOST_SERIES = 8;

/** The series of an object that a forecast carries on, in the order in which they are drawn. */
export function forecastInputs(snapshot: Snapshot, making?: ChartMaking): SeriesInput[] {
  // Points that lie anywhere across follow each other, as those do whose names say nothing about time.
  const isFree = making?.kind === 'scatter';
  return drawnSeries(snapshot, making ?? suggestMaking(snapshot))
    .slice(0, MOST_SERIES)
    .map(({ name, points }) => {
      const times = points.map((point) =>
        isFree && point.name?.type !== 'date' ? null : timeOf(point.name),
      );
      const timed = times.filter((time) => time !== null).length;
      return {
        name,
        times: timed > points.length / 2 ? times : null,
        values: points.map(({ value }) =>
          value?.type === 'number' ? (value.value as number) : null,
        ),
      };
    });
}

/** When a point is: the serial of its date, or its year. */
function timeOf(cell: Cell | undefined): number | null {
  if (cell?.type === 'number') return cell.value as number;
  if (cell?.type !== 'date') return null;
  const value = scalarOf(cell);
  return typeof value === 'number' ? value : null;
}

/** Kinds of chart in which a series can be carried on: those along an axis, not stacked. */
export function canCarryOn({ kind, stacking }: ChartMaking): boolean {
  return kind !== 'pie' && kind !== 'doughnut' && (stacking === 'none' || kind === 'line');
}

/**
 * A chart with what comes after its series: for each the forecast as a line and its bounds, which begin at its last value.
 * Series that cannot be carried on stay as they are; why is said in the warnings.
 */
export function extendChart(
  data: ChartData,
  snapshot: Snapshot,
  making: ChartMaking,
  wish: ForecastWish,
  forecasts: readonly Result<SeriesForecast>[],
): ChartData {
  const drawn = drawnSeries(snapshot, making);
  const length = data.labels.length;
  const warnings = [...data.warnings];
  const firstDone = forecasts.findIndex((each) => each.ok);
  const labels = [
    ...data.labels,
    ...(firstDone < 0 ? [] : labelsAfter(data, drawn[firstDone]!, forecasts[firstDone]!, wish)),
  ];
  const groups = data.groups.map((group) => ({ ...group, series: [...group.series] }));
  const isFree = making.kind === 'scatter';
  forecasts.forEach((forecast, index) => {
    const name = drawn[index]?.name ?? '';
    if (!forecast.ok) {
      warnings.push(`${name}: ${forecast.fault.message}`);
      return;
    }
    const group = groups.find(({ series }) => series.some((each) => each.name === name));
    const base = group?.series.find((each) => each.name === name);
    if (!group || !base) return;
    const last = base.values.findLastIndex((value) => value !== null);
    const along = (pick: (point: ForecastPoint) => number): (number | null)[] => [
      ...new Array<null>(last).fill(null),
      base.values[last] ?? null,
      ...new Array<null>(Math.max(0, length - last - 1)).fill(null),
      ...forecast.value.points.map(pick),
    ];
    const add = (
      role: 'forecast' | 'lower' | 'upper',
      words: string,
      pick: (point: ForecastPoint) => number,
    ): SeriesData => ({
      name: `${name}, ${words}`,
      values: along(pick),
      ...(isFree ? { x: freeAfter(base, forecast.value.points, length) } : {}),
      format: base.format,
      series: { ...base.series, hasMarkers: false, hasLine: true },
      carriesOn: { name, role },
    });
    group.series.push(
      add('lower', `lower ${wish.confidence} %`, ({ lower }) => lower),
      add('upper', `upper ${wish.confidence} %`, ({ upper }) => upper),
      add('forecast', `forecast with ${wish.confidence} % bounds`, ({ value }) => value),
    );
  });
  // What is a forecast must be told from what was counted.
  const legend = data.legend ?? (firstDone < 0 ? null : 'bottom');
  return { ...data, labels, groups, legend, warnings: [...new Set(warnings)] };
}

/** Where the points of a forecast lie across: at their times, or one step after another. */
function freeAfter(
  base: SeriesData,
  points: readonly ForecastPoint[],
  length: number,
): (number | null)[] {
  const x = [...(base.x ?? Array.from({ length }, (_, at) => at + 1))];
  const step = x.length > 1 ? ((x.at(-1) ?? 0) - (x[0] ?? 0)) / (x.length - 1) : 1;
  const end = x.at(-1) ?? length;
  return [...x, ...points.map(({ time }, at) => time ?? end + step * (at + 1))];
}

function labelsAfter(
  { dates }: ChartData,
  series: DrawnSeries,
  forecast: Result<SeriesForecast>,
  { periods }: ForecastWish,
): string[] {
  const last = lastTimed(series);
  const points = forecast.ok ? forecast.value.points : [];
  return Array.from({ length: periods }, (_, at) => {
    const time = points[at]?.time ?? null;
    if (time === null) return `+${at + 1}`;
    return dates === null ? timeText(time, last) : showNumber(time, dates);
  });
}

function lastTimed({ points }: DrawnSeries): Cell | undefined {
  return points.findLast(({ name }) => timeOf(name) !== null)?.name;
}

/** A time as the cell shows its own. */
function timeText(time: number, cell: Cell | undefined): string {
  if (cell?.type !== 'number') return showNumber(time, formatOfDate(cell));
  // A year is written without separators.
  return axisText(time, /^\d+$/.test(cell.text) ? 'General' : (cell.format ?? 'General'));
}

/**
 * A table with what comes after its series: below it a line that says so and a row for each step, at its right two columns
 * for each series with the bounds. They are dressed like the last row, in slanted letters.
 */
export function extendTable(
  snapshot: Snapshot,
  wish: ForecastWish,
  forecasts: readonly Result<SeriesForecast>[],
): Snapshot {
  const drawn = drawnSeries(snapshot, suggestMaking(snapshot));
  const done = forecasts.flatMap((forecast, index) => {
    const series = drawn[index];
    const last = series?.points.findLast(({ value }) => value?.type === 'number');
    return forecast.ok && series && last?.value
      ? [{ series, last: last.value, named: lastTimed(series), points: forecast.value.points }]
      : [];
  });
  if (done.length === 0) return snapshot;
  const { area } = snapshot;
  const { dresses, slanted } = slanting(snapshot.dresses);
  const from = area.bottom + 1;
  const label = done[0]!.named ?? done[0]!.series.points.at(-1)?.name;
  const labels = { column: label?.column ?? area.left, ...slanted(label?.dress) };
  const cells: Cell[] = [{ row: from, ...labels, type: 'text', value: LABEL, text: LABEL }];
  const columns: Band[] = [];
  done.forEach((extended, index) => {
    const bounds: Bounds = [area.right + 2 * index + 1, area.right + 2 * index + 2];
    const width = snapshot.columns.find((band) => band.index === extended.last.column)?.size;
    for (const column of bounds) {
      columns.push({ index: column, ...(width === undefined ? {} : { size: width }) });
    }
    cells.push(...boundHeads(extended.series, bounds, wish, done.length > 1));
    const dressed = slanted(extended.last.dress);
    const format = forecastFormat(extended.series);
    extended.points.forEach((point, step) => {
      const row = from + 1 + step;
      if (index === 0) {
        cells.push({ row, ...stepName(point.time, step, extended.named), ...labels });
      }
      const figures: [number, number][] = [
        [extended.last.column, point.value],
        [bounds[0], point.lower],
        [bounds[1], point.upper],
      ];
      for (const [column, value] of figures) {
        const text = showNumber(value, format);
        cells.push({ row, column, type: 'number', value, text, format, ...dressed });
      }
    });
  });
  const bottom = from + Math.max(...done.map(({ points }) => points.length));
  return {
    ...snapshot,
    area: { ...area, bottom, right: area.right + 2 * done.length },
    cells: [...snapshot.cells, ...cells].sort((a, b) => a.row - b.row || a.column - b.column),
    columns: [...snapshot.columns, ...columns],
    dresses,
  };
}

/** The columns of the lower and the upper bound of a series. */
type Bounds = [lower: number, upper: number];

/** The dresses with slanted ones added as they are asked for, each once. */
function slanting(known: readonly Dress[]) {
  const dresses = [...known];
  const made = new Map<number, number>();
  const slanted = (dress: number | undefined): { dress?: number } => {
    const own = dress === undefined ? undefined : dresses[dress];
    if (dress === undefined || !own) return {};
    if (!made.has(dress)) {
      made.set(dress, dresses.push({ ...own, letters: { ...own.letters, italic: true } }) - 1);
    }
    return { dress: made.get(dress)! };
  };
  return { dresses, slanted };
}

/** The headers over the bounds of a series, where it has one; with its name where there are several. */
function boundHeads(
  { name, header }: DrawnSeries,
  bounds: Bounds,
  { confidence }: ForecastWish,
  isNamed: boolean,
): Cell[] {
  if (!header) return [];
  const { row, dress } = header;
  return [`lower ${confidence} %`, `upper ${confidence} %`].map((words, side) => {
    const text = isNamed ? `${name}, ${words}` : words;
    const dressed = dress === undefined ? {} : { dress };
    return { row, column: bounds[side]!, type: 'text', value: text, text, ...dressed };
  });
}

/** What names a step: its date as the others are written, or how many steps it is from the last. */
function stepName(
  time: number | null,
  step: number,
  named: Cell | undefined,
): Pick<Cell, 'type' | 'value' | 'text' | 'format'> {
  const text = time === null ? `+${step + 1}` : timeText(time, named);
  const isYear = named?.type === 'number';
  return {
    ...(time === null
      ? { type: 'text', value: text }
      : isYear
        ? { type: 'number', value: time }
        : { type: 'date', value: serialToIso(time, '1900') ?? text }),
    text,
    ...(named?.format ? { format: named.format } : {}),
  };
}

const LABEL = 'Forecast';

/** The number format of a series; where it is the general one, as many decimals as its figures show. */
function forecastFormat({ points }: DrawnSeries): string {
  const cells = points.flatMap(({ value }) => (value?.type === 'number' ? [value] : []));
  const own = cells.at(-1)?.format;
  if (own && own !== 'General') return own;
  const decimals = Math.max(
    0,
    ...cells.map(({ value }) => /\.(\d+)$/.exec(String(value))?.[1]?.length ?? 0),
  );
  return decimals === 0 ? '0' : `0.${'0'.repeat(Math.min(decimals, 6))}`;
}

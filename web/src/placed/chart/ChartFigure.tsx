import {
  axisOf,
  axisRange,
  axisText,
  CHART_GRID,
  CHART_INK,
  type ChartData,
  chartColour,
  levelZeros,
  type SeriesData,
  seriesColours,
  sharesOf,
  standsOnZero,
  THIN_SLICE,
} from '@tether/core';
import {
  type ChartConfiguration,
  type ChartDataset,
  Chart as ChartJs,
  type ChartOptions,
  type LegendItem,
  registerables,
} from 'chart.js';
import Labels from 'chartjs-plugin-datalabels';
import { useContext, useMemo } from 'react';
import { Chart } from 'react-chartjs-2';
import { Drawing } from '../nearness/nearness.ts';
import { FiguresTable } from './FiguresTable.tsx';
import { VectorChart } from './VectorChart.tsx';

// All of them: which kinds a source's charts have nobody knows before, and the library comes in a piece of its own.
ChartJs.register(...registerables);
// A face that the screens have loaded before any chart is drawn.
ChartJs.defaults.font.family = '"Source Sans 3 Variable", "Source Sans 3", sans-serif';

/** A chart with what its cells hold, drawn at the size of the box around it. */
export function ChartFigure(props: {
  data: ChartData;
  label: string;
  /** Whether its cells stand beside it: then they need not be read out once more. */
  isBesideCells?: boolean;
}) {
  const { data, label, isBesideCells = false } = props;
  const isPrinted = useContext(Drawing) !== 'near';
  const configuration = useMemo(() => {
    const { type, datasets, options } = configure(data);
    return { type, data: { labels: data.labels, datasets }, options, plugins: [Labels] };
  }, [data]);
  if (isPrinted) return <VectorChart configuration={configuration} label={label} />;
  return (
    <>
      <Chart
        // A chart that is drawn already can be given other values, but not other axes: those need a new one.
        key={axesOf(configuration)}
        {...configuration}
        role="img"
        aria-label={label}
      />
      {!isBesideCells && <FiguresTable data={data} label={label} />}
    </>
  );
}

/** Which axes a chart has, of which types, and what lies on them. */
function axesOf({ type, data, options }: ChartConfiguration): string {
  const scales = Object.entries(options?.scales ?? {}).map(([name, scale]) => [name, scale?.type]);
  const datasets = data.datasets.map((each) => [each.type, 'yAxisID' in each && each.yAxisID]);
  return JSON.stringify([type, options?.indexAxis, scales, datasets]);
}

type Kind = ChartConfiguration['type'];
const TYPES: Record<string, Kind> = {
  column: 'bar',
  bar: 'bar',
  line: 'line',
  area: 'line',
  pie: 'pie',
  doughnut: 'doughnut',
  scatter: 'scatter',
  bubble: 'bubble',
  radar: 'radar',
};

/** What the drawing library needs to know. */
function configure(data: ChartData): {
  type: Kind;
  datasets: ChartDataset[];
  options: ChartOptions;
} {
  const first = data.groups[0]?.group.kind ?? 'column';
  const isRound = first === 'pie' || first === 'doughnut';
  const isAcross = first === 'bar';
  let count = 0;
  const colours = seriesColours(data);
  const datasets = data.groups.flatMap(({ group, series }, at) => {
    const shares = group.stacking === 'share' ? sharesOf(series) : null;
    return series.map((each, nth) => {
      const colour = colours[at]![nth]!;
      if (each.carriesOn) return continuation(each, group, colour);
      const shown = shares?.[nth] ?? each.values;
      return dataset({ ...each, values: shown }, group, colour, count++, data.labels.length);
    });
  });
  return {
    type: TYPES[first] ?? 'bar',
    datasets: datasets as ChartDataset[],
    options: {
      responsive: true,
      maintainAspectRatio: false,
      animation: false,
      indexAxis: isAcross ? 'y' : 'x',
      color: CHART_INK,
      plugins: {
        title: {
          display: data.title !== '',
          text: data.title,
          color: CHART_INK,
          font: { size: 13, weight: 600 },
        },
        legend: {
          display: data.legend !== null,
          position: data.legend ?? 'bottom',
          labels: {
            boxWidth: 10,
            color: CHART_INK,
            // Of round charts the slices are named, as the library does.
            ...(isRound ? {} : seriesLegend(datasets)),
          },
        },
        tooltip: { enabled: true },
        datalabels: isRound ? sliceLabels(data) : valueLabels(data),
      },
      ...(isRound ? { radius: ROUND_RADIUS } : {}),
      ...(first === 'doughnut' ? { cutout: `${data.groups[0]!.group.hole ?? 50}%` } : {}),
      ...(isRound
        ? {}
        : { scales: first === 'radar' ? radialScale(data) : scales(data, isAcross) }),
    } as ChartOptions,
  };
}

/** The legend of series, in their order. */
function seriesLegend(datasets: readonly object[]): object {
  return {
    generateLabels: (chart: ChartJs) =>
      (ChartJs.defaults.plugins.legend.labels.generateLabels(chart) as LegendItem[]).map((item) =>
        'isForecast' in (datasets[item.datasetIndex ?? -1] ?? {})
          ? { ...item, lineWidth: 0, fillStyle: `${String(item.fillStyle)}66` }
          : item,
      ),
    // The bounds are said with their forecast.
    filter: ({ datasetIndex }: LegendItem) => !('isBound' in (datasets[datasetIndex ?? -1] ?? {})),
    sort: (a: LegendItem, b: LegendItem) => (a.datasetIndex ?? 0) - (b.datasetIndex ?? 0),
  };
}

const LABEL_SIZE = 11;
/** Around a round chart there is room in which its slices are named. */
const ROUND_RADIUS = '76%';

/** Slices are named beside them, with their share: colours alone are not told apart by everybody. */
function sliceLabels(data: ChartData): object {
  const values = data.groups[0]?.series[0]?.values ?? [];
  const whole = values.reduce<number>((sum, value) => sum + (value ?? 0), 0);
  const shareOf = (at: number) => (values[at] ?? 0) / (whole || 1);
  return {
    // Of a ring with several series the outermost is named.
    display: ({ datasetIndex, dataIndex }: { datasetIndex: number; dataIndex: number }) =>
      datasetIndex === 0 && shareOf(dataIndex) >= THIN_SLICE / 4 ? 'auto' : false,
    formatter: (_: unknown, { dataIndex }: { dataIndex: number }) => [
      data.labels[dataIndex] ?? '',
      axisText(shareOf(dataIndex), '0.0%'),
    ],
    anchor: 'end',
    align: 'end',
    offset: 2,
    textAlign: 'center',
    color: CHART_INK,
    font: { size: LABEL_SIZE },
  };
}

/** Values are written at their points where the source does so. */
function valueLabels(data: ChartData): object {
  const all = data.groups.flatMap(({ series }) => series);
  return {
    display: ({ datasetIndex }: { datasetIndex: number }) =>
      all[datasetIndex]?.series.showsValues ? 'auto' : false,
    formatter: (_: unknown, at: { datasetIndex: number; dataIndex: number }) => {
      const series = all[at.datasetIndex];
      const value = series?.values[at.dataIndex];
      return typeof value === 'number' ? axisText(value, series!.format) : null;
    },
    anchor: 'end',
    align: 'end',
    offset: 0,
    color: CHART_INK,
    font: { size: LABEL_SIZE },
  };
}

function dataset(
  { name, values, x, sizes, series }: SeriesData,
  group: ChartData['groups'][number]['group'],
  colour: string,
  index: number,
  points: number,
): object {
  const isRound = group.kind === 'pie' || group.kind === 'doughnut';
  const isFree = group.kind === 'scatter' || group.kind === 'bubble';
  const fills =
    isRound || series.pointColours
      ? Array.from(
          { length: points },
          (_, at) => series.pointColours?.[at] ?? (isRound ? chartColour(at) : colour),
        )
      : colour;
  const isLine = group.kind === 'line' || group.kind === 'scatter' || group.kind === 'radar';
  const most = Math.max(1, ...(sizes ?? []).map((size) => Math.abs(size ?? 0)));
  return {
    type: TYPES[group.kind],
    label: name,
    // Lines are drawn over columns and areas.
    order: isLine ? 0 : 1,
    data: isFree
      ? values.map((y, at) => ({
          x: x?.[at] ?? null,
          y,
          ...(group.kind === 'bubble'
            ? { r: 3 + 17 * Math.sqrt(Math.abs(sizes?.[at] ?? 1) / most) }
            : {}),
        }))
      : values,
    backgroundColor: group.kind === 'area' ? `${colour}99` : fills,
    borderColor: isRound ? '#FFFFFF' : colour,
    borderWidth: isLine ? 2 : isRound ? 1 : 0,
    ...(isLine || group.kind === 'area'
      ? {
          fill:
            group.kind === 'area'
              ? group.stacking === 'none'
                ? 'origin'
                : index === 0
                  ? 'origin'
                  : '-1'
              : false,
          tension: series.isSmooth ? 0.35 : 0,
          pointRadius: group.kind === 'area' || series.hasMarkers === false ? 0 : 3,
          showLine: series.hasLine !== false,
          spanGaps: false,
        }
      : {}),
    ...(group.stacking === 'none' ? {} : { stack: group.isSecondary ? 'second' : 'first' }),
    ...(isRound ? {} : axisIdOf(group)),
  };
}

/** What carries a series on: the forecast as a broken line, its bounds as a band. */
function continuation(
  { name, values, x, carriesOn }: SeriesData,
  group: ChartData['groups'][number]['group'],
  colour: string,
): object {
  const isBound = carriesOn!.role !== 'forecast';
  return {
    type: 'line',
    label: name,
    order: isBound ? 2 : 0,
    data: x ? values.map((y, at) => ({ x: x[at] ?? null, y })) : values,
    borderColor: colour,
    backgroundColor: isBound ? `${colour}2E` : colour,
    borderWidth: isBound ? 0 : 2,
    borderDash: [5, 4],
    pointRadius: 0,
    spanGaps: false,
    showLine: true,
    // The upper bound is filled down to the lower one, which stands before it.
    fill: carriesOn!.role === 'upper' ? '-1' : false,
    ...axisIdOf(group),
    ...(isBound ? { isBound } : { isForecast: true }),
  };
}

/** The axis of a radar chart: from its middle, which is nothing unless the source says otherwise. */
function radialScale(data: ChartData): object {
  const found = axisOf(data, 'value');
  const { min, max } = axisRange(found, false);
  return {
    r: {
      beginAtZero: true,
      ...(min === null ? {} : { min }),
      ...(max === null ? {} : { max }),
      grid: { color: CHART_GRID },
      angleLines: { color: CHART_GRID },
      pointLabels: { color: CHART_INK, font: { size: LABEL_SIZE } },
      ticks: {
        color: CHART_INK,
        font: { size: LABEL_SIZE },
        backdropColor: '#FFFFFFB3',
        callback: (value: number | string) => axisText(Number(value), found?.format ?? 'General'),
      },
    },
  };
}

/** By which axis a group's values go; those of bars lie across. */
function axisIdOf({ kind, isSecondary }: ChartData['groups'][number]['group']): object {
  if (kind === 'radar') return {};
  return kind === 'bar'
    ? { xAxisID: isSecondary ? 'second' : 'x' }
    : { yAxisID: isSecondary ? 'second' : 'y' };
}

function scales(data: ChartData, isAcross: boolean): object {
  const isFree = data.groups.every(
    ({ group }) => group.kind === 'scatter' || group.kind === 'bubble',
  );
  const stackedBy = (isSecond: boolean) =>
    data.groups.find(({ group }) => group.isSecondary === isSecond && group.stacking !== 'none')
      ?.group.stacking;
  const level = data.levelsZeros ? levelZeros(data) : null;
  const axis = (role: ChartData['axes'][number]['role']) => axisOf(data, role);
  const common = (found: ChartData['axes'][number] | undefined) => ({
    display: !found?.isHidden,
    reverse: found?.isReversed ?? false,
    title: { display: Boolean(found?.title), text: found?.title ?? '', color: CHART_INK },
    grid: { display: found?.hasGrid ?? false, color: CHART_GRID },
  });
  const rangeOf = (found: ChartData['axes'][number] | undefined, isShare: boolean) => {
    const { min, max } = axisRange(found, isShare);
    return { ...(min === null ? {} : { min }), ...(max === null ? {} : { max }) };
  };
  const values = (role: ChartData['axes'][number]['role']) => {
    const found = axis(role);
    const stacking = stackedBy(role === 'second value');
    const isShare = stacking === 'share';
    const levelled = role === 'category' ? undefined : level?.[role];
    return {
      ...common(found),
      type: found?.isLogarithmic ? 'logarithmic' : 'linear',
      stacked: role !== 'category' && stacking !== undefined,
      beginAtZero: role !== 'category' && standsOnZero(data, role === 'second value'),
      ...(levelled ?? rangeOf(found, isShare)),
      ticks: {
        color: CHART_INK,
        // Ends that were computed are no round numbers.
        includeBounds: !levelled,
        callback: (value: number | string) =>
          axisText(Number(value), isShare ? '0%' : (found?.format ?? 'General')),
      },
    };
  };
  const category = axis('category');
  const across = isFree
    ? values('category')
    : {
        ...common(category),
        // Names of bars begin where the axes cross, at the bottom, unless they run the other way.
        ...(isAcross ? { reverse: !category?.isReversed } : {}),
        stacked: data.groups.some(({ group }) => group.stacking !== 'none'),
        type: 'category',
        ticks: {
          color: CHART_INK,
          autoSkip: true,
          // Of dates in a row some can be left out; names must all be read, turned if need be.
          ...(data.dates === null
            ? { maxRotation: 60, autoSkipPadding: 0 }
            : { maxRotation: 0, autoSkipPadding: 14 }),
        },
      };
  const second = data.groups.some(({ group }) => group.isSecondary)
    ? {
        second: {
          ...values('second value'),
          ...(isAcross ? { axis: 'x', position: 'top' } : { axis: 'y', position: 'right' }),
        },
      }
    : {};
  return isAcross
    ? { y: across, x: values('value'), ...second }
    : { x: across, y: values('value'), ...second };
}

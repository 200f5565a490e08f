import {
  axisOf,
  axisRange,
  axisText,
  CHART_GRID,
  CHART_INK,
  type ChartData,
  chartColour,
  type SeriesData,
  seriesColours,
  sharesOf,
} from '@tether/core';
import {
  type ChartConfiguration,
  type ChartDataset,
  Chart as ChartJs,
  type ChartOptions,
  type LegendItem,
  registerables,
} from 'chart.js';
import { useContext, useMemo } from 'react';
import { Chart } from 'react-chartjs-2';
import { Drawing } from './nearness.ts';
import { VectorChart } from './VectorChart.tsx';

// All of them: which kinds a source's charts have nobody knows before, and the library comes in a piece of its own.
ChartJs.register(...registerables);
// A face that the screens have loaded before any chart is drawn.
ChartJs.defaults.font.family = '"Source Sans 3 Variable", "Source Sans 3", sans-serif';

/** A chart with what its cells hold, drawn at the size of the box around it. */
export function ChartFigure({ data, label }: { data: ChartData; label: string }) {
  const isPrinted = useContext(Drawing) !== 'near';
  const { type, datasets, options } = useMemo(() => configure(data), [data]);
  const configuration = useMemo(
    () => ({ type, data: { labels: data.labels, datasets }, options }),
    [type, data.labels, datasets, options],
  );
  if (isPrinted) return <VectorChart configuration={configuration} label={label} />;
  return (
    <Chart
      // A chart that is drawn already can be given other values, but not other axes: those need a new one.
      key={axesOf(configuration)}
      type={type}
      data={configuration.data}
      options={options}
      role="img"
      aria-label={label}
    />
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
            generateLabels: (chart: ChartJs) =>
              (ChartJs.defaults.plugins.legend.labels.generateLabels(chart) as LegendItem[]).map(
                (item) =>
                  'isForecast' in (datasets[item.datasetIndex ?? -1] ?? {})
                    ? { ...item, lineWidth: 0, fillStyle: `${String(item.fillStyle)}66` }
                    : item,
              ),
            // The bounds are said with their forecast.
            filter: ({ datasetIndex }: { datasetIndex?: number }) =>
              !('isBound' in (datasets[datasetIndex ?? -1] ?? {})),
          },
        },
        tooltip: { enabled: true },
      },
      ...(first === 'doughnut' ? { cutout: `${data.groups[0]!.group.hole ?? 50}%` } : {}),
      ...(isRound || first === 'radar' ? {} : { scales: scales(data, isAcross) }),
    } as ChartOptions,
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
    ...(isRound
      ? {}
      : { yAxisID: group.kind === 'bar' ? undefined : group.isSecondary ? 'second' : 'y' }),
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
    ...(group.kind === 'bar' ? {} : { yAxisID: group.isSecondary ? 'second' : 'y' }),
    ...(isBound ? { isBound } : { isForecast: true }),
  };
}

function scales(data: ChartData, isAcross: boolean): object {
  const isFree = data.groups.every(
    ({ group }) => group.kind === 'scatter' || group.kind === 'bubble',
  );
  const isStacked = data.groups.some(({ group }) => group.stacking !== 'none');
  const isShare = data.groups.some(({ group }) => group.stacking === 'share');
  const axis = (role: ChartData['axes'][number]['role']) => axisOf(data, role);
  const common = (found: ChartData['axes'][number] | undefined) => ({
    display: !found?.isHidden,
    reverse: found?.isReversed ?? false,
    title: { display: Boolean(found?.title), text: found?.title ?? '', color: CHART_INK },
    grid: { display: found?.hasGrid ?? false, color: CHART_GRID },
    stacked: isStacked,
  });
  const rangeOf = (found: ChartData['axes'][number] | undefined) => {
    const { min, max } = axisRange(found, isShare);
    return { ...(min === null ? {} : { min }), ...(max === null ? {} : { max }) };
  };
  const values = (found: ChartData['axes'][number] | undefined) => ({
    ...common(found),
    type: found?.isLogarithmic ? 'logarithmic' : 'linear',
    ...rangeOf(found),
    ticks: {
      color: CHART_INK,
      callback: (value: number | string) =>
        axisText(Number(value), isShare ? '0%' : (found?.format ?? 'General')),
    },
  });
  const category = axis('category');
  const across = isFree
    ? { ...values(category), stacked: false }
    : {
        ...common(category),
        type: 'category',
        ticks: {
          color: CHART_INK,
          autoSkip: true,
          // Of dates in a row some can be left out; names must all be read, turned if need be.
          ...(data.dates === null ? { maxRotation: 60 } : { maxRotation: 0, autoSkipPadding: 14 }),
        },
      };
  const second = data.groups.some(({ group }) => group.isSecondary)
    ? { second: { ...values(axis('second value')), position: 'right' } }
    : {};
  return isAcross
    ? { y: across, x: values(axis('value')) }
    : { x: across, y: values(axis('value')), ...second };
}

import type {
  ChartAxis,
  ChartCells,
  ChartGroup,
  ChartKind,
  ChartSeries,
  ChartText,
  SourceChart,
} from '@tether/core';
import { child, children, descendants, type XmlElement } from '../../package/xml.ts';
import { parseOdfRanges } from './formula.ts';
import { colour } from './styles.ts';

const KINDS: Record<string, ChartKind> = {
  bar: 'column',
  line: 'line',
  area: 'area',
  circle: 'pie',
  ring: 'doughnut',
  scatter: 'scatter',
  bubble: 'bubble',
  radar: 'radar',
  'filled-radar': 'radar',
};

type Parsed = Pick<SourceChart, 'title' | 'groups' | 'axes' | 'legend' | 'unknown'>;

/** Reads a chart document (ODF 1.3 Part 3, clause 11); null when the document is something else. */
export function readOdfChart(root: XmlElement): Parsed | null {
  const chart = descendants(root, 'chart').find(({ attributes }) => attributes.class !== undefined);
  if (!chart) return null;
  const styles = new Map(
    [...descendants(root, 'automatic-styles'), ...descendants(root, 'styles')]
      .flatMap((element) => children(element, 'style'))
      .map((style) => [style.attributes.name ?? '', style]),
  );
  const propertiesOf = (element: XmlElement | undefined, kind: 'chart' | 'graphic') =>
    child(styles.get(element?.attributes['style-name'] ?? ''), `${kind}-properties`)?.attributes ??
    {};
  const plot = child(chart, 'plot-area');
  const plotLook = propertiesOf(plot, 'chart');
  const axes = children(plot, 'axis');
  const categories = cellsOf(
    axes.map((axis) => child(axis, 'categories')?.attributes['cell-range-address']).find(Boolean),
  );
  const own = classOf(chart);
  const unknown: string[] = [];
  const groups: ChartGroup[] = [];
  for (const element of children(plot, 'series')) {
    const name = classOf(element) ?? own ?? '';
    const known = KINDS[name];
    if (!known) {
      if (!unknown.includes(name)) unknown.push(name);
      continue;
    }
    const kind = known === 'column' && plotLook.vertical === 'true' ? 'bar' : known;
    const isSecondary = /secondary/.test(element.attributes['attached-axis'] ?? '');
    const series = seriesOf(element, kind, categories, propertiesOf);
    const same = groups.find((group) => group.kind === kind && group.isSecondary === isSecondary);
    if (same) same.series.push(series);
    else {
      groups.push({
        kind,
        stacking:
          plotLook.percentage === 'true'
            ? 'share'
            : plotLook.stacked === 'true'
              ? 'stacked'
              : 'none',
        isSecondary,
        ...(kind === 'doughnut' ? { hole: 50 } : {}),
        series: [series],
      });
    }
  }
  const legend = child(chart, 'legend');
  const side = { top: 'top', bottom: 'bottom', start: 'left', end: 'right' }[
    legend?.attributes['legend-position'] ?? 'end'
  ];
  return {
    title: titleOf(child(chart, 'title')),
    groups,
    axes: axes.map((axis) => axisOf(axis, propertiesOf(axis, 'chart'))),
    legend: legend ? ((side as SourceChart['legend']) ?? 'right') : null,
    unknown,
  };
}

/** `chart:bar` is `bar`. */
function classOf({ attributes }: XmlElement): string | undefined {
  return attributes.class?.split(':').at(-1);
}

function cellsOf(text: string | undefined): ChartCells | null {
  const ranges = parseOdfRanges(text ?? '');
  const sheet = ranges[0]?.sheet;
  if (!sheet || ranges.some((range) => range.sheet !== null && range.sheet !== sheet)) return null;
  return { sheet, areas: ranges.map(({ area }) => area) };
}

function titleOf(title: XmlElement | undefined): ChartText | null {
  if (!title) return null;
  return { text: descendants(title, 'p').map(textOf).join('\n') };
}

function textOf(element: XmlElement): string {
  return element.text + element.children.map(textOf).join('');
}

function seriesOf(
  element: XmlElement,
  kind: ChartKind,
  categories: ChartCells | null,
  propertiesOf: (
    element: XmlElement | undefined,
    kind: 'chart' | 'graphic',
  ) => Record<string, string>,
): ChartSeries {
  const { attributes } = element;
  const isFree = kind === 'scatter' || kind === 'bubble';
  const domains = children(element, 'domain').map((domain) =>
    cellsOf(domain.attributes['cell-range-address']),
  );
  const look = propertiesOf(element, 'chart');
  const graphic = propertiesOf(element, 'graphic');
  const isLine = kind === 'line' || kind === 'scatter' || kind === 'radar';
  const ink =
    colour(isLine ? graphic['stroke-color'] : graphic['fill-color']) ??
    colour(graphic['fill-color']);
  const name = cellsOf(attributes['label-cell-address']);
  const points: Record<number, string> = {};
  let index = 0;
  for (const point of children(element, 'data-point')) {
    const repeated = Math.min(10_000, Number(point.attributes.repeated ?? 1) || 1);
    const fill = colour(propertiesOf(point, 'graphic')['fill-color']);
    for (let n = 0; n < repeated; n++, index++) if (fill) points[index] = fill;
  }
  return {
    name: name ? { cells: name } : null,
    // Of a bubble chart the first domain are the heights, the second the horizontal values (11.10).
    categories: isFree ? (domains[kind === 'bubble' ? 1 : 0] ?? null) : categories,
    values:
      kind === 'bubble' ? (domains[0] ?? null) : cellsOf(attributes['values-cell-range-address']),
    ...(kind === 'bubble' ? sizesOf(cellsOf(attributes['values-cell-range-address'])) : {}),
    ...(ink && kind !== 'pie' && kind !== 'doughnut' ? { colour: ink } : {}),
    ...(Object.keys(points).length > 0 ? { pointColours: points } : {}),
    ...(/spline/.test(look.interpolation ?? '') ? { isSmooth: true } : {}),
    ...(isLine ? { hasMarkers: look['symbol-type'] !== 'none' } : {}),
    ...(isLine && graphic.stroke === 'none' ? { hasLine: false } : {}),
    ...(/value/.test(look['data-label-number'] ?? '') ? { showsValues: true } : {}),
  };
}

function sizesOf(sizes: ChartCells | null): Pick<ChartSeries, 'sizes'> {
  return sizes ? { sizes } : {};
}

function axisOf(axis: XmlElement, look: Record<string, string>): ChartAxis {
  const number = (text: string | undefined) => (text === undefined ? null : Number(text));
  const isSecond = /secondary/.test(axis.attributes.name ?? '');
  return {
    role: axis.attributes.dimension === 'x' ? 'category' : isSecond ? 'second value' : 'value',
    title: titleOf(child(axis, 'title')),
    min: number(look.minimum),
    max: number(look.maximum),
    isReversed: look['reverse-direction'] === 'true',
    isLogarithmic: look.logarithmic === 'true',
    isHidden: look.visible === 'false',
    hasGrid: children(axis, 'grid').some(({ attributes }) => attributes.class !== 'minor'),
    format: null,
  };
}

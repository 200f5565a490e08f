import {
  type Area,
  type ChartAxis,
  type ChartGroup,
  type ChartKind,
  type ChartSeries,
  type ChartText,
  chartName,
  ok,
  parseChartCells,
  type Result,
  type SourceChart,
} from '@tether/core';
import type { PackageFile } from '../../package/package-file.ts';
import {
  child,
  children,
  descendants,
  parseXml,
  truth,
  type XmlElement,
} from '../../package/xml.ts';
import { type Palette, tinted } from './colour.ts';
import { readRelationships } from './relationships.ts';

/** The charts of a drawing part (ECMA-376 Part 1, 20.5), which stands on a sheet or fills one of its own. */
export async function readCharts(
  file: PackageFile,
  drawing: string,
  sheet: string,
  hasCells: boolean,
  palette: Palette,
): Promise<Result<SourceChart[]>> {
  const bytes = await file.read(drawing);
  if (!bytes.ok) return bytes;
  const links = await readRelationships(file, drawing);
  if (!links.ok) return links;
  const targets = new Map(links.value.map((link) => [link.id, link]));
  const charts: SourceChart[] = [];
  for (const anchor of parseXml(bytes.value).children) {
    for (const frame of descendants(anchor, 'graphicFrame')) {
      const relationship = descendants(child(frame, 'graphic'), 'chart')[0]?.attributes.id;
      const link = relationship === undefined ? undefined : targets.get(relationship);
      // What the newer chart types are kept in is another kind of part, which is not read.
      if (!link || link.external || link.type !== 'chart') continue;
      const part = await file.read(link.target);
      if (!part.ok) return part;
      const given = descendants(frame, 'cNvPr')[0]?.attributes.name;
      const chart = parseChart(parseXml(part.value), palette);
      charts.push({
        id: `${sheet}/${charts.length + 1}`,
        name: chartName(chart.title, given, charts.length + 1),
        sheet,
        place: hasCells ? placeOf(anchor) : null,
        ...chart,
      });
    }
  }
  return ok(charts);
}

/** The cells under an anchor (20.5.2.33, 20.5.2.24); one without a lower corner is taken as large as charts usually are. */
function placeOf(anchor: XmlElement): Area | null {
  const corner = (name: string) => {
    const marker = child(anchor, name);
    const number = (part: string) => Number(child(marker, part)?.text ?? 0);
    return (
      marker && {
        row: number('row'),
        column: number('col'),
        down: number('rowOff'),
        right: number('colOff'),
      }
    );
  };
  const from = corner('from');
  if (!from) return null;
  const to = corner('to') ?? { row: from.row + 15, column: from.column + 8, down: 0, right: 0 };
  return {
    top: from.row + 1,
    left: from.column + 1,
    // A corner at the very beginning of a cell does not cover it.
    bottom: Math.max(from.row + 1, to.row + (to.down > 0 ? 1 : 0)),
    right: Math.max(from.column + 1, to.column + (to.right > 0 ? 1 : 0)),
  };
}

const KINDS: Record<string, ChartKind> = {
  barChart: 'column',
  bar3DChart: 'column',
  lineChart: 'line',
  line3DChart: 'line',
  areaChart: 'area',
  area3DChart: 'area',
  pieChart: 'pie',
  pie3DChart: 'pie',
  ofPieChart: 'pie',
  doughnutChart: 'doughnut',
  scatterChart: 'scatter',
  bubbleChart: 'bubble',
  radarChart: 'radar',
};

const SIDES = { t: 'top', r: 'right', b: 'bottom', l: 'left', tr: 'right' } as const;

type Parsed = Pick<SourceChart, 'title' | 'groups' | 'axes' | 'legend' | 'unknown'>;

/** Reads a chart part (21.2.2.27). */
function parseChart(space: XmlElement, palette: Palette): Parsed {
  const chart = child(space, 'chart');
  const plot = child(chart, 'plotArea');
  const axisElements = (plot?.children ?? []).filter(({ name }) =>
    ['catAx', 'valAx', 'dateAx'].includes(name),
  );
  const secondary = secondaryAxes(plot, axisElements);
  const groups: ChartGroup[] = [];
  const unknown: string[] = [];
  let count = 0;
  for (const element of plot?.children ?? []) {
    if (!element.name.endsWith('Chart')) continue;
    const kind = KINDS[element.name];
    if (!kind) {
      unknown.push(element.name.replace(/Chart$/, ''));
      continue;
    }
    const group = parseGroup(element, kind, palette, count, secondary);
    count += group.series.length;
    groups.push(group);
  }
  const legend = child(chart, 'legend');
  const side = child(legend, 'legendPos')?.attributes.val ?? 'r';
  const isUntitled = truth(child(chart, 'autoTitleDeleted')?.attributes.val);
  return {
    title: isUntitled ? null : titleOf(child(chart, 'title')),
    groups,
    axes: axisElements.map((axis) => parseAxis(axis, axisElements, secondary)),
    legend: legend ? (SIDES[side as keyof typeof SIDES] ?? 'right') : null,
    unknown,
  };
}

const value = (element: XmlElement | undefined, name: string) =>
  child(element, name)?.attributes.val;

/** The axes that groups after the first go by, where they are not those of the first. */
function secondaryAxes(plot: XmlElement | undefined, axes: XmlElement[]): Set<string> {
  const ids = (plot?.children ?? [])
    .filter(({ name }) => name.endsWith('Chart'))
    .map((group) => children(group, 'axId').map(({ attributes }) => attributes.val ?? ''));
  const first = new Set(ids[0] ?? []);
  const crossing = new Set(
    axes
      .filter((axis) => value(axis, 'crosses') === 'max')
      .map((axis) => value(axis, 'axId') ?? ''),
  );
  const others = ids
    .slice(1)
    .flat()
    .filter((id) => !first.has(id));
  return new Set(
    [...others, ...(others.length > 0 ? crossing : [])].filter((id) => !first.has(id)),
  );
}

function parseGroup(
  element: XmlElement,
  kind: ChartKind,
  palette: Palette,
  before: number,
  secondary: ReadonlySet<string>,
): ChartGroup {
  const grouping = value(element, 'grouping');
  const isAcross = kind === 'column' && value(element, 'barDir') === 'bar';
  const style = value(element, 'scatterStyle') ?? '';
  const hole = value(element, 'holeSize');
  return {
    kind: isAcross ? 'bar' : kind,
    stacking: grouping === 'stacked' ? 'stacked' : grouping === 'percentStacked' ? 'share' : 'none',
    isSecondary: children(element, 'axId').some(({ attributes }) =>
      secondary.has(attributes.val ?? ''),
    ),
    ...(kind === 'doughnut' ? { hole: Number(hole ?? 50) } : {}),
    series: children(element, 'ser').map((series, index) => ({
      ...parseSeries(
        series,
        kind,
        palette,
        before + index,
        truth(value(child(element, 'dLbls'), 'showVal')),
      ),
      ...(kind === 'scatter' && /^(marker|none)$/.test(style) ? { hasLine: false } : {}),
    })),
  };
}

function parseSeries(
  element: XmlElement,
  kind: ChartKind,
  palette: Palette,
  index: number,
  groupShowsValues: boolean,
): ChartSeries {
  const isFree = kind === 'scatter' || kind === 'bubble';
  const categories = child(element, isFree ? 'xVal' : 'cat');
  const values = child(element, isFree ? 'yVal' : 'val');
  const cells = cellsIn(values);
  const categoryCells = cellsIn(categories);
  const isDrawnAsLine = kind === 'line' || kind === 'scatter' || kind === 'radar';
  const shape = child(element, 'spPr');
  const colour =
    (isDrawnAsLine ? lineColour(shape, palette) : undefined) ??
    fillColour(shape, palette) ??
    palette.named(`accent${(index % 6) + 1}`);
  const points = children(element, 'dPt').flatMap((point) => {
    const fill = fillColour(child(point, 'spPr'), palette);
    return fill ? [[Number(value(point, 'idx')), fill] as const] : [];
  });
  const sizes = cellsIn(child(element, 'bubbleSize'));
  const labels = child(element, 'dLbls');
  const isSmooth = truth(child(element, 'smooth') && (value(element, 'smooth') ?? '1'));
  const hasNoLine = child(child(shape, 'ln'), 'noFill') !== undefined;
  return {
    name: textIn(child(element, 'tx')),
    categories: categoryCells,
    ...(categoryCells || !categories ? {} : { literalCategories: literals(categories) }),
    values: cells,
    ...(cells || !values ? {} : { literalValues: literals(values).map(Number) }),
    ...(sizes ? { sizes } : {}),
    ...(colour && kind !== 'pie' && kind !== 'doughnut' ? { colour } : {}),
    ...(points.length > 0 ? { pointColours: Object.fromEntries(points) } : {}),
    ...(isSmooth ? { isSmooth } : {}),
    ...(isDrawnAsLine ? { hasMarkers: value(child(element, 'marker'), 'symbol') !== 'none' } : {}),
    ...(isDrawnAsLine && hasNoLine ? { hasLine: false } : {}),
    ...(truth(value(labels, 'showVal')) || (!labels && groupShowsValues)
      ? { showsValues: true }
      : {}),
  };
}

/** The cells that a data source names (21.2.2.24 and its fellows). */
function cellsIn(source: XmlElement | undefined) {
  const reference = descendants(source, 'f')[0]?.text;
  return reference === undefined ? null : parseChartCells(reference);
}

function literals(source: XmlElement): string[] {
  return descendants(source, 'pt').map((point) => child(point, 'v')?.text ?? '');
}

/** A text of its own, or one that is read from cells. */
function textIn(element: XmlElement | undefined): ChartText | null {
  if (!element) return null;
  const cells = cellsIn(element);
  if (cells) return { cells };
  const written = child(element, 'v')?.text;
  if (written !== undefined) return { text: written };
  const paragraphs = descendants(child(element, 'rich'), 'p').map((paragraph) =>
    descendants(paragraph, 't')
      .map(({ text }) => text)
      .join(''),
  );
  return { text: paragraphs.join('\n') };
}

function titleOf(title: XmlElement | undefined): ChartText | null {
  if (!title) return null;
  // A title without words is made up from the series.
  return textIn(child(title, 'tx')) ?? { text: '' };
}

function parseAxis(
  axis: XmlElement,
  all: readonly XmlElement[],
  secondary: ReadonlySet<string>,
): ChartAxis {
  const scaling = child(axis, 'scaling');
  const number = (name: string) => {
    const text = value(scaling, name);
    return text === undefined ? null : Number(text);
  };
  const format = child(axis, 'numFmt')?.attributes;
  const isValue = axis.name === 'valAx';
  // Of two value axes in a scatter chart the one that lies at the bottom or top is the horizontal one.
  const isAcross =
    isValue &&
    all.every(({ name }) => name === 'valAx') &&
    ['b', 't'].includes(value(axis, 'axPos') ?? '');
  const isSecond = secondary.has(value(axis, 'axId') ?? '');
  return {
    role: !isValue || isAcross ? 'category' : isSecond ? 'second value' : 'value',
    title: titleOf(child(axis, 'title')),
    min: number('min'),
    max: number('max'),
    isReversed: value(scaling, 'orientation') === 'maxMin',
    isLogarithmic: child(scaling, 'logBase') !== undefined,
    isHidden: truth(child(axis, 'delete') && (value(axis, 'delete') ?? '1')),
    hasGrid: child(axis, 'majorGridlines') !== undefined,
    format: format && !truth(format.sourceLinked) ? (format.formatCode ?? null) : null,
  };
}

function fillColour(shape: XmlElement | undefined, palette: Palette): string | undefined {
  return drawingColour(child(shape, 'solidFill'), palette);
}

function lineColour(shape: XmlElement | undefined, palette: Palette): string | undefined {
  return drawingColour(child(child(shape, 'ln'), 'solidFill'), palette);
}

/** A colour of DrawingML (20.1.2.3): plain or of the theme, made lighter or darker by parts of its luminance. */
function drawingColour(fill: XmlElement | undefined, palette: Palette): string | undefined {
  const colour = fill?.children[0];
  if (!colour) return undefined;
  const plain = colour.attributes.val ?? '';
  const hex =
    colour.name === 'schemeClr'
      ? palette.named(plain)
      : colour.name === 'sysClr'
        ? `#${colour.attributes.lastClr ?? '000000'}`
        : colour.name === 'srgbClr'
          ? `#${plain.toUpperCase()}`
          : undefined;
  if (hex === undefined || !/^#[0-9A-F]{6}$/.test(hex)) return undefined;
  const part = (name: string) => {
    const text = value(colour, name);
    return text === undefined ? undefined : Number(text) / 100_000;
  };
  const [modulated, offset] = [part('lumMod'), part('lumOff')];
  if (offset !== undefined) return `#${tinted(hex.slice(1), offset)}`;
  return modulated === undefined ? hex : `#${tinted(hex.slice(1), modulated - 1)}`;
}

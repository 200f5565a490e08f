import { mix } from '../look/colour.ts';
import type { ChartData, SeriesData } from './chart-data.ts';

type Axis = ChartData['axes'][number];

/** The colours of series whose source says none, in turn: the same on the screen, in print and in files. */
export const CHART_COLOURS = [
  '#0B4F5C',
  '#B9772A',
  '#1F7A5C',
  '#3D4FA3',
  '#8E2C83',
  '#5E6E78',
  '#B3261E',
  '#0E6FB0',
] as const;
/** Words and lines of a chart, and the lines of its grid. */
export const CHART_INK = '#10242B';
export const CHART_GRID = '#C6D2D6';

/** What the colours are mixed with once all of them have had their turn, and how much of it. */
const SHADES: readonly [colour: string, share: number][] = [
  ['#FFFFFF', 0.45],
  ['#000000', 0.4],
  ['#FFFFFF', 0.7],
];

/** The colour that comes in turn; the first 32 are all different, and so are as many of the next as eyes can tell apart. */
export function chartColour(nth: number): string {
  const base = CHART_COLOURS[nth % CHART_COLOURS.length]!;
  const round = Math.floor(nth / CHART_COLOURS.length);
  if (round === 0) return base;
  const shade = SHADES[round - 1];
  if (shade) return mix(base, ...shade);
  // Beyond that each is a step of its own on the way to grey.
  return mix(base, '#8C9AA0', 1 - 1 / (round - 1));
}

/**
 * The colour of every series, group by group: its own, or the next in turn. What carries a series on has the colour of that
 * series, and takes no turn.
 */
export function seriesColours({ groups }: Pick<ChartData, 'groups'>): string[][] {
  const known = new Map<string, string>();
  let turn = 0;
  return groups.map(({ series }) =>
    series.map(({ name, series: { colour }, carriesOn }) => {
      if (carriesOn) return known.get(carriesOn.name) ?? CHART_INK;
      const own = colour ?? chartColour(turn);
      turn++;
      known.set(name, own);
      return own;
    }),
  );
}

/** The axis of a chart that has this part; one that is shown where there are several. */
export function axisOf({ axes }: Pick<ChartData, 'axes'>, role: Axis['role']): Axis | undefined {
  const all = axes.filter((each) => each.role === role);
  return all.find(({ isHidden }) => !isHidden) ?? all[0];
}

/** From where to where an axis goes where that is said: by the source, or by shares, which end at the whole. */
export function axisRange(
  axis: Axis | undefined,
  isShare: boolean,
): { min: number | null; max: number | null } {
  return { min: axis?.min ?? null, max: axis?.max ?? (isShare ? 1 : null) };
}

/** Whether an axis shows nothing: what is filled down to it would tell a wrong size if it began elsewhere. */
export function standsOnZero({ groups }: Pick<ChartData, 'groups'>, isSecond: boolean): boolean {
  return groups.some(
    ({ group }) => group.isSecondary === isSecond && ['column', 'bar', 'area'].includes(group.kind),
  );
}

/**
 * Two value axes with nothing at the same height, so that what is below it on one is below it on the other: from where to
 * where each goes. Null where there is one axis, where neither has values below nothing, or where bounds are set.
 */
export function levelZeros(
  data: Pick<ChartData, 'groups' | 'axes'>,
): Record<'value' | 'second value', { min: number; max: number }> | null {
  const [first, second] = [false, true].map((isSecond) => rangeOf(data, isSecond));
  if (!first || !second || (first.min >= 0 && second.min >= 0)) return null;
  const isSet = data.axes.some(
    ({ role, min, max, isLogarithmic }) =>
      role !== 'category' && (min !== null || max !== null || isLogarithmic),
  );
  if (isSet) return null;
  const shareBelow = ({ min, max }: { min: number; max: number }) => -min / (max - min || 1);
  // An axis of which all lies below nothing leaves the other one some room above.
  const share = Math.min(0.75, Math.max(shareBelow(first), shareBelow(second)));
  const levelled = ({ min, max }: { min: number; max: number }) => {
    const size = Math.max(-min / (share || 1), max / (1 - share)) * 1.05;
    return { min: -share * size, max: (1 - share) * size };
  };
  return { value: levelled(first), 'second value': levelled(second) };
}

/** From where to where the values of an axis go, nothing included; null without values. */
function rangeOf({ groups }: Pick<ChartData, 'groups'>, isSecond: boolean) {
  let [min, max, count] = [0, 0, 0];
  for (const { group, series } of groups) {
    if (group.isSecondary !== isSecond) continue;
    const points = Math.max(0, ...series.map(({ values }) => values.length));
    for (let at = 0; at < points; at++) {
      const values = series.flatMap((each) => {
        const value = each.values[at];
        return typeof value === 'number' ? [value] : [];
      });
      count += values.length;
      const sum = (sign: number) =>
        values.reduce((all, value) => all + (Math.sign(value) === sign ? value : 0), 0);
      const ends = group.stacking === 'none' ? values : [sum(-1), sum(1)];
      min = Math.min(min, ...ends);
      max = Math.max(max, ...ends);
    }
  }
  return count === 0 ? null : { min, max };
}

/** The values of series as their shares of the whole at each point, from 0 to 1; nothing stays nothing. */
export function sharesOf(series: readonly Pick<SeriesData, 'values'>[]): (number | null)[][] {
  const points = Math.max(0, ...series.map(({ values }) => values.length));
  const wholes = Array.from({ length: points }, (_, at) =>
    series.reduce((sum, { values }) => sum + Math.abs(values[at] ?? 0), 0),
  );
  return series.map(({ values }) =>
    values.map((value, at) => (value === null || !wholes[at] ? value : value / wholes[at]!)),
  );
}

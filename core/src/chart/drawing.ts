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

/** The colour that comes in turn. */
export function chartColour(nth: number): string {
  return CHART_COLOURS[nth % CHART_COLOURS.length]!;
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

import type { BandKey } from '../look/overrides.ts';
import type { ChartGroup } from '../sheet/source-chart.ts';
import type { ChartData } from './chart-data.ts';

/** Kinds of chart that can be made of an object's cells. */
export const MADE_KINDS = ['column', 'bar', 'line', 'area', 'pie', 'doughnut', 'scatter'] as const;
export type MadeKind = (typeof MADE_KINDS)[number];

/** What was set for an axis. */
export interface AxisMaking {
  /** Words along it; empty for none. */
  title: string;
  /** Least and greatest value; null for as its figures need it. Names along an axis have none. */
  min: number | null;
  max: number | null;
  /** Number format code; empty for that of the cells. */
  format: string;
}
export const USUAL_AXIS: AxisMaking = { title: '', min: null, max: null, format: '' };

/** What was set for a series. */
export interface SeriesMaking {
  /** The column (or row) that it is drawn from. */
  column: BandKey;
  isLeftOut: boolean;
  /** Whether its values go by an axis of their own; absent for as it is best. */
  isOnSecond?: boolean | undefined;
}

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
  /** Which column (or row) names the points; absent for the one that is found, null for none: they are counted. */
  points?: BandKey | null | undefined;
  /** The series in their order; those that are not named here come behind, in the order of the cells. */
  series?: SeriesMaking[] | undefined;
  /** The axis with the names, that of the values, and the second one of the values. */
  namesAxis?: AxisMaking | undefined;
  valueAxis?: AxisMaking | undefined;
  secondAxis?: AxisMaking | undefined;
}

/** Kinds whose values lie along an axis. */
export function hasAxes({ kind }: Pick<ChartMaking, 'kind'>): boolean {
  return kind !== 'pie' && kind !== 'doughnut';
}

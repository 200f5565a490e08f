import type { Area } from './address.ts';

/** How a group of series is drawn. */
export type ChartKind =
  | 'column'
  | 'bar'
  | 'line'
  | 'area'
  | 'pie'
  | 'doughnut'
  | 'scatter'
  | 'bubble'
  | 'radar';

/** Cells that a chart rests on: one range, or several one after the other. */
export interface ChartCells {
  sheet: string;
  areas: Area[];
}

/** A text of a chart: written in it, or read from a cell. */
export type ChartText = { text: string } | { cells: ChartCells };

/** One series. Its values are read live from the cells; written ones stand in where it has no reference. */
export interface ChartSeries {
  name: ChartText | null;
  categories: ChartCells | null;
  /** Categories written in the chart itself. */
  literalCategories?: string[];
  values: ChartCells | null;
  literalValues?: number[];
  /** Of a bubble chart. */
  sizes?: ChartCells;
  /** `#RRGGBB`; absent means by the palette. */
  colour?: string;
  /** Colours of single points, by their index from 0. */
  pointColours?: Record<number, string>;
  isSmooth?: boolean;
  hasMarkers?: boolean;
  /** Whether a line joins the points. */
  hasLine?: boolean;
  showsValues?: boolean;
}

/** Series drawn in the same way; a chart with several groups is a combined one. */
export interface ChartGroup {
  kind: ChartKind;
  stacking: 'none' | 'stacked' | 'share';
  /** Whether its values go by the second value axis. */
  isSecondary: boolean;
  /** Of a doughnut: the hole's share of the whole, in per cent. */
  hole?: number;
  series: ChartSeries[];
}

/** An axis. */
export interface ChartAxis {
  role: 'category' | 'value' | 'second value';
  title: ChartText | null;
  min: number | null;
  max: number | null;
  isReversed: boolean;
  isLogarithmic: boolean;
  isHidden: boolean;
  hasGrid: boolean;
  /** Number format code; null means that of the cells. */
  format: string | null;
}

/** What a person calls a chart: its title where it is written in it, else the name that its program gave it. */
export function chartName(title: ChartText | null, given: string | undefined, nth: number): string {
  const written = title && 'text' in title ? title.text.replace(/\s+/g, ' ').trim() : '';
  return written || given || `Chart ${nth}`;
}

/** A chart of a source, as a model: what it draws and from which cells. */
export interface SourceChart {
  /** Names it within the source: its number among the sheet's charts makes it unique. */
  id: string;
  name: string;
  /** The sheet it stands on, or its own name where it is a sheet of its own. */
  sheet: string;
  /** The cells it covers; null for a chart that is a sheet of its own. */
  place: Area | null;
  title: ChartText | null;
  groups: ChartGroup[];
  axes: ChartAxis[];
  legend: 'top' | 'right' | 'bottom' | 'left' | null;
  /** Kinds of groups in it that are not drawn here. */
  unknown: string[];
}

import type { Area } from '../sheet/address.ts';
import type { LineMap } from './line-map.ts';

/** What became of the rows or columns of an area. */
export interface LinesFound {
  inserted: number;
  deleted: number;
  moved: number;
}

/** What speaks for a place, each from 0 to 1. */
export interface Evidence {
  /** Rows and columns that are found again. */
  rows: number;
  columns: number;
  /** Cells that hold the same. */
  cells: number;
  /** Words of the header that are the same. */
  header: number;
  /** How much less of it stands at the likest other place. */
  alone: number;
  /** Whether its first and last lines are known again, by which its edges are told. */
  edges: number;
}

/** Where an area of a sheet stands in another state of its file. */
export interface Anchor {
  sheet: string;
  area: Area;
  evidence: Evidence;
  /** From 0 to 1: as good as its weakest part. */
  confidence: number;
  /** Nothing is lost, the header is the same, and it stands at one place only. */
  isCertain: boolean;
  rows: LinesFound;
  columns: LinesFound;
  /** What was found, in words. */
  reasons: string[];
  /** Where any row or column of the sheet stands now. */
  map: { rows: LineMap; columns: LineMap };
}

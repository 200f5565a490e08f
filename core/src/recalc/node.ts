import type { Formula } from '../formula/evaluate.ts';
import type { Scalar } from '../formula/value.ts';
import type { Area } from '../sheet/address.ts';
import type { RowRun } from '../sheet/sheet.ts';
import type { ArrayFormula, CellPlace } from './calc-source.ts';
import type { RangeIndex } from './range-index.ts';

/** Cells of one formula. */
export interface Node {
  sheet: Sheet;
  row: number;
  column: number;
  formula: Formula | null;
  text: string;
  /** The cell for which its references were written: copies of one formula share it. */
  origin: { row: number; column: number };
  array: ArrayFormula | null;
  /** The cells that it fills. */
  area: Area;
  stored: Scalar | undefined;
  /** Why it is not computed here; null where it is. */
  why: string | null;
  isVolatile: boolean;
  /** What a run knows of it: see `CalcRun`. */
  run: number;
  waits: number;
  isDone: boolean;
  isTouched: boolean;
  isTainted: boolean;
  taintedBy: Node | null;
}

/** A range that formulas look at. */
export interface RangeNode {
  area: Area;
  readers: Node[];
  /** What a run knows of it: see `CalcRun`. */
  run: number;
  waits: number;
  isTouched: boolean;
  taintedBy: Node | null;
}

/** A sheet with its values and formulas. */
export interface Sheet {
  name: string;
  values: Map<number, Scalar>;
  /** The rows and columns that hold something. */
  bottom: number;
  right: number;
  nodes: Map<number, Node>;
  /** The formula that fills a cell, where that is not its own. */
  filledBy: Map<number, Node>;
  readers: Map<number, Node[]>;
  ranges: RangeIndex<RangeNode>;
  rangesByName: Map<string, RangeNode>;
  hidden: readonly RowRun[];
}

/** A cell's place as a number, for looking it up. */
export const keyOf = (row: number, column: number) => row * 16_384 + column - 1;

export const placeOf = ({ sheet, row, column }: Node): CellPlace => ({
  sheet: sheet.name,
  row,
  column,
});

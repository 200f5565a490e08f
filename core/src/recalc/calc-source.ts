import type { Scalar } from '../formula/value.ts';
import type { Area } from '../sheet/address.ts';
import type { DefinedName, RowRun, TableObject } from '../sheet/sheet.ts';

/** A cell as it is loaded. */
export interface CalcCell {
  row: number;
  column: number;
  /** What the file says that it holds; null for nothing, undefined where it has a formula that nobody computed. */
  value: Scalar | undefined;
  /** Without its leading `=`. */
  formula?: string;
}

/** A formula that fills several cells, or one that may. */
export interface ArrayFormula {
  row: number;
  column: number;
  area: Area;
  /** `fixed` fills just its area; `spilling` as many cells as it has values; `what-if` is a table of trials, not computed here. */
  kind: 'fixed' | 'spilling' | 'what-if';
}

export interface CalcSheet {
  name: string;
  cells: Iterable<CalcCell>;
  arrays?: readonly ArrayFormula[];
  /** Hidden rows, which some subtotals leave out. */
  hidden?: readonly RowRun[];
}

export interface CalcSource {
  sheets: readonly CalcSheet[];
  names?: readonly DefinedName[];
  tables?: readonly TableObject[];
  /** Serial number of this moment; null where days are counted in a way that formulas here do not follow. */
  now: number | null;
}

/** A cell of a book, by its sheet's name. */
export interface CellPlace {
  sheet: string;
  row: number;
  column: number;
}

/** What a cell is to hold: a value, or a formula without its `=`, which says the value then. */
export interface CellWish extends CellPlace {
  value: Scalar;
  formula?: string | undefined;
}

/** A cell whose formula gives another value than before. */
export interface ChangedCell extends CellPlace {
  before: Scalar;
  after: Scalar;
}

/** A formula that should be computed anew and cannot be here. */
export interface NotOurs extends CellPlace {
  why: string;
}

/** How the reason begins why a formula that rests on itself is not computed. */
export const ROUND = 'it goes round in a circle';

/** What a change of some cells changed in those that depend on them. */
export interface Recalculated {
  changed: ChangedCell[];
  /** Cells that keep what they showed, although something that they rest on has changed. */
  notFinal: NotOurs[];
  /** Formulas that fill other cells than before. */
  refilled: (CellPlace & { area: Area })[];
}

/** What the file says a formula comes to, against what it comes to here. */
export interface FormulaCheck extends CellPlace {
  formula: string;
  stored: Scalar | undefined;
  computed: Scalar;
  status: 'same' | 'differs' | 'not computed' | 'volatile';
  why: string | null;
}

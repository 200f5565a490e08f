import type { LandmarkChange } from '../sheet/landmarks.ts';
import type { CellType } from '../sheet/sheet.ts';

/** What a cell shows at one moment. */
export interface Face {
  type: CellType;
  value: number | string | boolean;
  text: string;
}

/** One cell of a change slip. `before` is null for a cell that was empty, `after` for one that is empty now. */
export interface CellChange {
  /** Column of the sheet, counted from 1. */
  column: number;
  /** The column where it stood before, when that was another one. */
  columnBefore?: number;
  /** Header text of the column, empty when the table has none. */
  header: string;
  before: Face | null;
  after: Face | null;
  /** `+12` for numbers, `+3 days` for dates, null where there is no difference to speak of. */
  difference: string | null;
  /**
   * `look` when only the look changed, its number format among it; `volatile` for a figure that is another one at every
   * save because its formula asks for the time or for chance.
   */
  kind: 'figure' | 'volatile' | 'look';
}

/** One row of a change slip: inserted, removed, or with changed cells. Row numbers are those of the sheet. */
export interface RowChange {
  kind: 'inserted' | 'removed' | 'changed';
  before: number | null;
  after: number | null;
  /** The row's first text, to know it by. */
  label: string;
  /** The source hides the row now, or shows it again. */
  hiding?: 'hidden' | 'shown';
  /** Of a row that was removed here and inserted unchanged elsewhere: the index of its other half among the slip's rows. */
  twin?: number;
  cells: CellChange[];
}

/** A column that came, went, or stands elsewhere. Of rows that stayed, the cells of one that came or went are told here alone. */
export interface ColumnChange {
  kind: 'inserted' | 'removed' | 'moved' | 'hidden' | 'shown';
  /** Columns of the sheet, counted from 1. */
  before: number | null;
  after: number | null;
  header: string;
  /** Filled cells of one that came or went, by their row of the state that has them. What changed in a moved one is told in its rows. */
  cells: { row: number; face: Face }[];
}

/** The sum of a numeric column before and after, with its text under the column's number format. */
export interface TotalChange {
  column: number;
  header: string;
  before: string;
  after: string;
  difference: string;
  /** `+7.2 %` of what it was; empty where that says nothing. Absent in slips that were logged earlier. */
  perCent?: string;
}

/** The cell changes that a refresh will make or has made. */
export interface ChangeSlip {
  totals: TotalChange[];
  rows: RowChange[];
  /** Absent where no column came, went or moved. */
  columns?: ColumnChange[];
  /** Column widths, row heights, hidden rows or columns, or merged cells changed. */
  arrangement: boolean;
  /** Landmarks that say something else. Absent where none do. */
  landmarks?: LandmarkChange[];
  /** The row of totals at the end, by its first text, where it is not among the cells any more. Absent where it is. */
  lostTotals?: string;
  /** Rows that moved are not counted as inserted and removed. */
  counts: {
    cells: number;
    inserted: number;
    removed: number;
    moved: number;
    looks: number;
    /** Absent in slips that were logged earlier. */
    volatile?: number;
    /** Rows that the source hides now or shows again. Absent where there are none. */
    hidden?: number;
    shown?: number;
  };
}

/** What a slip says of rows and cells. */
export type Changes = Omit<ChangeSlip, 'totals'>;

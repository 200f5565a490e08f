import type {
  Area,
  ArrayFormula,
  CalcCell,
  DateSystem,
  DefinedName,
  DelimitedGuess,
  Occupancy,
  Oddity,
  Result,
  RowHeights,
  SheetRules,
  SheetSummary,
  Snapshot,
  SourceChart,
  TableObject,
} from '@tether/core';

/** What formulas of a sheet look at and are: every cell that holds something, its value as it stands in the file. */
export interface SheetFormulas {
  cells: CalcCell[];
  arrays: ArrayFormula[];
  /** Whether there are more than can be held; then these are not all. */
  isCut: boolean;
}

/** The most cells of a sheet that are made ready for computing. */
export const MAX_COMPUTED_CELLS = 1_000_000;

/** A source opened for reading. Everything asked of one opening comes from the same state of the file. */
export interface OpenSource {
  sheets: SheetSummary[];
  names: DefinedName[];
  /** What was odd in as much of the source as was read so far, sheet by sheet. */
  odditiesOf(sheet: string): readonly Oddity[];
  /** Of delimited text: how it was found to be written, and what of that was overruled. */
  readonly delimited?: DelimitedGuess;
  /**
   * What `area` of a sheet holds and, unless `look` is false, how it looks. Without the look only as much of the file is
   * read as lies in front of the area's last row. Faults: `sheet-missing` and those of `openSource`.
   */
  readArea(sheet: string, area: Area, options?: { look?: boolean }): Promise<Result<Snapshot>>;
  /** The sheet's values and formulas, for computing them. */
  readFormulas(sheet: string): Promise<Result<SheetFormulas>>;
  /** Whether any of its cells may have a formula; found out far faster than by reading them. */
  hasFormulas(): Promise<Result<boolean>>;
  /** How days are counted in it. */
  readonly dateSystem: DateSystem;
  /** Which cells of the sheet have a value, down to the row `until`. */
  readOccupancy(sheet: string, until?: number): Promise<Result<Occupancy>>;
  /** How high the rows of the sheet are, and which are hidden; it is read to its end for that. */
  readRows(sheet: string): Promise<Result<RowHeights>>;
  /** The table objects of all sheets. */
  readTables(): Promise<Result<TableObject[]>>;
  /** The charts of all sheets, and those that are sheets of their own. */
  readCharts(): Promise<Result<SourceChart[]>>;
  /** What a sheet says about itself: protection, checks on entries, conditional formats. */
  readRules(sheet: string): Promise<Result<SheetRules>>;
  close(): Promise<void>;
}

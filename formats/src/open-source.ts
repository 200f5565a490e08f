import type {
  Area,
  DefinedName,
  Occupancy,
  Result,
  SheetSummary,
  Snapshot,
  TableObject,
} from '@tether/core';
import { openDelimited } from './delimited/open-delimited.ts';
import { openWorkbook } from './ooxml/open-workbook.ts';

/** A source opened for reading. Everything asked of one opening comes from the same state of the file. */
export interface OpenSource {
  sheets: SheetSummary[];
  names: DefinedName[];
  /**
   * What `area` of a sheet holds and, unless `look` is false, how it looks. Without the look only as much of the file is
   * read as lies in front of the area's last row. Faults: `sheet-missing` and those of `openSource`.
   */
  readArea(sheet: string, area: Area, options?: { look?: boolean }): Promise<Result<Snapshot>>;
  /** Which cells of the sheet have a value, down to the row `until`. */
  readOccupancy(sheet: string, until?: number): Promise<Result<Occupancy>>;
  /** The table objects of all sheets. */
  readTables(): Promise<Result<TableObject[]>>;
  close(): Promise<void>;
}

/**
 * Opens the source at `path`: delimited text by its name's ending (`.csv`, `.tsv`, `.tab`), a workbook otherwise.
 * `shownPath` is the name that faults use. Faults: those of `openWorkbook` and `openDelimited`.
 */
export function openSource(path: string, shownPath = path): Promise<Result<OpenSource>> {
  return /\.(csv|tsv|tab)$/i.test(shownPath)
    ? openDelimited(path, shownPath)
    : openWorkbook(path, shownPath);
}

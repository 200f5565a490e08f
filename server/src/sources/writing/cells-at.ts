import { type Area, type Cell, type CellPlace, MAX_COLUMNS, ok, type Result } from '@tether/core';
import type { OpenSource } from '@tether/formats';

/** A cell with what stands beside it. */
interface CellAt {
  /** Undefined or blank for one that holds nothing; a blank one may have a number format. */
  cell: Cell | undefined;
  /** All cells of its row. */
  beside: readonly Cell[];
  /** Merged cells of the sheet, as far as they are known. */
  merges: readonly Area[];
}

/** A cell by its sheet and place. */
export const keyOf = ({ sheet, row, column }: CellPlace) =>
  `${sheet.toLowerCase()} ${row} ${column}`;

/** Rows that lie so near each other are read in one go: those between cost less than another look into the file. */
const NEAR_ROWS = 500;

/** What stands in some cells of a source, by `keyOf`. Faults: those of reading. */
export async function cellsAt(
  source: OpenSource,
  places: readonly CellPlace[],
): Promise<Result<Map<string, CellAt>>> {
  const found = new Map<string, CellAt>();
  for (const [sheet, own] of bySheet(places)) {
    for (const rows of runsOf(own.map(({ row }) => row))) {
      const read = await readRows(source, sheet, { ...rows, look: false });
      if (!read.ok) return read;
      const { byRow, merges } = read.value;
      for (const place of own) {
        if (place.row < rows.top || place.row > rows.bottom) continue;
        const beside = byRow.get(place.row) ?? [];
        const cell = beside.find(({ column }) => column === place.column);
        found.set(keyOf(place), { cell, beside, merges });
      }
    }
  }
  return ok(found);
}

/** The cells of some rows, by the numbers of these. */
export async function readRows(
  source: OpenSource,
  sheet: string,
  { top, bottom, look }: { top: number; bottom: number; look: boolean },
): Promise<Result<{ byRow: Map<number, Cell[]>; merges: readonly Area[] }>> {
  const area = { top, bottom, left: 1, right: MAX_COLUMNS };
  const read = await source.readArea(sheet, area, { look });
  if (!read.ok) return read;
  const byRow = new Map<number, Cell[]>();
  for (const cell of read.value.cells) {
    const own = byRow.get(cell.row) ?? [];
    own.push(cell);
    byRow.set(cell.row, own);
  }
  return ok({ byRow, merges: read.value.merges });
}

function bySheet(places: readonly CellPlace[]): Map<string, CellPlace[]> {
  const sheets = new Map<string, CellPlace[]>();
  for (const place of places) {
    const own = sheets.get(place.sheet) ?? [];
    own.push(place);
    sheets.set(place.sheet, own);
  }
  return sheets;
}

function runsOf(rows: readonly number[]): { top: number; bottom: number }[] {
  const runs: { top: number; bottom: number }[] = [];
  for (const row of [...new Set(rows)].sort((a, b) => a - b)) {
    const last = runs.at(-1);
    if (last && row - last.bottom <= NEAR_ROWS) last.bottom = row;
    else runs.push({ top: row, bottom: row });
  }
  return runs;
}

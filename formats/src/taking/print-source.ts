import {
  type Cell,
  findHeader,
  gridOf,
  occupiedArea,
  ok,
  printSheet,
  type Result,
  type SheetPrint,
  type SheetSketch,
  sketchSheet,
} from '@tether/core';
import type { OpenSource } from '../source.ts';

/** Rows at the head of a sheet in which headers are looked for. */
const HEAD_ROWS = 40;
const MOST_HEADERS = 60;

/** What a source holds, without its values: by that it is found again elsewhere. */
export interface SourcePrint {
  /** Null where a sheet's cells lie scattered too far. */
  prints: (SheetPrint | null)[];
  sheets: SheetSketch[];
  headers: string[];
}

/**
 * The print of every sheet of a source, with a sketch of each; of a sheet with more than `most` places that of its upper rows. Faults:
 * those of reading.
 */
export async function printSource(
  source: OpenSource,
  most = Number.POSITIVE_INFINITY,
): Promise<Result<SourcePrint>> {
  const made: SourcePrint = { prints: [], sheets: [], headers: [] };
  for (const { name } of source.sheets) {
    const occupancy = await source.readOccupancy(name);
    if (!occupancy.ok) return occupancy;
    const whole = occupiedArea(occupancy.value);
    if (!whole) continue;
    const rows = Math.max(1, Math.floor(most / (whole.right - whole.left + 1)));
    const used = { ...whole, bottom: Math.min(whole.bottom, whole.top + rows - 1) };
    const read = await source.readArea(name, used, { look: false });
    if (!read.ok) return read;
    const print = printSheet(name, read.value.cells);
    made.prints.push(print);
    if (print) made.sheets.push({ name, sketch: sketchSheet(print) });
    const head = {
      ...read.value,
      area: { ...used, bottom: Math.min(used.bottom, used.top + HEAD_ROWS) },
    };
    const cells = head.cells.filter(({ row }) => row <= head.area.bottom);
    made.headers.push(...headersIn({ ...head, cells }));
  }
  return ok({ ...made, headers: [...new Set(made.headers)].slice(0, MOST_HEADERS) });
}

/** The words of the first header of a sheet. */
function headersIn(snapshot: Parameters<typeof gridOf>[0]): string[] {
  const grid = gridOf(snapshot);
  for (let from = 0; from < grid.length; from++) {
    const { title, rows } = findHeader(grid.slice(from));
    if (rows === 0) continue;
    return grid
      .slice(from + title, from + title + rows)
      .flat()
      .flatMap((cell: Cell | undefined) => (cell?.type === 'text' ? [cell.text] : []));
  }
  return [];
}

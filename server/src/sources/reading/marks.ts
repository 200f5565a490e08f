import {
  type Cell,
  findPasted,
  keysOfCell,
  markOf,
  occupiedArea,
  type PastedCells,
} from '@tether/core';
import type { OpenSource } from '@tether/formats';
import type { FoundCells } from './reading.ts';

/** Cells of a source by whose values it can be found, from its beginning. */
const MARKED_CELLS = 20_000;
/** Cells of a sheet among which pasted ones are looked for. */
const SEARCHED_CELLS = 400_000;
/** Places told of one source. */
const MOST_FOUND = 8;

/** The marks of the first cells of a source, sheet by sheet, each once. */
export async function marksIn(source: OpenSource): Promise<number[]> {
  const marks = new Set<number>();
  let left = MARKED_CELLS;
  for (const { name } of source.sheets) {
    if (left <= 0) break;
    const cells = await cellsOf(source, name, left);
    left -= cells.length;
    for (const cell of cells) for (const key of keysOfCell(cell)) marks.add(markOf(key));
  }
  return [...marks];
}

/** Where cells from elsewhere stand in a source, the best places first. */
export async function findIn(source: OpenSource, pasted: PastedCells): Promise<FoundCells[]> {
  const found: FoundCells[] = [];
  for (const { name } of source.sheets) {
    const cells = await cellsOf(source, name, SEARCHED_CELLS);
    for (const placement of findPasted(pasted, cells)) found.push({ ...placement, sheet: name });
  }
  return found.sort((a, b) => b.same / b.of - a.same / a.of).slice(0, MOST_FOUND);
}

/** The filled cells of a sheet's upper rows, as many rows as hold at most so many cells. */
async function cellsOf(source: OpenSource, sheet: string, most: number): Promise<Cell[]> {
  const occupancy = await source.readOccupancy(sheet);
  const used = occupancy.ok ? occupiedArea(occupancy.value) : null;
  if (!used) return [];
  const rows = Math.max(1, Math.floor(most / (used.right - used.left + 1)));
  const area = { ...used, bottom: Math.min(used.bottom, used.top + rows - 1) };
  const read = await source.readArea(sheet, area, { look: false });
  return read.ok ? read.value.cells.filter(({ type }) => type !== 'blank') : [];
}

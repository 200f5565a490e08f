import { type Cell, formatCell, MAX_COLUMNS, type Oddity } from '@tether/core';

/** So many odd places of a sheet are told. */
const MOST_TOLD = 100;

/** What is odd about the cells of a sheet part, each place once however often it is read. */
export class OddCells {
  private readonly byPlace = new Map<string, Oddity>();

  get all(): Oddity[] {
    return [...this.byPlace.values()];
  }

  add(code: Oddity['code'], row: number, column: number, message: string): void {
    const key = `${code} ${row} ${column}`;
    if (this.byPlace.size >= MOST_TOLD || this.byPlace.has(key)) return;
    const area = { top: row, bottom: row, left: column, right: column };
    this.byPlace.set(key, { code, message, area });
  }
}

/** Watches cells go by in the order of the file, which is that of the sheet in what programs write. */
export class CellOrder {
  /** Whether cells have to be put into their order. */
  isBroken = false;
  private last = 0;

  constructor(private readonly odd: OddCells) {}

  add(row: number, column: number, type: string, value: string | number | null): void {
    const place = row * (MAX_COLUMNS + 1) + column;
    if (column > MAX_COLUMNS) {
      const message = `Row ${row} has cells behind column XFD, where a sheet ends: they are not read.`;
      this.odd.add('columns beyond', row, MAX_COLUMNS, message);
      return;
    }
    if (place <= this.last) this.isBroken = true;
    this.last = Math.max(place, this.last);
    if (type === 'n' && typeof value === 'string' && /^[+-]?[\d.]/.test(value)) {
      const message = `${formatCell({ row, column })} holds a number too large to reckon with: it is taken as a text.`;
      this.odd.add('number too large', row, column, message);
    }
  }
}

/** Cells row by row and column by column; of two for one place the last. */
export function inOrder(cells: readonly Cell[], odd: OddCells): Cell[] {
  const byPlace = new Map<number, Cell>();
  for (const cell of cells) {
    const place = cell.row * (MAX_COLUMNS + 1) + cell.column;
    if (byPlace.has(place)) {
      const message = `${formatCell(cell)} is twice in the file: the last one is taken.`;
      odd.add('cell twice', cell.row, cell.column, message);
    }
    byPlace.set(place, cell);
  }
  return [...byPlace].sort(([a], [b]) => a - b).map(([, cell]) => cell);
}

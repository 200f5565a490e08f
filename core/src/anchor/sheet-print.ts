import type { Cell } from '../sheet/sheet.ts';

/**
 * A sheet by what its cells hold, without the values themselves: a key of 32 bits for each. Rows and columns in which nothing
 * stands are left out, so that a stray cell far away costs nothing.
 */
export interface SheetPrint {
  name: string;
  /** Numbers of the rows and columns in which something stands, from 1, rising. */
  rows: Int32Array;
  columns: Int32Array;
  /** Row by row, one for each of the columns; 0 where nothing stands. Keys of texts are odd, all others even. */
  keys: Uint32Array;
}

/** A print of more places than this is not made: it would take more memory than it is worth. */
const MOST_PLACES = 6_000_000;

/** The print of a sheet's cells; null where they are scattered over too many places. */
export function printSheet(name: string, cells: readonly PrintedCell[]): SheetPrint | null {
  const [rowAt, rows] = numbered(cells, ({ row }) => row);
  const [columnAt, columns] = numbered(cells, ({ column }) => column);
  if (rows.length * columns.length > MOST_PLACES) return null;
  const keys = new Uint32Array(rows.length * columns.length);
  for (const cell of cells) {
    if (cell.type === 'blank') continue;
    keys[rowAt[cell.row]! * columns.length + columnAt[cell.column]!] = keyOf(cell);
  }
  return { name, rows, columns, keys };
}

type PrintedCell = Pick<Cell, 'row' | 'column' | 'type' | 'value'>;

/** The lines in which something stands, rising, and the place of each line among them. */
function numbered(
  cells: readonly PrintedCell[],
  lineOf: (cell: PrintedCell) => number,
): [places: Int32Array, numbers: Int32Array] {
  let most = 0;
  for (const cell of cells) most = Math.max(most, lineOf(cell));
  const places = new Int32Array(most + 1).fill(-1);
  for (const cell of cells) if (cell.type !== 'blank') places[lineOf(cell)] = 0;
  const numbers: number[] = [];
  for (let line = 0; line <= most; line++) {
    if (places[line] === 0) places[line] = numbers.push(line) - 1;
  }
  return [places, Int32Array.from(numbers)];
}

const bits = new Float64Array(1);
const words = new Uint32Array(bits.buffer);

/** A key of what a cell holds: equal for equal values. Numbers are equal when they agree in some 13 digits. */
function keyOf({ type, value }: Pick<Cell, 'type' | 'value'>): number {
  let hash = 0x811c9dc5;
  if (typeof value === 'number') {
    // What a formula comes to differs in the last bits from program to program.
    bits[0] = value;
    hash = Math.imul(hash ^ ((words[0]! + 128) >>> 8), 0x01000193);
    hash = Math.imul(hash ^ words[1]!, 0x01000193);
    hash ^= hash >>> 15;
  } else {
    // FNV-1a over UTF-16 units, as in the index of cells.
    const text = String(value);
    for (let at = 0; at < text.length; at++) {
      hash = Math.imul(hash ^ text.charCodeAt(at), 0x01000193);
    }
  }
  const key = type === 'text' ? hash | 1 : hash & ~1;
  return (key === 0 ? 2 : key) >>> 0;
}

export const isTextKey = (key: number): boolean => (key & 1) === 1;

/** Where the numbers from `from` to `to` stand among rising ones: the first, and behind the last. */
export function within(numbers: Int32Array, from: number, to: number): [number, number] {
  return [firstFrom(numbers, from), firstFrom(numbers, to + 1)];
}

function firstFrom(numbers: Int32Array, wanted: number): number {
  let [low, high] = [0, numbers.length];
  while (low < high) {
    const mid = (low + high) >> 1;
    if (numbers[mid]! < wanted) low = mid + 1;
    else high = mid;
  }
  return low;
}

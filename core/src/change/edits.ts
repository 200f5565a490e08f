import { serialToIso } from '../sheet/date.ts';
import { showNumber } from '../sheet/number-format.ts';
import { type Cell, gridOf, type Snapshot } from '../sheet/sheet.ts';
import { faceOf } from './compare-cells.ts';
import type { Face } from './slip.ts';

/** A cell that somebody corrected in a document. It is kept apart from what its source held, and never lost by a refresh. */
export interface Edit {
  /** Of the sheet, counted from 1, where the cell stands in the base. */
  row: number;
  column: number;
  /** What it is to hold; null for nothing. */
  value: number | string | boolean | null;
  by: string;
  /** ISO 8601. */
  at: string;
  /** What source and document agreed on when it was made, where that is not what the base holds. */
  agreed?: Face | null;
}

/** Finds the cells of a snapshot by their place on the sheet: for whoever looks for more than one. */
export function cellFinder({
  area,
  cells,
}: Pick<Snapshot, 'area' | 'cells'>): (row: number, column: number) => Cell | undefined {
  const width = area.right - area.left + 1;
  const places = new Map(
    cells.map((cell) => [(cell.row - area.top) * width + cell.column - area.left, cell]),
  );
  return (row, column) => {
    const isInside =
      row >= area.top && row <= area.bottom && column >= area.left && column <= area.right;
    return isInside ? places.get((row - area.top) * width + column - area.left) : undefined;
  };
}

/** A cell with another value: its look and number format stay, its formula goes. */
export function editedCell(
  before: Cell | undefined,
  { row, column, value }: Pick<Edit, 'row' | 'column' | 'value'>,
): Cell | null {
  const {
    formula: _,
    runs: __,
    bar: ___,
    icon: ____,
    ink: _____,
    ...kept
  } = before ?? { type: 'blank', value: '', text: '' };
  if (value === null) {
    return before?.dress === undefined
      ? null
      : { ...kept, row, column, type: 'blank', value: '', text: '' };
  }
  if (typeof value === 'number') {
    const format = before?.format ?? 'General';
    const iso = before?.type === 'date' ? serialToIso(value, '1900') : null;
    if (iso !== null) {
      return { ...kept, row, column, type: 'date', value: iso, text: showNumber(value, format) };
    }
    return {
      ...kept,
      row,
      column,
      type: 'number',
      value,
      text: showNumber(value, format),
    };
  }
  return {
    ...kept,
    row,
    column,
    type: typeof value === 'boolean' ? 'boolean' : 'text',
    value,
    text: typeof value === 'boolean' ? (value ? 'TRUE' : 'FALSE') : value,
  };
}

/** What an edit makes its cell show. */
export function faceOfEdit(before: Cell | undefined, edit: Edit): Face | null {
  return faceOf(editedCell(before, edit) ?? undefined);
}

/** What stands in a document: the base with the edits made in it. The later of two edits of one cell holds. */
export function withEdits(base: Snapshot, edits: readonly Edit[]): Snapshot {
  if (edits.length === 0) return base;
  const { area } = base;
  const grid = gridOf(base);
  const cells = new Map(base.cells.map((cell) => [`${cell.row} ${cell.column}`, cell]));
  for (const edit of edits) {
    const before = grid[edit.row - area.top]?.[edit.column - area.left];
    const after = editedCell(before, edit);
    const key = `${edit.row} ${edit.column}`;
    if (after) cells.set(key, after);
    else cells.delete(key);
  }
  return {
    ...base,
    cells: [...cells.values()].sort((a, b) => a.row - b.row || a.column - b.column),
  };
}

import type { Tether, Unlocked } from '@tether/contract';
import type { Area } from '@tether/core';

/** Why nothing can be written through an object; null where it can. */
export function whyNotWritable({ reach, form }: Pick<Tether, 'reach' | 'form'>): string | null {
  if (reach.kind === 'chart' || form === 'chart') return 'A chart draws figures, and takes none.';
  if (reach.kind === 'picked columns')
    return 'It takes picked columns: place the whole block to write in it.';
  return form === 'table' ? null : 'Figures are corrected in tables: place it as a table too.';
}

/** Whether a cell of the sheet can be written in the document. */
export function isUnlocked(unlocked: Unlocked | null, row: number, column: number): boolean {
  if (unlocked === null) return false;
  if (unlocked === 'all') return true;
  return unlocked.some(
    ({ top, left, bottom, right }) =>
      row >= top && row <= bottom && column >= left && column <= right,
  );
}

/** The cells of the sheet that are picked in an object, by their indices into its area. */
export function pickedArea(
  area: Area,
  { row, column }: { row: number | null; column: number | null },
): Area {
  return {
    top: row === null ? area.top : area.top + row,
    bottom: row === null ? area.bottom : area.top + row,
    left: column === null ? area.left : area.left + column,
    right: column === null ? area.right : area.left + column,
  };
}

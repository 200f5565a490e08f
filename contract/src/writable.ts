import { type CellAddress, holds, type Reach } from '@tether/core';
import type { Form } from '@tether/documents';
import type { Unlocked } from './tethers.ts';

/**
 * Why nothing can be corrected in an object, as the end of a sentence; null where it can. The server refuses by it, and screens
 * show it.
 */
export function whyNotWritable({ reach, form }: { reach: Reach; form: Form }): string | null {
  if (reach.kind === 'chart' || form === 'chart') return 'a chart draws figures, and takes none';
  if (reach.kind === 'picked columns') {
    return 'it takes picked columns; place the whole block to write in it';
  }
  return form === 'table' ? null : 'figures are corrected in tables; place it as a table too';
}

/** Whether a cell of the sheet can be corrected in the document. */
export function isUnlocked(unlocked: Unlocked | null, cell: CellAddress): boolean {
  if (unlocked === null || unlocked === 'all') return unlocked === 'all';
  return unlocked.some((area) => holds(area, cell));
}

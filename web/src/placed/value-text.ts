import { type Cell, type Snapshot, textUnder } from '@tether/core';
import type { Dressing } from '@tether/documents';

/** The cell that a value shows: the first filled one of what the object takes. */
function valueCell({ cells }: Snapshot): Cell | undefined {
  return cells.find(({ type }) => type !== 'blank');
}

/** What a value shows in its sentence: the cell's text, or the value under a format of its own, with words around it. */
export function valueText(
  snapshot: Snapshot,
  { before = '', after = '', format }: NonNullable<Dressing['value']>,
): string {
  const cell = valueCell(snapshot);
  if (!cell) return `${before}–${after}`;
  const shown = format ? textUnder(cell, format) : cell.text;
  return `${before}${shown.trim()}${after}`;
}

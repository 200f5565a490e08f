import type { Form } from '@tether/documents';
import type { MouseEvent } from 'react';
import { useAppDispatch, useAppStore } from '../../state/store.ts';
import { cellOpened, cellPicked, lettersRefused } from '../../state/workbench-slice.ts';
import { cellToType } from '../editing/cell-to-type.ts';

/** What clicks on the cells of a placed table do: one picks a cell, two open it where it can be typed in. */
export function useCellClicks(
  documentId: string,
  { tetherId, form }: { tetherId: string; form: Form },
  isEditable: () => boolean,
) {
  const dispatch = useAppDispatch();
  const store = useAppStore();
  const cellAt = ({ target }: MouseEvent) =>
    (target as Element).closest('[data-cell]')?.getAttribute('data-cell') ?? null;
  return {
    pick(event: MouseEvent) {
      const at = cellAt(event);
      if (!at || !isEditable()) return;
      const [row, column] = at.split(',').map(Number);
      dispatch(cellPicked({ tetherId, row: row!, column: column! }));
    },
    open(event: MouseEvent) {
      if (!cellAt(event) || !isEditable() || form !== 'table') return;
      // Its clicks have picked it.
      const place = cellToType(store.getState(), documentId);
      dispatch(place ? cellOpened({ ...place, letters: null }) : lettersRefused());
    },
  };
}

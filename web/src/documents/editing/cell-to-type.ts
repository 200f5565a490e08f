import { api } from '../../state/api.ts';
import type { RootState } from '../../state/store.ts';
import { isUnlocked } from './unlocked.ts';

/** The picked cell of the selected object, where it can be typed in; null where nothing can. */
export function cellToType(
  state: RootState,
  documentId: string,
): { tetherId: string; row: number; column: number } | null {
  const { picked, selected } = state.workbench;
  if (!picked || picked.tetherId !== selected || picked.row === null || picked.column === null) {
    return null;
  }
  const { data: tethers = [] } = api.endpoints.tethers.select(documentId)(state);
  const tether = tethers.find(({ id }) => id === picked.tetherId);
  if (!tether || tether.unlocked === null || tether.form !== 'table') return null;
  const { data: snapshot } = api.endpoints.snapshot.select(tether.shown)(state);
  if (!snapshot) return null;
  const { top, left } = snapshot.area;
  const { tetherId, row, column } = picked;
  return isUnlocked(tether.unlocked, top + row, left + column) ? { tetherId, row, column } : null;
}

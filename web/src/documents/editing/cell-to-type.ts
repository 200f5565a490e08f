import type { Tether } from '@tether/contract';
import { isUnlocked } from '@tether/contract';
import type { Area, Snapshot } from '@tether/core';
import { typedAs } from '../../placed/typed-as.ts';
import { tethersApi } from '../../state/api.ts';
import type { RootState } from '../../state/store.ts';

interface Place {
  tetherId: string;
  row: number;
  column: number;
}

/** The picked cell of the selected object, where it can be typed in; null where nothing can. */
export function cellToType(state: RootState, documentId: string): Place | null {
  const { picked, selected } = state.workbench;
  if (!picked || picked.tetherId !== selected || picked.row === null || picked.column === null) {
    return null;
  }
  const { data: tethers = [] } = tethersApi.endpoints.tethers.select(documentId)(state);
  const tether = tethers.find(({ id }) => id === picked.tetherId);
  if (!tether || tether.unlocked === null || tether.form !== 'table') return null;
  const { tetherId, row, column } = picked;
  const area = areaOf(state, tether);
  // Not known for a moment after an edit: the server says whether the cell is locked.
  const isOpen =
    area === null ||
    isUnlocked(tether.unlocked, { row: area.top + row, column: area.left + column });
  return isOpen ? { tetherId, row, column } : null;
}

/** The cells of an object, as far as they have come; edits do not change which they are. */
const areaOf = (state: RootState, tether: Tether): Area | null =>
  snapshotOf(state, tether)?.area ?? null;

function snapshotOf(state: RootState, { shown, base }: Tether): Snapshot | undefined {
  const { snapshot } = tethersApi.endpoints;
  const { data = snapshot.select(base)(state).data } = snapshot.select(shown)(state);
  return data;
}

/** Opens a picked cell with what stands above it, as filling down does; null where no such cell is picked. */
export function filledDown(
  state: RootState,
  documentId: string,
): (Place & { letters: string }) | null {
  const place = cellToType(state, documentId);
  const { data: tethers = [] } = tethersApi.endpoints.tethers.select(documentId)(state);
  const tether = tethers.find(({ id }) => id === place?.tetherId);
  const snapshot = tether && snapshotOf(state, tether);
  if (!place || !snapshot || place.row === 0) return null;
  const { top, left } = snapshot.area;
  const [row, column] = [top + place.row - 1, left + place.column];
  const above = snapshot.cells.find((each) => each.row === row && each.column === column);
  return { ...place, letters: typedAs(above) };
}

const STEPS: Record<string, [down: number, across: number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
};

/**
 * What a key does to a picked cell that can be typed in: arrows pick the next one, Enter opens it, Delete opens it empty; null for
 * other keys, and where no such cell is picked.
 */
export function cellKey(
  state: RootState,
  documentId: string,
  key: string,
): { pick: Place } | { open: Place & { letters: string | null } } | null {
  const place = cellToType(state, documentId);
  if (!place) return null;
  if (key === 'Enter') return { open: { ...place, letters: null } };
  if (key === 'Delete' || key === 'Backspace') return { open: { ...place, letters: '' } };
  const step = STEPS[key];
  if (!step) return null;
  const { data: tethers = [] } = tethersApi.endpoints.tethers.select(documentId)(state);
  const tether = tethers.find(({ id }) => id === place.tetherId);
  const area = tether && areaOf(state, tether);
  // The key is the cell's all the same: it must not leave the object.
  if (!area) return { pick: place };
  const { top, left, bottom, right } = area;
  const within = (at: number, most: number) => Math.max(0, Math.min(most, at));
  const row = within(place.row + step[0], bottom - top);
  const column = within(place.column + step[1], right - left);
  return { pick: { ...place, row, column } };
}

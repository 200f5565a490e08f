import {
  type Cell,
  editedCell,
  type MergedEdit,
  mergeEdits,
  movedAreas,
  type Snapshot,
  type StandingName,
  withEdits,
} from '@tether/core';
import type { Database } from '../db/database.ts';
import { deleteEdits, type EditRow, findEdits, moveEdits, setShownEdits } from '../db/edits.ts';
import { findPacked, storePacked } from '../db/snapshots.ts';
import { type TetherRow, updateTether } from '../db/tethers.ts';
import { packSnapshot, unpackSnapshot } from '../storage/packed.ts';

/** A figure that follows from edits, by its place in the document. */
export interface Provisional {
  row: number;
  column: number;
  value: number | string | boolean | null;
}

/** The edits of an object against what its source holds now. */
export interface EditsMerged {
  base: Snapshot;
  merged: (MergedEdit & { edit: EditRow })[];
}

/** Merges the edits of a tether with the pending state of its source, or with its base where nothing is pending. */
export async function mergedEdits(
  db: Database,
  row: Pick<TetherRow, 'id' | 'base' | 'pending'>,
): Promise<EditsMerged | null> {
  const edits = await findEdits(db, [row.id]);
  const known = await findPacked(db, [row.base, ...(row.pending ? [row.pending] : [])]);
  const packed = known.get(row.base);
  if (!packed) return null;
  const base = unpackSnapshot(packed);
  const now = row.pending ? known.get(row.pending) : undefined;
  const there = edits.filter(({ isGone }) => !isGone);
  const merged = mergeEdits(base, now ? unpackSnapshot(now) : base, there);
  const gone = edits
    .filter(({ isGone }) => isGone)
    .map((edit) => ({
      edit,
      kind: 'gone' as const,
      place: null,
      agreed: edit.agreed,
      theirs: null,
      yours: faceOfValue(edit),
    }));
  return { base, merged: [...merged, ...gone] as EditsMerged['merged'] };
}

function faceOfValue({ value, row, column }: EditRow) {
  const cell = editedCell(undefined, { row, column, value });
  return cell && { type: cell.type, value: cell.value, text: cell.text };
}

/**
 * Puts down what stands in the document by its edits (`shown`), and the standing that follows: contested where the source
 * changed the same cells, else edited here, unless the object is behind, adrift or frozen. Figures that follow from the
 * edits are shown with them.
 */
export async function showEdits(
  tx: Database,
  row: Pick<TetherRow, 'id' | 'base' | 'pending' | 'standing' | 'frozenAt'>,
  provisional: readonly Provisional[] = [],
): Promise<void> {
  const found = await mergedEdits(tx, row);
  if (!found) return;
  const { base, merged } = found;
  // What the source says already is no edit any more.
  const settled = row.pending ? [] : merged.filter(({ kind }) => kind === 'same');
  await deleteEdits(
    tx,
    settled.map(({ edit }) => edit.id),
  );
  const left = merged.filter((each) => !settled.includes(each));
  const standing = standingOf(row, left);
  if (left.length === 0) {
    await setShownEdits(tx, row.id, { hash: null, count: 0 });
  } else {
    const edits = left.filter(({ kind }) => kind !== 'gone').map(({ edit }) => edit);
    const shown = withFigures(withEdits(base, edits), edits, provisional);
    const packed = packSnapshot(shown);
    await storePacked(tx, [packed]);
    await setShownEdits(tx, row.id, { hash: packed.hash, count: left.length });
  }
  if (standing !== row.standing) {
    await updateTether(tx, row.id, { standing, standingSince: new Date() });
  }
}

/** How an object would stand if there were no edits in it. */
export function standingWithoutEdits({
  standing,
  pending,
}: Pick<TetherRow, 'standing' | 'pending'>): StandingName {
  if (standing !== 'edited here' && standing !== 'contested') return standing;
  return pending === null ? 'in step' : 'behind';
}

function standingOf(
  { standing, pending, frozenAt }: Pick<TetherRow, 'standing' | 'pending' | 'frozenAt'>,
  merged: EditsMerged['merged'],
): StandingName {
  if (frozenAt || standing === 'adrift' || standing === 'reshaped') return standing;
  if (merged.some(({ kind }) => kind === 'contested' || kind === 'gone')) return 'contested';
  if (pending) return 'behind';
  return merged.length > 0 ? 'edited here' : 'in step';
}

/** A snapshot with other results in some of its cells: their formulas stay. */
function withFigures(
  snapshot: Snapshot,
  edits: readonly { row: number; column: number }[],
  figures: readonly Provisional[],
): Snapshot {
  if (figures.length === 0) return snapshot;
  const key = ({ row, column }: { row: number; column: number }) => `${row} ${column}`;
  const isEdited = new Set(edits.map(key));
  const found = new Map(
    figures.filter((each) => !isEdited.has(key(each))).map((each) => [key(each), each]),
  );
  const cells = snapshot.cells.map((cell): Cell => {
    const figure = found.get(key(cell));
    const now = figure && editedCell(cell, figure);
    return now ? { ...now, ...(cell.formula ? { formula: cell.formula } : {}) } : cell;
  });
  return { ...snapshot, cells };
}

/**
 * Takes edits and unlocked cells along from what an object showed to what it shows now: rows and columns are found by what they hold, one whose
 * cell is gone waits for somebody.
 */
export async function rebaseEdits(
  tx: Database,
  { id, base, editCount, unlocked }: Pick<TetherRow, 'id' | 'base' | 'editCount' | 'unlocked'>,
  to: string,
): Promise<void> {
  const areas = Array.isArray(unlocked) ? unlocked : [];
  if (editCount === 0 && areas.length === 0) return;
  const packed = await findPacked(tx, [base, to]);
  const [before, after] = [packed.get(base), packed.get(to)];
  if (!before || !after) return;
  const edits = (await findEdits(tx, [id])).filter(({ isGone }) => !isGone);
  const [was, is] = [unpackSnapshot(before), unpackSnapshot(after)];
  if (areas.length > 0) {
    const moved = was.sheet === is.sheet ? movedAreas(was, is, areas) : [];
    await updateTether(tx, id, { unlocked: moved.length > 0 ? moved : null });
  }
  // On another sheet like rows are not the same rows: somebody must look.
  const merged =
    was.sheet === is.sheet
      ? mergeEdits(was, is, edits)
      : edits.map((edit) => ({ edit, place: null }));
  await moveEdits(
    tx,
    merged.map(({ edit, place }) => ({
      id: (edit as EditRow).id,
      row: place?.row ?? edit.row,
      column: place?.column ?? edit.column,
      isGone: place === null,
    })),
  );
}

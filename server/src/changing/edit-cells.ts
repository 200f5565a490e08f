import {
  type EditRequest,
  type EditSeen,
  type EditsSeen,
  isUnlocked,
  type Unlocked,
  whyNotWritable,
} from '@tether/contract';
import {
  cellFinder,
  type Face,
  faceOf,
  fail,
  formatCell,
  holds,
  ok,
  parseEntry,
  type Result,
  refusedBy,
  type Snapshot,
} from '@tether/core';
import { deleteEdits, findEdits, putEdit, setAgreed } from '../db/edits.ts';
import { insertLog } from '../db/log.ts';
import { findPacked } from '../db/snapshots.ts';
import {
  findRules,
  findTethers,
  lockTethers,
  type TetherRow,
  updateTether,
} from '../db/tethers.ts';
import { announceTethers } from '../following/follow.ts';
import { mergedEdits, showEdits } from '../following/show-edits.ts';
import { lookNow } from '../sources/look.ts';
import type { Means } from '../sources/means.ts';
import { heldOrFrozen, planEdits, reshow, whereOf } from '../sources/reshow.ts';
import { type FileWritten, type PlainValue, valueWords } from '../sources/writing/written.ts';
import { unpackSnapshot } from '../storage/packed.ts';
import { refreshTethers } from './refresh.ts';
import { doStep } from './step.ts';
import { STEPS } from './steps/registry.ts';

/** Unlocks cells of an object, or locks them all again. Faults: `not-found`, `not-writable`. */
export async function unlock(
  { db }: Pick<Means, 'db'>,
  personId: string,
  id: string,
  unlocked: Unlocked | null,
): Promise<Result<null>> {
  return db.transaction(async (tx): Promise<Result<null>> => {
    const [row] = await lockTethers(tx, [id]);
    if (!row) return fail('not-found', { what: 'placed object' });
    const why = whyNotWritable(row);
    if (unlocked !== null && why) return fail('not-writable', { why });
    await updateTether(tx, id, { unlocked });
    const kind = unlocked === null ? ('locked' as const) : ('unlocked' as const);
    const summary =
      unlocked === null
        ? 'No cell can be written in the document.'
        : unlocked === 'all'
          ? 'All its cells can be written in the document.'
          : 'Some of its cells can be written in the document.';
    await insertLog(tx, [await logOf(tx, row, { kind, personId, summary })]);
    await announceTethers(tx, [row]);
    return ok(null);
  });
}

/** Says whether what is corrected in an object is written at once. Faults: `not-found`, `not-writable`. */
export async function setWritesAtOnce(
  { db }: Pick<Means, 'db'>,
  personId: string,
  id: string,
  writesAtOnce: boolean,
): Promise<Result<null>> {
  return db.transaction(async (tx): Promise<Result<null>> => {
    const [row] = await lockTethers(tx, [id]);
    if (!row) return fail('not-found', { what: 'placed object' });
    const why = whyNotWritable(row);
    if (writesAtOnce && why) return fail('not-writable', { why });
    await updateTether(tx, id, { writesAtOnce });
    const summary = writesAtOnce
      ? 'What is corrected in the document is written into the source at once.'
      : 'What is corrected in the document waits until somebody writes it into the source.';
    await insertLog(tx, [await logOf(tx, row, { kind: 'writing switched', personId, summary })]);
    await announceTethers(tx, [row]);
    return ok(null);
  });
}

/**
 * Writes the edits of an object whose owner wishes that they are written at once. Where that cannot be done now they stay as
 * they are, and the panel says why.
 */
async function writeAtOnce(means: Means, personId: string, id: string): Promise<void> {
  const [row] = await findTethers(means.db, [id]);
  if (!row?.writesAtOnce || row.editCount === 0) return;
  const planned = await planEdits(means, row);
  if (planned?.token) await writeEdits(means, personId, id, planned.token);
}

async function logOf(
  tx: Means['db'],
  row: TetherRow,
  said: {
    kind: 'locked' | 'unlocked' | 'writing switched' | 'edited';
    personId: string;
    summary: string;
  },
) {
  const { shownPath } = (await findRules(tx, [row.id])).get(row.id)!;
  return {
    ...said,
    documentId: row.documentId,
    tetherId: row.id,
    tetherName: row.name,
    sourceId: row.sourceId,
    source: shownPath,
  };
}

/**
 * Takes down what somebody typed into cells of an object; the source stays as it is. All of it or nothing. Faults:
 * `slip-out-of-date`, `cell-locked`, `write-formula`, those of entries, `document-held`, `object-frozen`.
 */
export async function editCells(
  means: Means,
  personId: string,
  id: string,
  { base, cells, writing }: EditRequest,
): Promise<Result<null>> {
  const { db } = means;
  const [known] = await findTethers(db, [id]);
  if (!known) return fail('not-found', { what: 'placed object' });
  const why = whyNotWritable(known);
  if (why) return fail('not-writable', { why });
  const free = await heldOrFrozen(db, known);
  if (!free.ok) return free;
  const packed = (await findPacked(db, [known.base])).get(known.base);
  if (known.base !== base || !packed) return fail('slip-out-of-date');
  const snapshot = unpackSnapshot(packed);
  const read = await readEntries(means, known, snapshot, { cells, writing });
  if (!read.ok) return read;
  const done = await db.transaction(async (tx): Promise<Result<null>> => {
    const [row] = await lockTethers(tx, [id]);
    if (row?.base !== base) return fail('slip-out-of-date');
    const before = await findEdits(tx, [id]);
    const cellAt = cellFinder(snapshot);
    for (const { place, value, isOverFormula } of read.value) {
      const { row: r, column } = place;
      const own = before.find((each) => each.row === r && each.column === column && !each.isGone);
      const agreed = faceOf(cellAt(r, column));
      const isBack = value === undefined || (own && isFace(agreed, value));
      if (isBack) await deleteEdits(tx, own ? [own.id] : []);
      else
        await putEdit(tx, personId, { tetherId: id, row: r, column, value, agreed, isOverFormula });
    }
    const count = read.value.length;
    const summary = `${count === 1 ? formatCell(read.value[0]!.place) : `${count} cells`} corrected in the document.`;
    await insertLog(tx, [await logOf(tx, row, { kind: 'edited', personId, summary })]);
    await showEdits(tx, row);
    await announceTethers(tx, [row]);
    return ok(null);
  });
  if (done.ok) {
    await reshow(means, [id]);
    await writeAtOnce(means, personId, id);
  }
  return done;
}

const isFace = (face: Face | null, value: PlainValue) =>
  face === null ? value === null : face.type !== 'date' && face.value === value;

/** What was typed as values; undefined for an edit that is let go. */
async function readEntries(
  { db, writer }: Pick<Means, 'db' | 'writer'>,
  { unlocked, sourceId }: TetherRow,
  snapshot: Snapshot,
  { cells, writing }: Pick<EditRequest, 'cells' | 'writing'>,
) {
  const where = await whereOf(db, sourceId);
  // A source that cannot be read now says nothing of entries; it is asked again when they are written.
  const rules = where.ok ? await writer.rules(where.value, snapshot.sheet) : where;
  const entries: {
    place: { row: number; column: number };
    value: number | string | boolean | null | undefined;
    isOverFormula: boolean;
  }[] = [];
  const cellAt = cellFinder(snapshot);
  for (const { row, column, typed, isOverFormula = false } of cells) {
    const place = { row, column };
    if (typed === null) {
      entries.push({ place, value: undefined, isOverFormula });
      continue;
    }
    const cell = cellAt(row, column);
    const { top, left, bottom, right } = snapshot.area;
    const isInside = row >= top && row <= bottom && column >= left && column <= right;
    if (!isInside || !isUnlocked(unlocked, place))
      return fail('cell-locked', { cell: formatCell(place) });
    const isCovered = snapshot.merges.some(
      (merge) => holds(merge, place) && (merge.top !== row || merge.left !== column),
    );
    if (isCovered) {
      const why = `${formatCell(place)} is part of a merged cell, of which the first one shows`;
      return fail('not-writable', { why });
    }
    if (cell?.formula && !isOverFormula) return fail('write-formula', { cell: formatCell(place) });
    const entry = parseEntry(typed, cell, writing);
    if (!entry.ok) return entry;
    if (rules.ok) {
      const { protection, validations } = rules.value;
      if (protection.isProtected) return fail('entry-protected', { sheet: snapshot.sheet });
      const refused = refusedBy(validations, place, entry.value);
      if (refused) return { ok: false as const, fault: refused };
    }
    entries.push({ place, value: entry.value, isOverFormula });
  }
  return ok(entries);
}

/** Decides on an edit whose cell the source changed too, or that is gone. Faults: `not-found`. */
export async function decideEdit(
  means: Means,
  personId: string,
  id: string,
  editId: string,
  decision: 'theirs' | 'yours',
): Promise<Result<null>> {
  const done = await means.db.transaction(async (tx): Promise<Result<null>> => {
    const [row] = await lockTethers(tx, [id]);
    const found = row && (await mergedEdits(tx, row));
    const merged = found?.merged.find(({ edit }) => edit.id === editId);
    if (!row || !merged) return fail('not-found', { what: 'edit' });
    // One whose cell is gone can only be let go.
    if (decision === 'theirs' || merged.kind === 'gone') await deleteEdits(tx, [editId]);
    else await setAgreed(tx, editId, merged.theirs);
    await showEdits(tx, row);
    await announceTethers(tx, [row]);
    return ok(null);
  });
  if (done.ok) {
    await reshow(means, [id]);
    await writeAtOnce(means, personId, id);
  }
  return done;
}

/** The edits of an object, and what writing them would do. Fault: `not-found`. */
export async function seeEdits(means: Means, id: string): Promise<Result<EditsSeen>> {
  const [row] = await findTethers(means.db, [id]);
  const planned = row && (await planEdits(means, row));
  if (!planned) return fail('not-found', { what: 'placed object' });
  const { merged, plan, token, where } = planned;
  const edits = merged.map(({ edit, kind, agreed, theirs, yours }): EditSeen => {
    const { row: r, column, by, at } = edit;
    const place = formatCell({ row: r, column });
    return { id: edit.id, row: r, column, place, kind, agreed, theirs, yours, by: by || null, at };
  });
  if (!plan.ok || !where.ok || token === null) {
    return ok({ edits, plan: null, fault: plan.ok ? null : plan.fault });
  }
  const { written, recalculated, notFinal, losesSignature } = plan.value;
  return ok({
    edits,
    plan: {
      token,
      path: where.value.shownPath,
      written: written.map(asSaid),
      recalculated: recalculated.map(asSaid),
      notFinal: notFinal.map(({ sheet, row: r, column, why }) => ({
        sheet,
        ref: formatCell({ row: r, column }),
        why,
      })),
      losesSignature,
    },
    fault: null,
  });
}

function asSaid(cell: {
  sheet: string;
  row: number;
  column: number;
  before: PlainValue;
  after: PlainValue;
}) {
  const { sheet, row, column, before, after } = cell;
  return {
    sheet,
    ref: formatCell({ row, column }),
    before: valueWords(before),
    after: valueWords(after),
  };
}

/**
 * Writes the edits of an object into its source, as somebody agreed to by `token`, and shows what that brings. Faults:
 * `nothing-to-write`, `edits-undecided`, `slip-out-of-date`, `document-held`, `object-frozen` and those of writing; then
 * nothing is written, and the edits stay.
 */
export async function writeEdits(
  means: Means,
  personId: string,
  id: string,
  token: string,
): Promise<Result<null>> {
  const { db } = means;
  const [row] = await findTethers(db, [id]);
  if (!row) return fail('not-found', { what: 'placed object' });
  const free = await heldOrFrozen(db, row);
  if (!free.ok) return free;
  // What the source holds now decides what is contested.
  await lookNow(means, row.sourceId, { isForced: true });
  const [now] = await findTethers(db, [id]);
  const planned = now && (await planEdits(means, now));
  if (!now || !planned) return fail('not-found', { what: 'placed object' });
  const undecided = planned.merged.filter(({ kind }) => kind === 'contested' || kind === 'gone');
  if (undecided.length > 0) return fail('edits-undecided', { count: undecided.length });
  if (!planned.plan.ok) return planned.plan;
  if (planned.token !== token) return fail('slip-out-of-date');
  const { hash } = planned.plan.value;
  const wish = { sourceId: row.sourceId, tetherId: id, cells: planned.cells, hash };
  const done = await doStep(means, STEPS.writeBack, wish, { personId });
  if (!done.ok) return done;
  await lookNow(means, row.sourceId, { isForced: true });
  const [after] = await findTethers(db, [id]);
  if (after?.pending && (await isOurs(means, after, planned.plan.value))) {
    await refreshTethers(means, personId, { tethers: [{ id, seen: after.pending }] });
  }
  return ok(null);
}

/** Whether all that an object is behind by came of a write: it is taken at once. What was waiting besides waits on. */
export async function isOurs(
  { db, comparer }: Pick<Means, 'db' | 'comparer'>,
  { base, pending }: TetherRow,
  { written, recalculated }: FileWritten,
): Promise<boolean> {
  const slip = await comparer.slip(db, base, pending!);
  if (!slip.ok) return false;
  const { rows, columns } = slip.value;
  const ours = new Set([...written, ...recalculated].map(({ row, column }) => `${row} ${column}`));
  return (
    (columns ?? []).length === 0 &&
    rows.every(
      ({ kind, after, cells }) =>
        kind === 'changed' && cells.every(({ column }) => ours.has(`${after} ${column}`)),
    )
  );
}

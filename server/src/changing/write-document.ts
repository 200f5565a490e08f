import type { SourceEdits, WriteAll, WriteOutcome } from '@tether/contract';
import { type Fault, fail, fault, formatCell, ok, type Result } from '@tether/core';
import { listEditedIn } from '../db/edits.ts';
import { findRules, findTethers, type TetherRow } from '../db/tethers.ts';
import { mergedEdits } from '../following/show-edits.ts';
import { lookNow } from '../sources/look.ts';
import type { Means } from '../sources/means.ts';
import { heldOrFrozen, planCells, whereOf } from '../sources/reshow.ts';
import type { FileWritten, WishedCell } from '../sources/writing/written.ts';
import { isOurs } from './edit-cells.ts';
import { refreshTethers } from './refresh.ts';
import { doStep } from './step.ts';
import { STEPS } from './steps/registry.ts';

/** All edits of some objects of one source, and what writing them would do. */
interface SourcePlan {
  cells: WishedCell[];
  undecided: number;
  plan: Result<FileWritten>;
  token: string | null;
}

async function planSource(
  { db, writer }: Pick<Means, 'db' | 'writer'>,
  sourceId: string,
  rows: readonly TetherRow[],
): Promise<SourcePlan> {
  const cells = new Map<string, WishedCell>();
  let undecided = 0;
  let apart: Fault | null = null;
  for (const row of rows) {
    const found = await mergedEdits(db, row);
    for (const { edit, kind, place } of found?.merged ?? []) {
      if (kind === 'contested' || kind === 'gone') undecided++;
      if (!place || kind === 'same') continue;
      const cell = {
        sheet: found!.base.sheet,
        ...place,
        value: edit.value,
        isOverFormula: edit.isOverFormula,
      };
      const key = `${cell.sheet.toLowerCase()} ${cell.row} ${cell.column}`;
      const other = cells.get(key);
      if (other && other.value !== cell.value) {
        apart = fault('edits-apart', { cell: `${cell.sheet}!${formatCell(cell)}` });
      }
      cells.set(key, cell);
    }
  }
  // In one order, so that the same cells are agreed to by the same token.
  const wished = [...cells].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, cell]) => cell);
  if (apart) return { cells: wished, undecided, plan: { ok: false, fault: apart }, token: null };
  const { plan, token } = await planCells({ db, writer }, sourceId, wished);
  return { cells: wished, undecided, plan, token };
}

function bySource(rows: readonly TetherRow[]): Map<string, TetherRow[]> {
  const found = new Map<string, TetherRow[]>();
  for (const row of rows) found.set(row.sourceId, [...(found.get(row.sourceId) ?? []), row]);
  return found;
}

/** What writing all edits of a document would do, source by source. */
export async function seeDocumentEdits(means: Means, documentId: string): Promise<SourceEdits[]> {
  const { db } = means;
  const rows = await findTethers(db, await listEditedIn(db, documentId));
  const rules = await findRules(
    db,
    rows.map(({ id }) => id),
  );
  const sources: SourceEdits[] = [];
  for (const [sourceId, own] of bySource(rows)) {
    const { cells, undecided, plan, token } = await planSource(means, sourceId, own);
    sources.push({
      sourceId,
      path: rules.get(own[0]!.id)!.shownPath,
      objects: own.map(({ id, name, editCount }) => ({ id, name, count: editCount })),
      undecided,
      cells: cells.length,
      follows: plan.ok ? plan.value.recalculated.length : 0,
      notFinal: plan.ok ? plan.value.notFinal.length : 0,
      losesSignature: plan.ok && plan.value.losesSignature,
      token: undecided > 0 ? null : token,
      fault: plan.ok ? null : plan.fault,
    });
  }
  return sources;
}

/**
 * Writes all edits of a document, each source in one go, as somebody agreed to. What could not be written is told with its
 * reason, and its edits stay; the rest is done.
 */
export async function writeDocument(
  means: Means,
  personId: string,
  documentId: string,
  { sources }: WriteAll,
): Promise<WriteOutcome> {
  const outcome: WriteOutcome = { written: [], refused: [] };
  for (const { sourceId, token } of sources) {
    const where = await whereOf(means.db, sourceId);
    const path = where.ok ? where.value.shownPath : sourceId;
    const done = await writeSourceOf(means, personId, documentId, sourceId, token);
    if (done.ok) outcome.written.push({ path, cells: done.value });
    else outcome.refused.push({ path, fault: done.fault });
  }
  return outcome;
}

/** Writes what was corrected in a document into one of its sources; gives how many cells that were. */
async function writeSourceOf(
  means: Means,
  personId: string,
  documentId: string,
  sourceId: string,
  token: string,
): Promise<Result<number>> {
  const { db } = means;
  await lookNow(means, sourceId, { isForced: true });
  const edited = await findTethers(db, await listEditedIn(db, documentId));
  const rows = edited.filter((row) => row.sourceId === sourceId);
  for (const row of rows) {
    const free = await heldOrFrozen(db, row);
    if (!free.ok) return free;
  }
  const { cells, undecided, plan, token: now } = await planSource(means, sourceId, rows);
  if (undecided > 0) return fail('edits-undecided', { count: undecided });
  if (!plan.ok) return plan;
  if (now !== token) return fail('slip-out-of-date');
  const [only] = rows.length === 1 ? rows : [];
  const wish = { sourceId, tetherId: only?.id ?? null, documentId, cells, hash: plan.value.hash };
  const done = await doStep(means, STEPS.writeBack, wish, { personId });
  if (!done.ok) return done;
  await lookNow(means, sourceId, { isForced: true });
  const after = await findTethers(
    db,
    rows.map(({ id }) => id),
  );
  for (const row of after) {
    if (!row.pending || !(await isOurs(means, row, plan.value))) continue;
    await refreshTethers(means, personId, { tethers: [{ id: row.id, seen: row.pending }] });
  }
  return ok(cells.length);
}

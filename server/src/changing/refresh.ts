import type { LeaveRequest, RefreshRequest, RefreshResponse, Tether } from '@tether/contract';
import { type ChangeSlip, type Fault, fail, fault, type Result } from '@tether/core';
import type { Database } from '../db/database.ts';
import { findHolds } from '../db/documents.ts';
import { insertLog } from '../db/log.ts';
import { storePacked } from '../db/snapshots.ts';
import {
  findRules,
  findTethers,
  lockTethers,
  type TetherRow,
  updateTethers,
} from '../db/tethers.ts';
import type { PartTaken } from '../following/compare-packed.ts';
import { announceTethers } from '../following/follow.ts';
import { type Taking, takeStates } from '../following/take-states.ts';
import { catchUp } from '../sources/look.ts';
import type { Means } from '../sources/means.ts';

type Refused = RefreshResponse['refused'];

/**
 * Takes what the sources hold into these objects, or the chosen part of it: all in one transaction, each with a log entry
 * that carries its change slip. An object whose source changed after the person looked is refused with
 * `slip-out-of-date`, one that is adrift with its reason, one without changes with `nothing-to-refresh`, one of a held
 * document with `document-held`, a frozen one with `object-frozen`.
 */
export async function refreshTethers(
  means: Means,
  personId: string | null,
  { tethers }: RefreshRequest,
  act: string | null = null,
): Promise<RefreshResponse> {
  const { db } = means;
  const ids = tethers.map(({ id }) => id);
  const known = await findTethers(db, ids);
  await catchUp(
    means,
    known.map(({ sourceId }) => sourceId),
  );
  const partsSeen = await partsOf(means, tethers);
  return db.transaction(async (tx) => {
    const { rows, refused } = await pendingRows(tx, tethers);
    const rules = await findRules(tx, ids);
    const takings: Taking[] = [];
    const partly: Taking[] = [];
    for (const row of rows) {
      const seen = partsSeen.get(row.id);
      // Somebody was quicker: what was chosen from is not what stands here now.
      if (seen && (seen.base !== row.base || seen.pending !== row.pending)) {
        refused.push({ id: row.id, fault: fault('slip-out-of-date') });
        continue;
      }
      const all: Taking = {
        row,
        shownPath: rules.get(row.id)!.shownPath,
        hash: row.pending!,
        summary: row.summary ?? '',
      };
      if (!seen?.taken) takings.push(all);
      else {
        const { part, left, summary } = seen.taken;
        partly.push({
          ...all,
          hash: part.hash,
          pending: { hash: all.hash, change: left },
          summary: `${summary}, of ${all.summary}`,
        });
      }
    }
    await storePacked(
      tx,
      partly.map(({ row }) => partsSeen.get(row.id)!.taken!.part),
    );
    const taker = { personId, how: 'by hand' as const, act };
    await takeStates(tx, takings, { ...taker, kind: 'refreshed' });
    await takeStates(tx, partly, { ...taker, kind: 'part taken' });
    const taken = [...takings, ...partly].map(({ row }) => row);
    await announceTethers(tx, taken);
    return { refreshed: taken.map(({ id }) => id), refused };
  });
}

/** What somebody chose of objects, worked out before anything is locked, with the states it was chosen between. */
async function partsOf(
  { db, comparer }: Pick<Means, 'db' | 'comparer'>,
  tethers: RefreshRequest['tethers'],
): Promise<Map<string, { base: string; pending: string; taken: PartTaken }>> {
  const choices = new Map(
    tethers.flatMap(({ id, choice }) => (choice === undefined ? [] : [[id, choice] as const])),
  );
  const parts = new Map<string, { base: string; pending: string; taken: PartTaken }>();
  for (const { id, base, pending } of await findTethers(db, [...choices.keys()])) {
    if (pending === null) continue;
    const taken = await comparer.part(db, base, pending, choices.get(id)!);
    // What is not kept any more is not pending any more either: that is found when it is taken.
    if (taken.ok) parts.set(id, { base, pending, taken: taken.value });
  }
  return parts;
}

/**
 * Decides to leave what is pending: nobody is asked again until the source changes. Refused as a refresh would be.
 */
export async function leaveTethers(
  means: Means,
  personId: string,
  { tethers }: LeaveRequest,
): Promise<RefreshResponse> {
  return means.db.transaction(async (tx) => {
    const { rows, refused } = await pendingRows(tx, tethers, { isLeaving: true });
    const rules = await findRules(
      tx,
      rows.map(({ id }) => id),
    );
    const leftAt = new Date();
    await updateTethers(
      tx,
      rows.map(({ id, pending }) => ({
        id,
        leftHash: pending,
        leftBy: personId,
        leftAt,
        waits: null,
      })),
    );
    await insertLog(
      tx,
      rows.map((row) => ({
        kind: 'left' as const,
        personId,
        documentId: row.documentId,
        tetherId: row.id,
        tetherName: row.name,
        sourceId: row.sourceId,
        source: rules.get(row.id)!.shownPath,
        summary: row.summary ?? '',
      })),
    );
    await announceTethers(tx, rows);
    return { refreshed: rows.map(({ id }) => id), refused };
  });
}

/** Locks the tethers and tells which have something pending that the person saw, and why the others cannot be taken. */
async function pendingRows(
  tx: Database,
  tethers: readonly { id: string; seen: string | null }[],
  { isLeaving = false } = {},
): Promise<{ rows: TetherRow[]; refused: Refused }> {
  const seen = new Map(tethers.map((each) => [each.id, each.seen]));
  const locked = await lockTethers(tx, [...seen.keys()]);
  const holds = isLeaving
    ? new Map()
    : await findHolds(
        tx,
        locked.map(({ documentId }) => documentId),
      );
  const refused: Refused = [...seen.keys()]
    .filter((id) => !locked.some((row) => row.id === id))
    .map((id) => ({ id, fault: fault('not-found', { what: 'placed object' }) }));
  const rows = locked.filter((row) => {
    const reason = holds.get(row.documentId) ?? reasonAgainst(row, seen.get(row.id) ?? null);
    if (reason) refused.push({ id: row.id, fault: reason });
    return !reason;
  });
  return { rows, refused };
}

function reasonAgainst(row: TetherRow, seen: string | null): Fault | null {
  if (row.frozenAt) return fault('object-frozen');
  if (row.standing === 'adrift' && row.reason) return row.reason;
  if (row.pending === null) return fault('nothing-to-refresh');
  if (seen !== null && seen !== row.pending) return fault('slip-out-of-date');
  return null;
}

/** What a refresh of the tether would change now. Fault: `not-found` for a tether that is not there or not behind. */
export async function pendingSlip(
  { db, comparer }: Pick<Means, 'db' | 'comparer'>,
  id: string,
): Promise<Result<ChangeSlip>> {
  const [row] = await findTethers(db, [id]);
  if (!row?.pending) return fail('not-found', { what: 'change slip' });
  return comparer.slip(db, row.base, row.pending);
}

/** The pending states of tethers, as a request to refresh them all to what is known now. */
export function asRequest(
  tethers: readonly Pick<Tether, 'id' | 'pending'>[],
): RefreshRequest['tethers'] {
  return tethers.map(({ id, pending }) => ({ id, seen: pending }));
}

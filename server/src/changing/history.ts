import {
  type ChangeSlip,
  changeOf,
  changeSlip,
  type Fault,
  fail,
  fault,
  KEEP_ALL_DAYS,
  ok,
  type Reach,
  type Result,
  statesToForget,
} from '@tether/core';
import type { Database } from '../db/database.ts';
import { findHolds } from '../db/documents.ts';
import { deleteStates, findState, listOldStates } from '../db/history.ts';
import { findEntry, setSlip } from '../db/log.ts';
import { findSnapshots, listLosingSlips, sweepSnapshots } from '../db/snapshots.ts';
import { findRules, lockTethers, type TetherRow, updateTether } from '../db/tethers.ts';
import { announceTethers } from '../following/follow.ts';
import { takeStates } from '../following/take-states.ts';
import type { Means } from '../sources/means.ts';
import { compareStates } from './refresh.ts';

/** An earlier state to show again. */
interface Earlier {
  snapshot: string;
  reach: Reach;
  at: Date;
}

/**
 * Shows an earlier state of an object again: it is then behind on purpose, and says the date. Faults: `not-found`,
 * `state-forgotten`, `document-held`, `object-frozen`.
 */
export async function goBack(
  { db, queue }: Pick<Means, 'db' | 'queue'>,
  personId: string,
  tetherId: string,
  stateId: number,
): Promise<Result<null>> {
  const gone = await db.transaction(async (tx): Promise<Result<TetherRow>> => {
    const [row] = await lockTethers(tx, [tetherId]);
    if (!row) return fail('not-found', { what: 'placed object' });
    const state = await findState(tx, tetherId, stateId);
    if (!state) return fail('state-forgotten');
    return showEarlier(tx, personId, row, state, 'gone back');
  });
  if (!gone.ok) return gone;
  await queue.askLook(gone.value.sourceId, { isForced: true });
  return ok(null);
}

/** Within a transaction, on a locked row. The source must be looked at afterwards: the reach may be another. */
export async function showEarlier(
  tx: Database,
  personId: string,
  row: TetherRow,
  { snapshot: hash, reach, at }: Earlier,
  kind: 'gone back' | 'taken back',
): Promise<Result<TetherRow>> {
  const reason = await reasonAgainst(tx, row);
  if (reason) return { ok: false, fault: reason };
  // What the source holds is what was pending, or what an object in step shows; of another reach nobody knows yet.
  const isSameReach = JSON.stringify(reach) === JSON.stringify(row.reach);
  const held = isSameReach ? (row.pending ?? (row.standing === 'in step' ? row.base : null)) : null;
  const contents = await findSnapshots(tx, [hash, ...(held ? [held] : [])]);
  const snapshot = contents.get(hash);
  if (!snapshot) return fail('state-forgotten');
  const { shownPath } = (await findRules(tx, [row.id])).get(row.id)!;
  await takeStates(
    tx,
    [
      {
        row,
        shownPath,
        hash,
        pending: held ? { hash: held, change: changeOf(snapshot, contents.get(held)!) } : null,
        reach,
        pinnedTo: at,
        summary: `To what it showed on ${at.toISOString().slice(0, 16).replace('T', ' at ')} UTC.`,
      },
    ],
    { personId, how: 'by hand', kind },
  );
  // Whether it is behind is known when the source was looked at: until then the date stays.
  if (!held) await updateTether(tx, row.id, { pinnedTo: at });
  await announceTethers(tx, [row]);
  return ok(row);
}

async function reasonAgainst(tx: Database, row: TetherRow): Promise<Fault | null> {
  if (row.frozenAt) return fault('object-frozen');
  return (await findHolds(tx, [row.documentId])).get(row.documentId) ?? null;
}

/** The change slip of a log entry. Faults: `not-found`, `state-forgotten`. */
export async function entrySlip(
  { db }: Pick<Means, 'db'>,
  id: number,
): Promise<Result<ChangeSlip>> {
  const entry = await findEntry(db, id);
  if (entry?.slip) return ok(entry.slip);
  if (entry?.undo?.kind !== 'state') return fail('not-found', { what: 'change slip' });
  return compareStates({ db }, entry.undo.from, entry.undo.to);
}

const DAY_MS = 24 * 3_600_000;

/** Thins out old states by the rule of `core/thin`, and removes snapshots that nothing needs any more. */
export async function thinHistory({ db }: Pick<Means, 'db'>, now = new Date()): Promise<void> {
  const old = await listOldStates(db, new Date(now.getTime() - KEEP_ALL_DAYS * DAY_MS));
  const byTether = new Map<string, { id: number; at: number }[]>();
  for (const { id, tetherId, at } of old) {
    byTether.set(tetherId, [...(byTether.get(tetherId) ?? []), { id, at: at.getTime() }]);
  }
  for (const states of byTether.values()) {
    await deleteStates(db, statesToForget(states, now.getTime()));
  }
  await keepSlips(db);
  await sweepSnapshots(db);
}

const SLIPS_AT_ONCE = 200;

/** A log entry's slip comes from the states it led between; where one of these goes, the slip is put down for good. */
async function keepSlips(db: Database): Promise<void> {
  for (;;) {
    const losing = await listLosingSlips(db, SLIPS_AT_ONCE);
    if (losing.length === 0) return;
    for (const { id, from, to } of losing) {
      const contents = await findSnapshots(db, [from, to]);
      await setSlip(db, id, changeSlip(contents.get(from)!, contents.get(to)!));
    }
  }
}

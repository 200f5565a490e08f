import type { RefreshRequest, RefreshResponse } from '@tether/contract';
import {
  type ChangeSlip,
  changeSlip,
  type Fault,
  fail,
  fault,
  ok,
  type Result,
  summariseSlip,
} from '@tether/core';
import type { Database } from '../db/database.ts';
import { insertLog } from '../db/log.ts';
import { findSnapshots } from '../db/snapshots.ts';
import {
  describeTethers,
  findTethers,
  lockTethers,
  type TetherRow,
  updateTether,
} from '../db/tethers.ts';
import type { Services } from '../services.ts';

/**
 * Takes what the sources hold into these objects: their pending snapshot becomes the base, all in one transaction, each
 * with a log entry that carries its change slip. An object whose source changed after the person looked is refused with
 * `slip-out-of-date`, one that is adrift with its reason, one without changes with `nothing-to-refresh`.
 */
export async function refreshTethers(
  { db, keeper, events }: Pick<Services, 'db' | 'keeper' | 'events'>,
  personId: string | null,
  { tethers }: RefreshRequest,
): Promise<RefreshResponse> {
  const ids = tethers.map(({ id }) => id);
  const seen = new Map(tethers.map((each) => [each.id, each.seen]));
  const known = await findTethers(db, ids);
  await keeper.catchUp(known.map(({ sourceId }) => sourceId));

  const refused: RefreshResponse['refused'] = ids
    .filter((id) => !known.some((row) => row.id === id))
    .map((id) => ({ id, fault: fault('not-found', { what: 'placed object' }) }));
  const taken = await db.transaction(async (tx) => {
    const taken: TetherRow[] = [];
    for (const row of await lockTethers(tx, ids)) {
      const reason = reasonAgainst(row, seen.get(row.id) ?? null);
      if (reason) refused.push({ id: row.id, fault: reason });
      else taken.push(row);
    }
    await takeAll(tx, personId, taken);
    return taken;
  });
  for (const documentId of new Set(taken.map((row) => row.documentId))) {
    const here = taken.filter((row) => row.documentId === documentId);
    events.publish({ kind: 'tethers', documentId, ids: here.map(({ id }) => id) });
  }
  if (taken.length > 0) events.publish({ kind: 'log' });
  return { refreshed: taken.map(({ id }) => id), refused };
}

function reasonAgainst(row: TetherRow, seen: string | null): Fault | null {
  if (row.standing === 'adrift' && row.reason) return row.reason;
  if (row.pending === null) return fault('nothing-to-refresh');
  if (seen !== null && seen !== row.pending) return fault('slip-out-of-date');
  return null;
}

async function takeAll(tx: Database, personId: string | null, rows: TetherRow[]): Promise<void> {
  const slips = await slipsOf(tx, rows);
  const described = await describeTethers(tx, { ids: rows.map(({ id }) => id) });
  const now = new Date();
  for (const row of rows) {
    await updateTether(tx, row.id, {
      base: row.pending!,
      pending: null,
      standing: 'in step',
      summary: null,
      behindBy: 0,
      standingSince: now,
      refreshedAt: now,
      refreshedBy: personId,
    });
  }
  await insertLog(
    tx,
    rows.map((row) => {
      const slip = slips.get(row.id)!;
      const source = described.find(({ tether }) => tether.id === row.id)!.tether.source;
      return {
        kind: 'refreshed' as const,
        personId,
        documentId: row.documentId,
        tetherId: row.id,
        tetherName: row.name,
        source: `${source.folder}/${source.path}`,
        summary: summariseSlip(slip),
        slip,
      };
    }),
  );
}

async function slipsOf(db: Database, rows: TetherRow[]): Promise<Map<string, ChangeSlip>> {
  const behind = rows.filter((row) => row.pending !== null);
  const contents = await findSnapshots(
    db,
    behind.flatMap((row) => [row.base, row.pending!]),
  );
  return new Map(
    behind.map((row) => [row.id, changeSlip(contents.get(row.base)!, contents.get(row.pending!)!)]),
  );
}

/** What a refresh of the tether would change now. Fault: `not-found` for a tether that is not there or not behind. */
export async function pendingSlip(
  { db }: Pick<Services, 'db'>,
  id: string,
): Promise<Result<ChangeSlip>> {
  const slips = await slipsOf(db, await findTethers(db, [id]));
  const slip = slips.get(id);
  return slip ? ok(slip) : fail('not-found', { what: 'change slip' });
}

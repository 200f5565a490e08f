import type { LogEntry, RefreshedHow } from '@tether/contract';
import {
  type ChangeSlip,
  cellsBehind,
  changeSlip,
  isEmptySlip,
  type Reach,
  type Snapshot,
  summariseSlip,
} from '@tether/core';
import type { Database } from '../db/database.ts';
import { insertStates } from '../db/history.ts';
import { insertLog } from '../db/log.ts';
import type { TetherRow } from '../db/tethers.ts';
import { updateBases, updateTether } from '../db/tethers.ts';

/** What an object is to show from now on. */
export interface Taking {
  row: TetherRow;
  /** `folder/path` of its source. */
  shownPath: string;
  /** Its snapshot and the hash of it. */
  snapshot: Snapshot;
  hash: string;
  /** What leads there from what it shows now. */
  slip: ChangeSlip;
  /** What stays behind, where not everything was taken. */
  pending?: { snapshot: Snapshot; hash: string } | null;
  reach?: Reach;
  /** The moment of the earlier state that somebody goes back to. */
  pinnedTo?: Date | null;
  summary?: string;
}

/** Who takes, and what it is called in log and history. */
export interface Taker {
  personId: string | null;
  how: RefreshedHow;
  kind: LogEntry['kind'];
}

/**
 * Gives objects new states within a transaction: base, standing, history and a log entry with the slip and what taking it
 * back needs. The rows must be locked.
 */
export async function takeStates(
  tx: Database,
  takings: readonly Taking[],
  { personId, how, kind }: Taker,
): Promise<void> {
  if (takings.length === 0) return;
  const now = new Date();
  const inStep = {
    pending: null,
    standing: 'in step' as const,
    summary: null,
    behindBy: 0,
    reason: null,
    waits: null,
    leftHash: null,
    leftBy: null,
    leftAt: null,
    pinnedTo: null,
    standingSince: now,
    refreshedAt: now,
    refreshedBy: personId,
    refreshedHow: how,
  };
  const plain = takings.filter(({ pending, reach }) => !pending && !reach);
  await updateBases(
    tx,
    plain.map(({ row, hash }) => ({ id: row.id, base: hash })),
    inStep,
  );
  for (const { row, hash, snapshot, pending = null, reach, pinnedTo = null } of takings) {
    if (!pending && !reach) continue;
    const rest = pending && changeSlip(snapshot, pending.snapshot);
    const isBehind = rest !== null && !isEmptySlip(rest);
    await updateTether(tx, row.id, {
      ...inStep,
      base: hash,
      ...(isBehind
        ? {
            pending: pending!.hash,
            standing: 'behind',
            summary: summariseSlip(rest),
            behindBy: cellsBehind(rest),
            pinnedTo,
          }
        : {}),
      ...(reach ? { reach } : {}),
    });
  }
  const said = takings.map((taking) => ({
    taking,
    summary: taking.summary ?? summariseSlip(taking.slip),
  }));
  await insertStates(
    tx,
    said.map(({ taking: { row, hash, reach }, summary }) => ({
      tetherId: row.id,
      snapshot: hash,
      reach: reach ?? row.reach,
      at: now,
      personId,
      how: kind,
      refreshedHow: how,
      summary,
    })),
  );
  await insertLog(
    tx,
    said.map(({ taking: { row, hash, shownPath, slip }, summary }) => ({
      kind,
      personId,
      how: personId ? null : how,
      documentId: row.documentId,
      tetherId: row.id,
      tetherName: row.name,
      sourceId: row.sourceId,
      source: shownPath,
      summary,
      slip,
      undo: {
        kind: 'state',
        from: row.base,
        reach: row.reach,
        at: row.refreshedAt.toISOString(),
        to: hash,
      } as const,
    })),
  );
}

import { type LogEntry, type RefreshedHow, reachSchema } from '@tether/contract';
import type { Change, Reach } from '@tether/core';
import { z } from 'zod';
import type { Database } from '../db/database.ts';
import { insertStates } from '../db/history.ts';
import { insertLog } from '../db/log.ts';
import type { TetherRow } from '../db/tethers.ts';
import { updateBases, updateTether } from '../db/tethers.ts';
import { rebaseEdits, showEdits } from './show-edits.ts';

/** What the log keeps of an object that took a new state: from which it came, with which reach, and to which it went. */
export const stateDataSchema = z.object({
  kind: z.literal('state'),
  from: z.string(),
  reach: reachSchema,
  /** When it took the one it came from. */
  at: z.string(),
  to: z.string(),
});

/** What an object is to show from now on. */
export interface Taking {
  row: TetherRow;
  /** `folder/path` of its source. */
  shownPath: string;
  /** Hash of its snapshot. */
  hash: string;
  /** What leads there from what it shows now, in few words. */
  summary: string;
  /** What stays behind, where not everything was taken. */
  pending?: { hash: string; change: Change | null } | null;
  reach?: Reach;
  /** The moment of the earlier state that somebody goes back to. */
  pinnedTo?: Date | null;
}

/** Who takes, and what it is called in log and history. */
export interface Taker {
  personId: string | null;
  how: RefreshedHow;
  kind: LogEntry['kind'];
  /** What it is a part of, where it is done to many at once. */
  act?: string | null;
}

/**
 * Gives objects new states within a transaction: base, standing, history and a log entry with what its slip and taking it
 * back need. The rows must be locked.
 */
export async function takeStates(
  tx: Database,
  takings: readonly Taking[],
  { personId, how, kind, act = null }: Taker,
): Promise<void> {
  if (takings.length === 0) return;
  for (const { row, hash } of takings) await rebaseEdits(tx, row, hash);
  const now = new Date();
  const inStep = {
    pending: null,
    standing: 'in step' as const,
    summary: null,
    behindBy: 0,
    danger: null,
    reason: null,
    reshaped: null,
    staysHash: null,
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
  for (const { row, hash, pending = null, reach, pinnedTo = null } of takings) {
    if (!pending && !reach) continue;
    await updateTether(tx, row.id, {
      ...inStep,
      base: hash,
      ...(pending?.change
        ? {
            pending: pending.hash,
            standing: 'behind',
            summary: pending.change.summary,
            behindBy: pending.change.behindBy,
            danger: pending.change.danger,
            pinnedTo,
          }
        : {}),
      ...(reach ? { reach } : {}),
    });
  }
  for (const { row, hash, pending = null } of takings) {
    if (row.editCount === 0) continue;
    const standing = pending?.change ? ('behind' as const) : ('in step' as const);
    const left = pending?.change ? pending.hash : null;
    await showEdits(tx, { ...row, base: hash, pending: left, standing });
  }
  await insertStates(
    tx,
    takings.map(({ row, hash, reach, summary }) => ({
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
    takings.map(({ row, hash, shownPath, summary }) => ({
      kind,
      personId,
      how: how === 'by hand' ? null : how,
      documentId: row.documentId,
      tetherId: row.id,
      tetherName: row.name,
      sourceId: row.sourceId,
      source: shownPath,
      summary,
      undo: {
        kind: 'state',
        from: row.base,
        reach: row.reach,
        at: row.refreshedAt.toISOString(),
        to: hash,
      } satisfies z.infer<typeof stateDataSchema>,
    })),
    act,
  );
}

import {
  cellsBehind,
  type Fault,
  fail,
  ok,
  type Reach,
  type ReachWarning,
  type Result,
  type Snapshot,
  standingOf,
  summariseSlip,
  type Taken,
} from '@tether/core';
import type { Database } from '../db/database.ts';
import { insertLog } from '../db/log.ts';
import { findSnapshots, hashSnapshot, storeSnapshot } from '../db/snapshots.ts';
import { listSourceTethers, type TetherRow, updateTether } from '../db/tethers.ts';
import type { Reading } from '../sources/reading.ts';

/** The reaches of the tethers, each once however many objects share it. */
export function reachesOf(tethers: readonly TetherRow[]): Reach[] {
  return [...new Map(tethers.map(({ reach }) => [reachKey(reach), reach])).values()];
}

function reachKey(reach: Reach): string {
  return JSON.stringify(reach);
}

/** What the tether takes, or why it cannot. */
type TakenByTether = (tether: Pick<TetherRow, 'reach'>) => Result<Taken>;

/** What each tether takes out of one reading. */
export function takenBy(reading: Reading, reaches: readonly Reach[]): TakenByTether {
  const byKey = new Map(reaches.map((reach, index) => [reachKey(reach), reading.taken[index]!]));
  return ({ reach }) =>
    byKey.get(reachKey(reach)) ?? fail('unexpected', { detail: 'the range was not read' });
}

/**
 * Gives every tether of a source its standing after the source was read (or could not be), within the transaction `tx`.
 * Changed standings are written with their reason or pending snapshot; going adrift and being found again are logged.
 * Returns the tethers whose standing or pending figures changed.
 */
export async function followSource(
  tx: Database,
  source: { id: string; shownPath: string },
  taken: TakenByTether | { fault: Fault },
): Promise<TetherRow[]> {
  const rows = await listSourceTethers(tx, source.id, { lock: true });
  const changed: TetherRow[] = [];
  const bases =
    typeof taken === 'function'
      ? await findSnapshots(
          tx,
          rows.map((row) => row.base),
        )
      : new Map();
  for (const row of rows) {
    const now =
      typeof taken === 'function' ? taken(row) : ({ ok: false, fault: taken.fault } as const);
    const next = await judge(tx, row, bases.get(row.base), now);
    const isSame =
      next.standing === row.standing &&
      next.pending === row.pending &&
      next.reason?.message === row.reason?.message &&
      wordsOf(next.warnings) === wordsOf(row.warnings);
    if (isSame) continue;
    await updateTether(tx, row.id, {
      ...next,
      ...(next.standing === row.standing ? {} : { standingSince: new Date() }),
    });
    changed.push(row);
    if ((next.standing === 'adrift') !== (row.standing === 'adrift')) {
      await insertLog(tx, [
        {
          kind: next.standing === 'adrift' ? 'adrift' : 'found again',
          documentId: row.documentId,
          tetherId: row.id,
          tetherName: row.name,
          source: source.shownPath,
          summary: next.reason?.message ?? 'The source can be read again.',
        },
      ]);
    }
  }
  return changed;
}

function wordsOf(warnings: readonly ReachWarning[]): string {
  return warnings.map(({ message }) => message).join('\n');
}

type Judgement = Pick<
  TetherRow,
  'standing' | 'pending' | 'reason' | 'summary' | 'behindBy' | 'warnings'
>;

async function judge(
  tx: Database,
  row: TetherRow,
  base: Snapshot,
  now: Result<Taken>,
): Promise<Judgement> {
  const warnings = now.ok ? now.value.warnings : row.warnings;
  const inStep = {
    standing: 'in step',
    pending: null,
    reason: null,
    summary: null,
    behindBy: 0,
    warnings,
  } as const;
  if (now.ok && hashSnapshot(now.value.snapshot) === row.base) return inStep;
  const standing = standingOf(base, now.ok ? ok(now.value.snapshot) : now);
  switch (standing.name) {
    case 'in step':
      return inStep;
    case 'adrift':
      // What was pending is kept out: nobody can say whether it still holds.
      return { ...inStep, standing: 'adrift', reason: standing.reason };
    case 'behind':
      return {
        ...inStep,
        standing: 'behind',
        pending: await storeSnapshot(tx, (now as { value: Taken }).value.snapshot),
        summary: summariseSlip(standing.slip),
        behindBy: cellsBehind(standing.slip),
      };
  }
}

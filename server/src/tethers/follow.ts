import {
  type Fault,
  fail,
  type Result,
  resolveReach,
  type Snapshot,
  standingOf,
  summariseSlip,
} from '@tether/core';
import type { Database } from '../db/database.ts';
import { insertLog } from '../db/log.ts';
import { findSnapshots, hashSnapshot, storeSnapshot } from '../db/snapshots.ts';
import { listSourceTethers, type TetherRow, updateTether } from '../db/tethers.ts';
import type { Reading, ReadingRequest } from '../sources/reading.ts';

/** The areas that the tethers take, each once however many objects show it. */
export function areasOf(tethers: readonly TetherRow[]): ReadingRequest['areas'] {
  const areas = new Map(tethers.map(({ reach }) => [areaKey(reach), reach]));
  return [...areas.values()].map(({ sheet, area }) => ({ sheet, area }));
}

function areaKey({ sheet, area }: ReadingRequest['areas'][number]): string {
  return `${area.top},${area.left},${area.bottom},${area.right},${sheet}`;
}

/** What each tether takes out of one reading. */
export function takenBy(
  reading: Reading,
  areas: ReadingRequest['areas'],
): (tether: Pick<TetherRow, 'reach'>) => Result<Snapshot> {
  const byKey = new Map(areas.map((area, index) => [areaKey(area), reading.areas[index]!]));
  return ({ reach }) => {
    const resolved = resolveReach(reach, reading.sheets);
    if (!resolved.ok) return resolved;
    return byKey.get(areaKey(reach)) ?? fail('unexpected', { detail: 'the range was not read' });
  };
}

/**
 * Gives every tether of a source its standing after the source was read (or could not be), within the transaction `tx`.
 * Changed standings are written with their reason or pending snapshot; going adrift and being found again are logged.
 * Returns the tethers whose standing or pending figures changed.
 */
export async function followSource(
  tx: Database,
  source: { id: string; shownPath: string },
  taken: ((tether: Pick<TetherRow, 'reach'>) => Result<Snapshot>) | { fault: Fault },
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
      next.reason?.message === row.reason?.message;
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

type Judgement = Pick<TetherRow, 'standing' | 'pending' | 'reason' | 'summary'>;

async function judge(
  tx: Database,
  row: TetherRow,
  base: Snapshot,
  now: Result<Snapshot>,
): Promise<Judgement> {
  const inStep = { standing: 'in step', pending: null, reason: null, summary: null } as const;
  if (now.ok && hashSnapshot(now.value) === row.base) return inStep;
  const standing = standingOf(base, now);
  switch (standing.name) {
    case 'in step':
      return inStep;
    case 'adrift':
      // What was pending is kept out: nobody can say whether it still holds.
      return { standing: 'adrift', pending: null, reason: standing.reason, summary: null };
    case 'behind':
      return {
        standing: 'behind',
        pending: await storeSnapshot(tx, (now as { value: Snapshot }).value),
        reason: null,
        summary: summariseSlip(standing.slip),
      };
  }
}

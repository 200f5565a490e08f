import { type Fault, fail, fault, ok, type Reach } from '@tether/core';
import type { z } from 'zod';
import type { Database } from '../../db/database.ts';
import { findHolds } from '../../db/documents.ts';
import { findPacked } from '../../db/snapshots.ts';
import { findRules, lockTethers, type TetherRow, updateTether } from '../../db/tethers.ts';
import { announceTethers } from '../../following/follow.ts';
import { standingWithoutEdits } from '../../following/show-edits.ts';
import { stateDataSchema, takeStates } from '../../following/take-states.ts';
import type { Step } from '../step.ts';

/** An earlier state that an object is to show again. */
export interface Earlier {
  snapshot: string;
  reach: Reach;
  at: Date;
}

type Wish = { id: string; earlier: Earlier; as: 'gone back' | 'taken back' };

/**
 * Shows an earlier state of an object again: it is then behind on purpose, and says the date. Refreshes, parts, and other
 * reaches log the same data when they take a new state, and are taken back by this. Faults: `not-found`, `state-forgotten`,
 * `document-held`, `object-frozen`.
 */
export const state: Step<Wish, z.infer<typeof stateDataSchema>> = {
  data: stateDataSchema,
  async apply(tx, { id, earlier, as }, { personId, act = null }, { comparer }) {
    const { snapshot: hash, reach, at } = earlier;
    const [row] = await lockTethers(tx, [id]);
    if (!row) return fail('not-found', { what: 'placed object' });
    const reason = await reasonAgainst(tx, row);
    if (reason) return { ok: false, fault: reason };
    // What the source holds is what was pending, or what an object in step shows; of another reach nobody knows yet.
    const isSameReach = JSON.stringify(reach) === JSON.stringify(row.reach);
    const held = isSameReach
      ? (row.pending ?? (standingWithoutEdits(row) === 'in step' ? row.base : null))
      : null;
    if (!(await findPacked(tx, [hash])).has(hash)) return fail('state-forgotten');
    const change = held ? await comparer.change(tx, hash, held) : null;
    if (change && !change.ok) return change;
    const { shownPath } = (await findRules(tx, [row.id])).get(row.id)!;
    await takeStates(
      tx,
      [
        {
          row,
          shownPath,
          hash,
          pending: held && change ? { hash: held, change: change.value } : null,
          reach,
          pinnedTo: at,
          summary: `To what it showed on ${minuteOf(at)}.`,
        },
      ],
      { personId, how: 'by hand', kind: as, act },
    );
    // Whether it is behind is known when the source was looked at: until then the date stays.
    if (!held) await updateTether(tx, row.id, { pinnedTo: at });
    await announceTethers(tx, [row]);
    return ok({ changed: 1, refused: [], looks: [row.sourceId] });
  },
  describe: ({ at }) => `From what it showed on ${minuteOf(new Date(at))}.`,
  async changedSince(tx, { to }, { tetherId }) {
    const [row] = tetherId ? await lockTethers(tx, [tetherId]) : [];
    if (!row) return 'the object is gone';
    return row.base === to ? null : 'the object shows something else since';
  },
  invert: ({ from, reach, at }, { tetherId }) => ({
    id: tetherId!,
    earlier: { snapshot: from, reach, at: new Date(at) },
    as: 'taken back',
  }),
};

function minuteOf(moment: Date): string {
  return `${moment.toISOString().slice(0, 16).replace('T', ' at ')} UTC`;
}

async function reasonAgainst(tx: Database, row: TetherRow): Promise<Fault | null> {
  if (row.frozenAt) return fault('object-frozen');
  return (await findHolds(tx, [row.documentId])).get(row.documentId) ?? null;
}

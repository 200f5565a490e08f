import type { Tether } from '@tether/contract';
import { describeReach, fail, ok, type Reach, type Result } from '@tether/core';
import { findHolds } from '../db/documents.ts';
import { storePacked } from '../db/snapshots.ts';
import {
  describeTethers,
  findRules,
  findTethers,
  lockTethers,
  updateTether,
} from '../db/tethers.ts';
import { announceTethers } from '../following/follow.ts';
import { takeStates } from '../following/take-states.ts';
import { takeNow } from '../sources/asking/contents.ts';
import { sourceKey } from '../sources/look.ts';
import type { Means } from '../sources/means.ts';

/**
 * Gives an object another reach of the same source and takes at once what that holds: the person has seen it before
 * deciding. Faults: `not-found`, `document-held`, `object-frozen` and those of taking the reach; then nothing is changed.
 */
export async function changeReach(
  services: Pick<Means, 'db' | 'reader' | 'locks'>,
  personId: string,
  id: string,
  reach: Reach,
): Promise<Result<Tether>> {
  const { db, locks } = services;
  const [known] = await findTethers(db, [id]);
  if (!known) return fail('not-found', { what: 'placed object' });
  return locks.run(sourceKey(known.sourceId), async () => {
    const taken = await takeNow(services, known.sourceId, reach);
    if (!taken.ok) return taken;
    const { now, warnings, found } = taken.value;
    return db.transaction(async (tx): Promise<Result<Tether>> => {
      const [row] = await lockTethers(tx, [id]);
      const held = (await findHolds(tx, [row!.documentId])).get(row!.documentId);
      if (held) return { ok: false, fault: held };
      if (row!.frozenAt) return fail('object-frozen');
      await storePacked(tx, [now]);
      const { shownPath } = (await findRules(tx, [id])).get(id)!;
      const taking = {
        row: row!,
        shownPath,
        hash: now.hash,
        reach: found,
        summary: `From ${describeReach(row!.reach)} to ${describeReach(found)}.`,
      };
      await takeStates(tx, [taking], { personId, how: 'by hand', kind: 'reach changed' });
      await updateTether(tx, id, { warnings });
      await announceTethers(tx, [row!]);
      const [described] = await describeTethers(tx, { ids: [id] }, personId);
      return ok(described!.tether);
    });
  });
}

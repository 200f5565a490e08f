import type { Tether } from '@tether/contract';
import { changeSlip, describeReach, fail, ok, type Reach, type Result } from '@tether/core';
import { insertLog } from '../db/log.ts';
import { findSnapshots, storeSnapshot } from '../db/snapshots.ts';
import { describeTethers, findTethers, lockTethers, updateTether } from '../db/tethers.ts';
import type { Services } from '../services.ts';
import { readReach } from '../sources/contents.ts';
import { inOwnSpelling } from './place.ts';

/**
 * Gives an object another reach of the same source and takes at once what that holds: the person has seen it before
 * deciding. Faults: `not-found` and those of taking the reach; then nothing is changed.
 */
export async function changeReach(
  services: Pick<Services, 'db' | 'reader' | 'keeper' | 'events'>,
  personId: string,
  id: string,
  reach: Reach,
): Promise<Result<Tether>> {
  const { db, keeper, events } = services;
  const [known] = await findTethers(db, [id]);
  if (!known) return fail('not-found', { what: 'placed object' });
  return keeper.exclusively(known.sourceId, async () => {
    const taken = await readReach(services, known.sourceId, reach);
    if (!taken.ok) return taken;
    const { snapshot, warnings } = taken.value;
    const tether = await db.transaction(async (tx) => {
      const [row] = await lockTethers(tx, [id]);
      const before = (await findSnapshots(tx, [row!.base])).get(row!.base)!;
      const now = new Date();
      const own = inOwnSpelling(reach, snapshot.sheet);
      await updateTether(tx, id, {
        reach: own,
        base: await storeSnapshot(tx, snapshot),
        pending: null,
        standing: 'in step',
        reason: null,
        summary: null,
        behindBy: 0,
        warnings,
        standingSince: now,
        refreshedAt: now,
        refreshedBy: personId,
      });
      const [described] = await describeTethers(tx, { ids: [id] });
      const { folder, path } = described!.tether.source;
      await insertLog(tx, [
        {
          kind: 'reach changed',
          personId,
          documentId: row!.documentId,
          tetherId: id,
          tetherName: row!.name,
          source: `${folder}/${path}`,
          summary: `From ${describeReach(row!.reach)} to ${describeReach(own)}.`,
          slip: changeSlip(before, snapshot),
        },
      ]);
      return described!.tether;
    });
    events.publish({ kind: 'tethers', documentId: tether.documentId, ids: [id] });
    events.publish({ kind: 'log' });
    return ok(tether);
  });
}

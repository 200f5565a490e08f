import type { PlaceRequest, Tether } from '@tether/contract';
import { describeReach, fail, ok, type Result } from '@tether/core';
import { scheduleTethers } from '../changing/timetable.ts';
import { findDocument } from '../db/documents.ts';
import { insertStates, recordLooks } from '../db/history.ts';
import { insertLog } from '../db/log.ts';
import { storePacked } from '../db/snapshots.ts';
import { describeTethers, insertTether } from '../db/tethers.ts';
import { announceTethers } from '../following/follow.ts';
import { takeNow } from '../sources/asking/contents.ts';
import { sourceKey } from '../sources/look.ts';
import type { Means } from '../sources/means.ts';

/**
 * Ties a new object of a document to a part of a source: what the reach holds now becomes its base. The object stands
 * in the text once the document is saved with its node. Faults: `not-found` and those of taking the reach.
 */
export async function placeTether(
  services: Pick<Means, 'db' | 'reader' | 'locks'>,
  personId: string | null,
  documentId: string,
  { sourceId, reach, name, form = 'table' }: PlaceRequest,
): Promise<Result<Tether>> {
  const { db, locks } = services;
  if (!(await findDocument(db, documentId))) return fail('not-found', { what: 'document' });
  return locks.run(sourceKey(sourceId), async () => {
    const taken = await takeNow(services, sourceId, reach);
    if (!taken.ok) return taken;
    const { now, warnings, found } = taken.value;
    const id = await db.transaction(async (tx) => {
      await storePacked(tx, [now]);
      const base = now.hash;
      const row = await insertTether(tx, {
        documentId,
        sourceId,
        name,
        form,
        reach: found,
        base,
        warnings,
        refreshedBy: personId,
      });
      const [described] = await describeTethers(tx, { ids: [row.id] });
      const { folder, path } = described!.tether.source;
      await insertLog(tx, [
        {
          kind: 'placed',
          personId,
          documentId,
          tetherId: row.id,
          tetherName: name,
          sourceId,
          source: `${folder}/${path}`,
          summary: `${describeReach(row.reach)}, as a ${form}.`,
        },
      ]);
      await insertStates(tx, [
        {
          tetherId: row.id,
          snapshot: base,
          reach: row.reach,
          personId,
          how: 'placed',
          summary: `Placed as a ${form}.`,
        },
      ]);
      if (personId) await recordLooks(tx, personId, [{ id: row.id, base }]);
      await scheduleTethers(tx, [row.id]);
      await announceTethers(tx, [row]);
      return row.id;
    });
    const [described] = await describeTethers(db, { ids: [id] });
    return ok(described!.tether);
  });
}

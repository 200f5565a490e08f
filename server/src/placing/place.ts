import type { PlaceRequest, Tether } from '@tether/contract';
import {
  describeReach,
  fail,
  headerOf,
  ok,
  type Reach,
  type Result,
  type Snapshot,
} from '@tether/core';
import { scheduleTethers } from '../changing/timetable.ts';
import { findDocument } from '../db/documents.ts';
import { insertStates, recordLooks } from '../db/history.ts';
import { insertLog } from '../db/log.ts';
import { storeSnapshot } from '../db/snapshots.ts';
import { describeTethers, insertTether } from '../db/tethers.ts';
import { announceTethers } from '../following/follow.ts';
import { readReach } from '../sources/contents.ts';
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
    const taken = await readReach(services, sourceId, reach);
    if (!taken.ok) return taken;
    const { snapshot, warnings } = taken.value;
    const id = await db.transaction(async (tx) => {
      const base = await storeSnapshot(tx, snapshot);
      const row = await insertTether(tx, {
        documentId,
        sourceId,
        name,
        form,
        reach: asFound(reach, snapshot),
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

/**
 * The reach with what was found of it: the sheet's own spelling of its name, so that every object of a sheet asks for it
 * alike, and the words of a growing block's header, by which it is found when it moves.
 */
export function asFound(reach: Reach, snapshot: Snapshot): Reach {
  if (reach.kind === 'name' || reach.kind === 'chart') return reach;
  const { sheet, area, cells } = snapshot;
  if (reach.kind !== 'growing block') return { ...reach, sheet };
  const { left, right } = reach.header;
  const header = { row: area.top, left, right };
  const { words: _, ...plain } = reach;
  // The first row of the data is no header: sorted, its words would stand anywhere.
  if (headerOf(snapshot).rows === 0) return { ...plain, sheet, header };
  const words = new Array<string>(right - left + 1).fill('');
  for (const { row, column, type, text } of cells) {
    if (row === area.top && type === 'text') words[column - left] = text.trim().slice(0, 1000);
  }
  return { ...plain, sheet, header, words };
}

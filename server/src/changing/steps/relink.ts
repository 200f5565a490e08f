import { reachSchema } from '@tether/contract';
import { describeReach, ok, type Reach } from '@tether/core';
import { z } from 'zod';
import { findHolds } from '../../db/documents.ts';
import { insertLog } from '../../db/log.ts';
import { findSources } from '../../db/sources.ts';
import { lockTethers, updateTethers } from '../../db/tethers.ts';
import { announceTethers } from '../../following/follow.ts';
import type { Step } from '../step.ts';

const tieSchema = z.object({ sourceId: z.uuid(), reach: reachSchema });
const dataSchema = z.object({
  kind: z.literal('relink'),
  before: tieSchema,
  after: tieSchema,
  /** Sources and reaches in words. */
  said: z.string(),
});

export interface Wish {
  /** Only objects of this source are tied anew; another one was tied elsewhere meanwhile. */
  from: string;
  objects: { id: string; to: string; reach: Reach }[];
}

/** Ties objects to another source. What they show stays until it is refreshed. Those of held documents: `document-held`. */
export const relink: Step<Wish, z.infer<typeof dataSchema>> = {
  data: dataSchema,
  async apply(tx, { from, objects }, { personId, act = null }) {
    const wanted = new Map(objects.map((each) => [each.id, each]));
    const rows = (await lockTethers(tx, [...wanted.keys()])).filter(
      ({ sourceId }) => sourceId === from,
    );
    const holds = await findHolds(
      tx,
      rows.map(({ documentId }) => documentId),
    );
    const able = rows.filter(({ documentId }) => !holds.has(documentId));
    const refused = rows
      .filter((row) => !able.includes(row))
      .map(({ id, documentId }) => ({ id, fault: holds.get(documentId)! }));
    const named = new Map(
      (await findSources(tx, [from, ...objects.map(({ to }) => to)])).map(({ source, folder }) => [
        source.id,
        `${folder.name}/${source.path}`,
      ]),
    );
    await updateTethers(
      tx,
      able.map(({ id }) => {
        const { to, reach } = wanted.get(id)!;
        const clean = {
          pending: null,
          summary: null,
          behindBy: 0,
          danger: null,
          waits: null,
          reshaped: null,
        };
        return { id, sourceId: to, reach, ...clean };
      }),
    );
    await insertLog(
      tx,
      able.map((row) => {
        const { to, reach } = wanted.get(row.id)!;
        const place = (source: string, own: Reach) =>
          `${named.get(source) ?? ''} ${describeReach(own)}`;
        const undo = {
          kind: 'relink' as const,
          before: { sourceId: row.sourceId, reach: row.reach },
          after: { sourceId: to, reach },
          said: `From ${place(row.sourceId, row.reach)} to ${place(to, reach)}.`,
        };
        return {
          kind: 'relinked' as const,
          personId,
          documentId: row.documentId,
          tetherId: row.id,
          tetherName: row.name,
          sourceId: to,
          source: named.get(to) ?? null,
          summary: relink.describe(undo),
          undo,
        };
      }),
      act,
    );
    await announceTethers(tx, able);
    return ok({ changed: able.length, refused, looks: objects.map(({ to }) => to) });
  },
  describe: ({ said }) => said,
  async changedSince(tx, { after }, { tetherId }) {
    const [row] = tetherId ? await lockTethers(tx, [tetherId]) : [];
    if (!row) return 'the object is gone';
    if (row.sourceId !== after.sourceId) return 'it was tied to another source since';
    // Both in the order of the schema.
    const reach = JSON.stringify(reachSchema.parse(row.reach));
    return reach === JSON.stringify(after.reach) ? null : 'what it takes was changed since';
  },
  invert: ({ before, after }, { tetherId }) => ({
    from: after.sourceId,
    objects: [{ id: tetherId!, to: before.sourceId, reach: before.reach }],
  }),
};

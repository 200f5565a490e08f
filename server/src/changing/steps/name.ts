import { fail, ok } from '@tether/core';
import { z } from 'zod';
import { lockName, renameDocument } from '../../db/documents.ts';
import { insertLog } from '../../db/log.ts';
import { lockTethers, updateTether } from '../../db/tethers.ts';
import { announce } from '../../events/announce.ts';
import type { Step } from '../step.ts';

const dataSchema = z.object({
  kind: z.literal('name'),
  before: z.string(),
  after: z.string(),
});

type Wish = { of: 'object' | 'document'; id: string; name: string };

/** Gives an object or a document another name. Fault: `not-found`. */
export const name: Step<Wish, z.infer<typeof dataSchema>> = {
  data: dataSchema,
  async apply(tx, { of, id, name: wanted }, { personId, act = null }) {
    const [row] = of === 'object' ? await lockTethers(tx, [id]) : [];
    const before = of === 'object' ? row?.name : await lockName(tx, id);
    const what = of === 'object' ? 'placed object' : 'document';
    if (before === undefined) return fail('not-found', { what });
    if (before === wanted) return ok({ changed: 0, refused: [], looks: [] });
    if (row) await updateTether(tx, id, { name: wanted });
    else await renameDocument(tx, id, wanted);
    const undo = { kind: 'name' as const, before, after: wanted };
    await insertLog(
      tx,
      [
        {
          kind: 'renamed',
          personId,
          documentId: row ? row.documentId : id,
          ...(row ? { tetherId: id, tetherName: wanted, sourceId: row.sourceId } : {}),
          summary: name.describe(undo),
          undo,
        },
      ],
      act,
    );
    await announce(tx, { kind: 'log' });
    return ok({ changed: 1, refused: [], looks: [] });
  },
  describe: ({ before, after }) => `From “${before}” to “${after}”.`,
  async changedSince(tx, { after }, { tetherId, documentId }) {
    const now = tetherId
      ? (await lockTethers(tx, [tetherId]))[0]?.name
      : documentId
        ? await lockName(tx, documentId)
        : undefined;
    if (now === undefined) return tetherId ? 'the object is gone' : 'the document is gone';
    return now === after ? null : `somebody changed it since: it is called “${now}” now`;
  },
  invert: ({ before }, { tetherId, documentId }) =>
    tetherId
      ? { of: 'object', id: tetherId, name: before }
      : { of: 'document', id: documentId!, name: before },
};

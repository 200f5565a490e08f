import { fail, ok } from '@tether/core';
import { z } from 'zod';
import { lockDeletion, setDeleted } from '../../db/documents.ts';
import { insertLog } from '../../db/log.ts';
import { placedIn, setShown } from '../../db/tethers.ts';
import { announce } from '../../events/announce.ts';
import { takeWhatWaited } from '../../following/follow.ts';
import type { Step } from '../step.ts';

const dataSchema = z.object({
  kind: z.literal('deletion'),
  wasDeleted: z.boolean(),
  /** The objects that stood in it. */
  shown: z.array(z.string()),
});
type Wish = { documentId: string; isDeleted: boolean; shown?: readonly string[] };

/**
 * Deletes a document: it is nowhere any more, its objects follow nothing and ask for nothing. All of it is kept, so that the
 * log brings it back as it was. Fault: `not-found`.
 */
export const deletion: Step<Wish, z.infer<typeof dataSchema>> = {
  data: dataSchema,
  async apply(tx, { documentId, isDeleted, shown = [] }, { personId, act = null }) {
    const before = await lockDeletion(tx, documentId);
    if (!before) return fail('not-found', { what: 'document' });
    if (before.isDeleted === isDeleted) return ok({ changed: 0, refused: [], looks: [] });
    const objects = isDeleted ? await placedIn(tx, documentId) : [...shown];
    await setDeleted(tx, documentId, isDeleted);
    await setShown(tx, objects, !isDeleted);
    const undo = { kind: 'deletion' as const, wasDeleted: !isDeleted, shown: objects };
    await insertLog(
      tx,
      [
        {
          kind: isDeleted ? ('document deleted' as const) : ('document back' as const),
          personId,
          documentId,
          summary: deletion.describe(undo, before.name),
          undo,
        },
      ],
      act,
    );
    // What its sources hold may have changed meanwhile.
    if (!isDeleted) await takeWhatWaited(tx, objects);
    await announce(tx, { kind: 'document', documentId, version: before.version, by: null });
    await announce(tx, { kind: 'tethers', documentId });
    await announce(tx, { kind: 'log' });
    return ok({ changed: 1, refused: [], looks: [] });
  },
  describe: ({ wasDeleted, shown }, name = '') => {
    const objects = shown.length === 1 ? 'one object' : `${shown.length} objects`;
    return wasDeleted ? `“${name}”, with ${objects}, as it was.` : `“${name}”, with ${objects}.`;
  },
  async changedSince(tx, { wasDeleted }, { documentId }) {
    const now = documentId ? await lockDeletion(tx, documentId) : null;
    if (!now) return 'the document is gone for good';
    if (now.isDeleted !== wasDeleted) return null;
    return wasDeleted ? 'it was deleted again since' : 'it was brought back since';
  },
  invert: ({ wasDeleted, shown }, { documentId }) => ({
    documentId: documentId!,
    isDeleted: wasDeleted,
    shown,
  }),
};

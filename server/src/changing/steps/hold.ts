import { randomUUID } from 'node:crypto';
import { ok } from '@tether/core';
import { z } from 'zod';
import { lockDocumentRules, setDocumentRules } from '../../db/documents.ts';
import { insertLog } from '../../db/log.ts';
import { tethersUnder } from '../../db/tethers.ts';
import { announce } from '../../events/announce.ts';
import { announceTethers, takeWhatWaited } from '../../following/follow.ts';
import type { Step } from '../step.ts';

const dataSchema = z.object({ kind: z.literal('hold'), wasHeld: z.boolean() });

/** Holds documents, or releases them: automatic objects then take what waited. */
export const hold: Step<
  { documentIds: readonly string[]; isHeld: boolean },
  z.infer<typeof dataSchema>
> = {
  data: dataSchema,
  async apply(tx, { documentIds, isHeld }, { personId, act }) {
    let changed = 0;
    const ids = [...new Set(documentIds)].sort();
    const name = act ?? (ids.length > 1 ? randomUUID() : null);
    for (const id of ids) {
      const before = await lockDocumentRules(tx, id);
      if (!before || (before.heldSince !== null) === isHeld) continue;
      changed++;
      await setDocumentRules(
        tx,
        id,
        isHeld ? { heldSince: new Date(), heldBy: personId } : { heldSince: null, heldBy: null },
      );
      const undo = { kind: 'hold' as const, wasHeld: !isHeld };
      const entry = {
        kind: isHeld ? ('held' as const) : ('released' as const),
        personId,
        documentId: id,
        summary: hold.describe(undo),
        undo,
      };
      await insertLog(tx, [entry], name);
      if (!isHeld) await takeWhatWaited(tx, await tethersUnder(tx, { documentId: id }));
      await announceTethers(tx, [{ documentId: id }]);
      await announce(tx, { kind: 'log' });
    }
    return ok({ changed, refused: [], looks: [] });
  },
  describe: ({ wasHeld }) =>
    wasHeld ? 'Its objects refresh again.' : 'Nothing in it is refreshed.',
  async changedSince(tx, { wasHeld }, { documentId }) {
    const now = documentId ? await lockDocumentRules(tx, documentId) : null;
    if (!now) return 'the document is gone';
    const isHeld = now.heldSince !== null;
    if (isHeld !== wasHeld) return null;
    return isHeld ? 'it was held again since' : 'it was released since';
  },
  invert: ({ wasHeld }, { documentId }) => ({ documentIds: [documentId!], isHeld: wasHeld }),
};

import { fail, ok } from '@tether/core';
import { z } from 'zod';
import { lockDocumentRules, setDocumentRules } from '../../db/documents.ts';
import { insertLog } from '../../db/log.ts';
import { announceTethers } from '../../following/follow.ts';
import type { Step } from '../step.ts';

const dataSchema = z.object({ kind: z.literal('share'), before: z.number(), after: z.number() });

/** Sets how much of an object may change unseen in a document, in per cent. Fault: `not-found`. */
export const share: Step<{ documentId: string; share: number }, z.infer<typeof dataSchema>> = {
  data: dataSchema,
  async apply(tx, { documentId, share: wanted }, { personId, act = null }) {
    const before = await lockDocumentRules(tx, documentId);
    if (!before) return fail('not-found', { what: 'document' });
    if (before.share === wanted) return ok({ changed: 0, refused: [], looks: [] });
    await setDocumentRules(tx, documentId, { share: wanted });
    const undo = { kind: 'share' as const, before: before.share, after: wanted };
    await insertLog(
      tx,
      [{ kind: 'share changed', personId, documentId, summary: share.describe(undo), undo }],
      act,
    );
    await announceTethers(tx, [{ documentId }]);
    return ok({ changed: 1, refused: [], looks: [] });
  },
  describe: ({ before, after }) =>
    `Automatic refreshes ask above ${after} per cent instead of ${before}.`,
  async changedSince(tx, { after }, { documentId }) {
    const now = documentId ? await lockDocumentRules(tx, documentId) : null;
    if (!now) return 'the document is gone';
    return now.share === after ? null : `somebody changed it since, to ${now.share} per cent`;
  },
  invert: ({ before }, { documentId }) => ({ documentId: documentId!, share: before }),
};

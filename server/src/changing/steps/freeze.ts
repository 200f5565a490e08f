import { ok } from '@tether/core';
import { z } from 'zod';
import { findHolds } from '../../db/documents.ts';
import { insertLog } from '../../db/log.ts';
import { findRules, lockTethers, updateTethers } from '../../db/tethers.ts';
import { announceTethers } from '../../following/follow.ts';
import type { Step } from '../step.ts';

const dataSchema = z.object({ kind: z.literal('freeze'), wasFrozen: z.boolean() });

/**
 * Cuts objects from their sources and keeps what they show, or ties them again. Those of held documents are not tied:
 * `document-held`.
 */
export const freeze: Step<
  { ids: readonly string[]; isFrozen: boolean },
  z.infer<typeof dataSchema>
> = {
  data: dataSchema,
  async apply(tx, { ids, isFrozen }, { personId, act = null }) {
    const rows = (await lockTethers(tx, ids)).filter(
      ({ frozenAt }) => (frozenAt !== null) !== isFrozen,
    );
    const rules = await findRules(tx, ids);
    const holds = await findHolds(
      tx,
      rows.map(({ documentId }) => documentId),
    );
    // Tying again would refresh an automatic object: a held document is left as it is.
    const able = rows.filter(({ documentId }) => isFrozen || !holds.has(documentId));
    const refused = rows
      .filter((row) => !able.includes(row))
      .map(({ id, documentId }) => ({ id, fault: holds.get(documentId)! }));
    const now = new Date();
    await updateTethers(
      tx,
      able.map(({ id }) => ({
        id,
        ...(isFrozen
          ? { frozenAt: now, frozenBy: personId, standing: 'frozen' as const }
          : { frozenAt: null, frozenBy: null, standing: 'in step' as const }),
        pending: null,
        reason: null,
        reshaped: null,
        summary: null,
        behindBy: 0,
        danger: null,
        waits: null,
        standingSince: now,
      })),
    );
    const undo = { kind: 'freeze' as const, wasFrozen: !isFrozen };
    await insertLog(
      tx,
      able.map((row) => ({
        kind: isFrozen ? ('frozen' as const) : ('tied' as const),
        personId,
        documentId: row.documentId,
        tetherId: row.id,
        tetherName: row.name,
        sourceId: row.sourceId,
        source: rules.get(row.id)!.shownPath,
        summary: freeze.describe(undo),
        undo,
      })),
      act,
    );
    await announceTethers(tx, able);
    // What one that is tied again shows is compared with its source at once.
    const looks = isFrozen ? [] : able.map(({ sourceId }) => sourceId);
    return ok({ changed: able.length, refused, looks });
  },
  describe: ({ wasFrozen }) =>
    wasFrozen ? 'It follows its source again.' : 'It keeps what it shows.',
  async changedSince(tx, { wasFrozen }, { tetherId }) {
    const [row] = tetherId ? await lockTethers(tx, [tetherId]) : [];
    if (!row) return 'the object is gone';
    const isFrozen = row.frozenAt !== null;
    if (isFrozen !== wasFrozen) return null;
    return isFrozen ? 'it was frozen again since' : 'it was tied again since';
  },
  invert: ({ wasFrozen }, { tetherId }) => ({ ids: [tetherId!], isFrozen: wasFrozen }),
};

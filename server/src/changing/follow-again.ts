import { insertLog } from '../db/log.ts';
import { findRules, lockTethers, updateTethers } from '../db/tethers.ts';
import { announceTethers, takeWhatWaited } from '../following/follow.ts';
import type { Means } from '../sources/means.ts';

/** Lets objects that were left or gone back follow their sources again, as their modes say. */
export async function followAgain(
  { db }: Pick<Means, 'db'>,
  personId: string,
  ids: readonly string[],
): Promise<number> {
  return db.transaction(async (tx) => {
    const rows = (await lockTethers(tx, ids)).filter(
      ({ leftHash, pinnedTo }) => leftHash !== null || pinnedTo !== null,
    );
    const rules = await findRules(tx, ids);
    await updateTethers(
      tx,
      rows.map(({ id }) => ({ id, leftHash: null, leftBy: null, leftAt: null, pinnedTo: null })),
    );
    await insertLog(
      tx,
      rows.map((row) => ({
        kind: 'follows again' as const,
        personId,
        documentId: row.documentId,
        tetherId: row.id,
        tetherName: row.name,
        sourceId: row.sourceId,
        source: rules.get(row.id)!.shownPath,
        summary: row.pinnedTo
          ? 'It is not kept at an earlier state any more.'
          : 'What was left counts again.',
      })),
    );
    await takeWhatWaited(
      tx,
      rows.map(({ id }) => id),
    );
    await announceTethers(tx, rows);
    return rows.length;
  });
}

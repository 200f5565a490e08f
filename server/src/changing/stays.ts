import { fail, ok, type Result } from '@tether/core';
import { insertLog } from '../db/log.ts';
import { findRules, lockTethers, updateTether } from '../db/tethers.ts';
import { announceTethers } from '../following/follow.ts';
import type { Means } from '../sources/means.ts';

/**
 * Says of a reshaped object that it stays where it is: what stands there now is what it is compared with. Faults: `not-found`,
 * `slip-out-of-date` where the source changed since somebody looked.
 */
export async function letStay(
  { db, queue }: Pick<Means, 'db' | 'queue'>,
  personId: string,
  id: string,
): Promise<Result<null>> {
  const done = await db.transaction(async (tx): Promise<Result<string>> => {
    const [row] = await lockTethers(tx, [id]);
    if (!row) return fail('not-found', { what: 'placed object' });
    if (!row.reshaped) return fail('slip-out-of-date');
    await updateTether(tx, id, { staysHash: row.reshaped.hash });
    const { shownPath } = (await findRules(tx, [id])).get(id)!;
    await insertLog(tx, [
      {
        kind: 'stays',
        personId,
        documentId: row.documentId,
        tetherId: id,
        tetherName: row.name,
        sourceId: row.sourceId,
        source: shownPath,
        summary: 'It stays where it is.',
      },
    ]);
    await announceTethers(tx, [row]);
    return ok(row.sourceId);
  });
  if (!done.ok) return done;
  await queue.askLook(done.value, { isForced: true });
  return ok(null);
}

import { fail, ok, type Result } from '@tether/core';
import { insertLog } from '../db/log.ts';
import { deleteMoorings, forgetMoorings, listEndedMoorings } from '../db/moorings.ts';
import { findSource } from '../db/sources.ts';
import { findTethers } from '../db/tethers.ts';
import { announce } from '../events/announce.ts';
import { catchUp, lookNow, sourceKey } from '../sources/look.ts';
import type { Means } from '../sources/means.ts';
import { whereOf } from '../sources/reshow.ts';
import { doStep } from './step.ts';
import { STEPS } from './steps/registry.ts';

/**
 * Takes names out of files that no object holds on to any more. A file that cannot be written now is tried again the next time.
 * With `isFinal` objects that stand in no text, and those of deleted documents, are let go as well.
 */
export async function liftMoorings(
  { db, locks, writer }: Pick<Means, 'db' | 'locks' | 'writer'>,
  { isFinal = false } = {},
): Promise<void> {
  for (const { sourceId, names } of await listEndedMoorings(db, { isFinal })) {
    await locks.run(sourceKey(sourceId), async () => {
      const found = await findSource(db, sourceId);
      const where = await whereOf(db, sourceId);
      if (!found?.source.hash || !where.ok) return;
      const file = { id: sourceId, hash: found.source.hash };
      const done = await writer.writeNames(where.value, { add: [], remove: names }, file);
      if (!done.ok) return;
      await db.transaction(async (tx) => {
        await deleteMoorings(tx, sourceId, names);
        await forgetMoorings(tx, sourceId, names);
        await insertLog(tx, [
          {
            kind: 'mooring lifted',
            sourceId,
            source: `${found.folder.name}/${found.source.path}`,
            summary: `${names.length === 1 ? 'A name' : `${names.length} names`} taken out of the file: no object holds on to ${names.length === 1 ? 'it' : 'them'} any more.`,
          },
        ]);
        await announce(tx, { kind: 'log' });
      });
    });
  }
}

/**
 * Moors an object in its workbook, or lets it go. Its file is looked at before and after, so that several can be moored one after
 * the other. Faults: `not-found`, those of the step.
 */
export async function setMoored(
  means: Means,
  personId: string,
  tetherId: string,
  isMoored: boolean,
): Promise<Result<null>> {
  const [row] = await findTethers(means.db, [tetherId]);
  if (!row) return fail('not-found', { what: 'placed object' });
  await catchUp(means, [row.sourceId]);
  const done = await doStep(means, STEPS.mooring, { tetherId, isMoored }, { personId });
  if (!done.ok) return done;
  await lookNow(means, row.sourceId, { isForced: true });
  if (!isMoored) await liftMoorings(means);
  return ok(null);
}

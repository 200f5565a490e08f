import type { LedgerOutcome } from '@tether/contract';
import { fail, ok, type Result } from '@tether/core';
import type { Database } from '../db/database.ts';
import { findEntry, type LogRow, lockEntry, markTakenBack } from '../db/log.ts';
import { type By, type Done, lookAfter, type Step, type StepMeans, type Tools } from './step.ts';
import { STEPS } from './steps/registry.ts';

/**
 * Takes a logged step back, as long as the world is as the step left it: that is looked at and done in one transaction. Faults:
 * `not-found`, `not-taken-back` with what changed since, and those of the step that leads back.
 */
export async function takeBack(
  { db, queue, comparer, writer }: StepMeans,
  personId: string,
  entryId: number,
): Promise<Result<null>> {
  const done = await db.transaction(async (tx): Promise<Result<Done>> => {
    const entry = await lockEntry(tx, entryId);
    if (!entry) return fail('not-found', { what: 'log entry' });
    if (entry.takenBackAt) return fail('not-taken-back', { why: 'it was taken back before' });
    if (!entry.undo) return fail('not-taken-back', { why: 'nothing was changed by it' });
    const step = Object.entries(STEPS).find(([name]) => name === entry.undo!.kind)?.[1];
    if (!step) return fail('not-taken-back', { why: 'another version of the product did it' });
    const back = await invert(
      tx,
      step as Step<unknown, unknown>,
      entry,
      { personId },
      { comparer, writer },
    );
    if (back.ok) await markTakenBack(tx, entryId);
    return back;
  });
  if (!done.ok) return done;
  await lookAfter(queue, done.value);
  return ok(null);
}

async function invert<Wish, Data>(
  tx: Database,
  step: Step<Wish, Data>,
  entry: LogRow,
  by: By,
  tools: Tools,
): Promise<Result<Done>> {
  const data = step.data.safeParse(entry.undo);
  if (!data.success) {
    return fail('not-taken-back', { why: 'another version of the product did it' });
  }
  const since = await step.changedSince(tx, data.data, entry);
  if (since) return fail('not-taken-back', { why: since });
  const done = await step.apply(tx, step.invert(data.data, entry), by, tools);
  const [refused] = done.ok ? done.value.refused : [];
  return refused ? { ok: false, fault: refused.fault } : done;
}

/** Takes several steps back, each as far as it can be; the latest first, as they must be given. */
export async function takeBackMany(
  means: StepMeans,
  personId: string,
  entries: readonly number[],
): Promise<LedgerOutcome> {
  const outcome: LedgerOutcome = { done: 0, refused: [] };
  for (const id of entries) {
    const result = await takeBack(means, personId, id);
    if (result.ok) outcome.done++;
    else {
      const entry = await findEntry(means.db, id);
      outcome.refused.push({ id: String(id), name: entry?.tetherName ?? '', fault: result.fault });
    }
  }
  return outcome;
}

import {
  type ChangeSlip,
  fail,
  KEEP_ALL_DAYS,
  ok,
  type Result,
  statesToForget,
} from '@tether/core';
import { deleteStates, findState, listOldStates } from '../db/history.ts';
import { findEntry, setSlip } from '../db/log.ts';
import { listLosingSlips, sweepSnapshots } from '../db/snapshots.ts';
import { findTethers } from '../db/tethers.ts';
import { stateDataSchema } from '../following/take-states.ts';
import type { Means } from '../sources/means.ts';
import { doStep } from './step.ts';
import { STEPS } from './steps/registry.ts';

/** Shows a state of an object's history again. Faults: `not-found`, and those of showing an earlier state. */
export async function goBack(
  means: Pick<Means, 'db' | 'queue' | 'comparer' | 'writer'>,
  personId: string,
  id: string,
  stateId: number,
): Promise<Result<null>> {
  if ((await findTethers(means.db, [id])).length === 0) {
    return fail('not-found', { what: 'placed object' });
  }
  const earlier = await findState(means.db, id, stateId);
  if (!earlier) return fail('state-forgotten');
  const done = await doStep(means, STEPS.state, { id, earlier, as: 'gone back' }, { personId });
  return done.ok ? ok(null) : done;
}

/** The change slip of a log entry. Faults: `not-found`, `state-forgotten`. */
export async function entrySlip(
  { db, comparer }: Pick<Means, 'db' | 'comparer'>,
  id: number,
): Promise<Result<ChangeSlip>> {
  const entry = await findEntry(db, id);
  if (entry?.slip) return ok(entry.slip);
  const led = stateDataSchema.safeParse(entry?.undo);
  if (!led.success) return fail('not-found', { what: 'change slip' });
  return comparer.slip(db, led.data.from, led.data.to);
}

const DAY_MS = 24 * 3_600_000;

/** Thins out old states by the rule of `core/thin`, and removes snapshots that nothing needs any more. */
export async function thinHistory(
  means: Pick<Means, 'db' | 'comparer'>,
  now = new Date(),
): Promise<void> {
  const { db } = means;
  const old = await listOldStates(db, new Date(now.getTime() - KEEP_ALL_DAYS * DAY_MS));
  const byTether = new Map<string, { id: number; at: number }[]>();
  for (const { id, tetherId, at } of old) {
    const states = byTether.get(tetherId) ?? [];
    states.push({ id, at: at.getTime() });
    byTether.set(tetherId, states);
  }
  const forgotten = [...byTether.values()].flatMap((states) =>
    statesToForget(states, now.getTime()),
  );
  await deleteStates(db, forgotten);
  await keepSlips(means);
  await sweepSnapshots(db);
}

const SLIPS_AT_ONCE = 200;

/** A log entry's slip comes from the states it led between; where one of these goes, the slip is put down for good. */
async function keepSlips({ db, comparer }: Pick<Means, 'db' | 'comparer'>): Promise<void> {
  for (;;) {
    const losing = await listLosingSlips(db, SLIPS_AT_ONCE);
    let kept = 0;
    for (const { id, from, to } of losing) {
      const slip = await comparer.slip(db, from, to);
      if (!slip.ok) continue;
      await setSlip(db, id, slip.value);
      kept++;
    }
    if (kept === 0) return;
  }
}

import { nextTime } from '@tether/core';
import type { Database } from '../db/database.ts';
import {
  describeTethers,
  findRules,
  listDueTethers,
  listTimedTethers,
  lockTethers,
  updateTethers,
} from '../db/tethers.ts';
import { takeWhatWaited } from '../following/follow.ts';
import { catchUp } from '../sources/look.ts';
import type { Means } from '../sources/means.ts';

/** For tethers that are new in their document: the moment their timetable is due next. */
export async function scheduleTethers(tx: Database, ids: readonly string[]): Promise<void> {
  const rules = await findRules(tx, ids);
  const due = [...rules].flatMap(([id, { mode }]) =>
    mode.kind === 'timetable'
      ? [{ id, nextDue: new Date(nextTime(mode.timetable, Date.now())) }]
      : [],
  );
  await updateTethers(tx, due);
}

const DUE_AT_ONCE = 500;

/**
 * Refreshes what is due by timetable, and then sets the next moment of each: whoever is killed between leaves it due, and
 * what was taken before has nothing to take again. As with automatic ones, harm waits for somebody, and objects that were
 * left, pinned, frozen, or are held keep what they show. Gives how many took something.
 */
export async function refreshDue(means: Means): Promise<number> {
  let count = 0;
  for (;;) {
    const due = await listDueTethers(means.db, DUE_AT_ONCE);
    await catchUp(
      means,
      due.map(({ sourceId }) => sourceId),
    );
    await means.db.transaction(async (tx) => {
      const ids = due.map(({ id }) => id);
      count += await takeWhatWaited(tx, ids, { how: 'by timetable', personId: null });
      await setNextTimes(tx, ids);
    });
    if (due.length < DUE_AT_ONCE) return count;
  }
}

/** Sets the next moment of these tethers; one that stands further away than it can be is set as well. */
async function setNextTimes(tx: Database, ids: readonly string[]): Promise<void> {
  const rows = await lockTethers(tx, ids);
  const rules = await findRules(tx, ids);
  await updateTethers(
    tx,
    rows.map(({ id }) => {
      const { mode } = rules.get(id)!;
      const next = mode.kind === 'timetable' ? nextTime(mode.timetable, Date.now()) : null;
      return { id, nextDue: next === null ? null : new Date(next) };
    }),
  );
}

/**
 * Looks whether the next moments are those that the timetables say: a clock that ran ahead for a while has set them further
 * away than they are.
 */
export async function alignTimetables({ db }: Pick<Means, 'db'>): Promise<void> {
  const rows = await listTimedTethers(db);
  const rules = await findRules(
    db,
    rows.map(({ id }) => id),
  );
  const wrong = rows.filter(({ id, nextDue }) => {
    const { mode } = rules.get(id)!;
    return mode.kind === 'timetable' && nextDue.getTime() > nextTime(mode.timetable, Date.now());
  });
  if (wrong.length === 0) return;
  await db.transaction((tx) =>
    setNextTimes(
      tx,
      wrong.map(({ id }) => id),
    ),
  );
}

/** What opening a document refreshes by itself, for the person who opens it: objects whose mode says so, unless it may do harm. */
export async function refreshOnOpening(
  means: Means,
  personId: string,
  documentId: string,
): Promise<number> {
  const found = await describeTethers(means.db, { documentId });
  const wanted = found
    .map(({ tether }) => tether)
    .filter(({ mode, placed }) => mode.kind === 'on opening' && mode.how === 'always' && placed);
  if (wanted.length === 0) return 0;
  // A save of a moment ago counts as well, though nobody has looked at it yet.
  await catchUp(
    means,
    wanted.map(({ source }) => source.id),
  );
  return means.db.transaction((tx) =>
    takeWhatWaited(
      tx,
      wanted.map(({ id }) => id),
      { how: 'on opening', personId },
    ),
  );
}

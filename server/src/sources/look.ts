import { type Fault, fault } from '@tether/core';
import {
  beginReading,
  type FolderRow,
  findSource,
  leftAfter,
  nextReadingNumber,
  recordReading,
  type SourceRow,
  setStamp,
  storeNotes,
} from '../db/sources.ts';
import { listSourceTethers, type TetherRow } from '../db/tethers.ts';
import { announce } from '../events/announce.ts';
import type { Means } from '../means.ts';
import { followedBy, followSource, takenBy } from '../tethers/follow.ts';
import type { FollowedReach } from './followed.ts';
import { locate } from './locate.ts';
import type { ReadingOutcome } from './reading.ts';
import { settle } from './settle.ts';
import { stampOf } from './stamp.ts';

/** Faults that a save in progress can show for a moment; they are believed only when they last. */
const PASSING: Fault['code'][] = [
  'source-missing',
  'source-empty',
  'source-not-workbook',
  'source-damaged',
  'source-part-missing',
  'source-unreadable',
];
const GRACE_MS = 700;

/** The key under which work on a source is done alone, in all processes. */
export function sourceKey(sourceId: string): string {
  return `source ${sourceId}`;
}

/**
 * Looks at a source that a job asks for: reads once what its tethers take and gives them their standing. When somebody
 * is looking at it already, that one looks once more, and nothing is waited for here. Tells whether what the source holds
 * must be noted anew.
 */
export async function lookAsked(
  means: Means,
  sourceId: string,
  { isForced = false } = {},
): Promise<boolean> {
  for (;;) {
    let number = 0;
    const hasLooked = await means.locks.tryRun(sourceKey(sourceId), async () => {
      number = await lookAlone(means, sourceId, isForced);
    });
    if (!hasLooked) return false;
    const { isAsked, lacksNotes } = await leftAfter(means.db, sourceId, number);
    if (!isAsked) return lacksNotes;
  }
}

/** Notes by what a source can be searched: what stands at the head of its sheets, and marks of its values. */
export async function noteContents({ db, reader }: Means, sourceId: string): Promise<void> {
  const found = await findSource(db, sourceId);
  if (found?.source.state !== 'present') return;
  const { folder, source } = found;
  const located = await locate(folder, source.path);
  if (!located.ok) return;
  const outcome = await reader.read({
    path: located.value,
    shownPath: source.path,
    reaches: [],
    reading: source.reading,
    withHeadings: true,
    withMarks: true,
  });
  if (!outcome.ok) return;
  const { hash, headings, marks } = outcome.value;
  await storeNotes(db, sourceId, { hash, headings, marks });
  await announce(db, { kind: 'sources' });
}

/** Looks at a source now, and waits for it. */
export async function lookNow(
  means: Means,
  sourceId: string,
  { isForced = false } = {},
): Promise<void> {
  await means.locks.run(sourceKey(sourceId), () => lookAlone(means, sourceId, isForced));
}

/** Looks at these sources when their files are not as they were last seen, and waits for it. */
export async function catchUp(means: Means, sourceIds: Iterable<string>): Promise<void> {
  for (const id of new Set(sourceIds)) {
    const found = await findSource(means.db, id);
    if (!found) continue;
    const path = `${found.folder.root}/${found.source.path}`;
    if ((await stampOf(path)) === found.source.stamp) continue;
    await settle(path);
    await lookNow(means, id);
  }
}

/** Gives every object out of a folder that went away its standing. */
export async function recordOffline(
  means: Means,
  folder: FolderRow,
  sources: readonly SourceRow[],
): Promise<void> {
  for (const source of sources) {
    await means.locks.run(sourceKey(source.id), async () => {
      const number = await nextReadingNumber(means.db);
      await setStamp(means.db, source.id, null);
      await record(means, folder, source, number, {
        fault: fault('folder-offline', { folder: folder.name }),
      });
    });
  }
}

/** Gives the number of the reading; 0 where there is no such source. */
async function lookAlone(means: Means, sourceId: string, isForced: boolean): Promise<number> {
  const { db } = means;
  const found = await beginReading(db, sourceId);
  if (!found) return 0;
  const { number, folder, source } = found;
  const tethers = (await listSourceTethers(db, sourceId)).filter(({ frozenAt }) => !frozenAt);
  const follow = await followedBy(db, tethers);
  let read = await readSource(means, found, tethers, follow, isForced);
  if (!read.outcome.ok && PASSING.includes(read.outcome.fault.code) && source.hash !== null) {
    await new Promise((resolve) => setTimeout(resolve, GRACE_MS));
    await settle(`${folder.root}/${source.path}`);
    read = await readSource(means, found, tethers, follow, isForced);
  }
  const { outcome, stamp } = read;
  if (outcome.ok && outcome.value.isSame) await setStamp(db, sourceId, stamp);
  else await record(means, folder, source, number, { outcome, follow, stamp });
  return number;
}

async function readSource(
  { reader }: Means,
  { folder, source }: { folder: FolderRow; source: SourceRow },
  tethers: readonly TetherRow[],
  follow: FollowedReach[],
  isForced: boolean,
): Promise<{ outcome: ReadingOutcome; stamp: string }> {
  const stamp = await stampOf(`${folder.root}/${source.path}`);
  const located = await locate(folder, source.path);
  if (!located.ok) return { outcome: { ...located, hash: null, bytes: 0 }, stamp };
  const isSettled =
    !isForced && source.state === 'present' && tethers.every((row) => row.standing !== 'adrift');
  const outcome = await reader.read({
    path: located.value,
    shownPath: source.path,
    reaches: [],
    follow,
    reading: source.reading,
    ...(isSettled && source.hash ? { unlessHash: source.hash } : {}),
  });
  return { outcome, stamp };
}

async function record(
  { db }: Means,
  folder: FolderRow,
  source: SourceRow,
  number: number,
  seen: { fault: Fault } | { outcome: ReadingOutcome; follow: FollowedReach[]; stamp: string },
): Promise<void> {
  const shown = { id: source.id, shownPath: `${folder.name}/${source.path}` };
  const columns = 'fault' in seen ? {} : columnsOf(source, seen);
  await db.transaction(async (tx) => {
    // What a later reading recorded is newer than what was read here.
    if (!(await recordReading(tx, source.id, number, columns))) return;
    if ('fault' in seen) return followSource(tx, shown, seen);
    const { outcome, follow } = seen;
    await followSource(tx, shown, outcome.ok ? takenBy(outcome.value, follow) : outcome);
  });
}

function columnsOf(
  source: SourceRow,
  { outcome, stamp }: { outcome: ReadingOutcome; stamp: string },
) {
  const hash = outcome.ok ? outcome.value.hash : outcome.hash;
  const changed = { hash, stamp, ...(hash === source.hash ? {} : { changedAt: new Date() }) };
  if (!outcome.ok) {
    const { fault, bytes } = outcome;
    const state = fault.code === 'source-missing' ? ('missing' as const) : ('unreadable' as const);
    return { ...changed, state, fault, bytes };
  }
  const { bytes, sheets } = outcome.value;
  return {
    ...changed,
    state: 'present' as const,
    fault: null,
    bytes,
    sheets: sheets.map(({ name, state }) => ({ name, state })),
  };
}

import type { Fault } from '@tether/core';
import pLimit from 'p-limit';
import { findSource, findSources, type SourceRow, setStamp, storeNotes } from '../db/sources.ts';
import { announce } from '../events/announce.ts';
import { locate } from './locate.ts';
import type { Means } from './means.ts';
import type { BegunReading, SeenFile } from './reading/readings.ts';
import { reshowSource } from './reshow.ts';
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
/** A text that may not be whole is believed when it stays as it is for so long. */
const SECOND_LOOK_MS = Number(process.env.TETHER_SECOND_LOOK_MS ?? 4_000);
const MOST_LOOKS = 8;
/** A text that is shorter than this share of what it was may have lost its end. */
const SHORTER = 0.8;

/** The key under which work on a source is done alone, in all processes. */
export function sourceKey(sourceId: string): string {
  return `source ${sourceId}`;
}

/**
 * Looks at a source that a job asks for: reads once what its tethers take and gives them their standing. When somebody
 * is looking at it already, that one looks once more, and nothing is waited for here. Tells whether what the source holds
 * must be noted anew, and whether it took too long and is to be tried again later.
 */
export async function lookAsked(
  means: Means,
  sourceId: string,
  { isForced = false } = {},
): Promise<{ lacksNotes: boolean; isSlow: boolean }> {
  for (;;) {
    let looked = { number: 0, isSlow: false };
    const hasLooked = await means.locks.tryRun(sourceKey(sourceId), async () => {
      looked = await lookAlone(means, sourceId, isForced);
    });
    if (!hasLooked) return { lacksNotes: false, isSlow: false };
    const { number, isSlow } = looked;
    const { isAsked, lacksNotes } = await means.readings.left({ id: sourceId, number });
    if (!isAsked) return { lacksNotes, isSlow };
  }
}

/** Notes by what a source can be searched: what stands at the head of its sheets, and marks of its values. */
export async function noteContents({ db, reader }: Means, sourceId: string): Promise<void> {
  const found = await findSource(db, sourceId);
  if (found?.source.state !== 'present') return;
  const { folder, source } = found;
  const located = await locate(folder, source.path);
  if (!located.ok) return;
  const outcome = await reader.read(
    {
      ...located.value,
      shownPath: source.path,
      reaches: [],
      reading: source.reading,
      withHeadings: true,
      withMarks: true,
      withPrint: true,
    },
    'following',
  );
  if (!outcome.ok) return;
  const { hash, headings, marks, print } = outcome.value;
  await storeNotes(db, sourceId, { hash, headings, marks, print });
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

/** Files that are caught up with at the same time: as many as are read at once, and some that wait for their turn. */
const catchingUp = pLimit(8);

/** Looks at these sources when their files are not as they were last seen, and waits for it. */
export async function catchUp(means: Means, sourceIds: Iterable<string>): Promise<void> {
  const known = await findSources(means.db, [...new Set(sourceIds)]);
  await Promise.all(
    known.map(({ source, folder }) =>
      catchingUp(async () => {
        const path = `${folder.root}/${source.path}`;
        if ((await stampOf(path)) === source.stamp) return;
        await settle(path);
        await lookNow(means, source.id);
      }),
    ),
  );
}

/** Gives the number of the reading, 0 where there is no such source, and whether it took too long. */
async function lookAlone(
  means: Means,
  sourceId: string,
  isForced: boolean,
): Promise<{ number: number; isSlow: boolean }> {
  let isSlow = false;
  const number = await means.readings.run(sourceId, async (begun) => {
    const { folder, source } = begun;
    let seen = await readSource(means, begun, isForced);
    if (
      !seen.outcome.ok &&
      PASSING.includes(seen.outcome.fault.code) &&
      source.state === 'present'
    ) {
      await new Promise((resolve) => setTimeout(resolve, GRACE_MS));
      await settle(`${folder.root}/${source.path}`);
      seen = await readSource(means, begun, isForced);
    }
    // A program that writes a text in pieces, with pauses, leaves half of it there for a while.
    for (let looks = 1; looks < MOST_LOOKS && maybeCut(source, seen); looks++) {
      const before = seen.stamp;
      await new Promise((resolve) => setTimeout(resolve, SECOND_LOOK_MS));
      if ((await settle(`${folder.root}/${source.path}`)) === before) break;
      seen = await readSource(means, begun, isForced);
    }
    // That a folder went away is recorded of all its objects at once, by whoever watches it. Where that was done already, an
    // object has been tied again or gone back since: it must not say that it is in step.
    const isAway = !seen.outcome.ok && seen.outcome.fault.code === 'folder-offline';
    if (isAway && folder.state !== 'offline') return null;
    isSlow = !seen.outcome.ok && seen.outcome.fault.code === 'source-slow';
    if (!seen.outcome.ok || !seen.outcome.value.isSame) return seen;
    await setStamp(means.db, sourceId, seen.stamp);
    return null;
  });
  await reshowSource(means, sourceId);
  return { number, isSlow };
}

/** Whether a text was seen that may not be written to its end: much shorter than before, or in the middle of a line. */
function maybeCut(source: SourceRow, { outcome }: SeenFile): boolean {
  if (!/\.(csv|tsv|tab)$/i.test(source.path) || source.hash === null) return false;
  if (!outcome.ok) return outcome.fault.code === 'source-empty';
  const { isSame, bytes, isOpenEnded } = outcome.value;
  if (isSame) return false;
  return bytes < source.bytes * SHORTER || (isOpenEnded && bytes < source.bytes);
}

async function readSource(
  { reader }: Means,
  { folder, source, follow, before, hasAdrift }: BegunReading,
  isForced: boolean,
): Promise<SeenFile> {
  const stamp = await stampOf(`${folder.root}/${source.path}`);
  const located = await locate(folder, source.path);
  if (!located.ok) return { outcome: { ...located, hash: null, bytes: 0 }, stamp };
  const isSettled = !isForced && source.state === 'present' && !hasAdrift;
  const outcome = await reader.read(
    {
      ...located.value,
      shownPath: source.path,
      reaches: [],
      follow,
      before,
      reading: source.reading,
      ...(isSettled && source.hash ? { unlessHash: source.hash } : {}),
    },
    'following',
  );
  return { outcome, stamp };
}

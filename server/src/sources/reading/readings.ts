import type { Database } from '../../db/database.ts';
import { findPacked } from '../../db/snapshots.ts';
import {
  beginReadings,
  type FolderRow,
  findSheetPrints,
  leftAfter,
  recordReadings,
  type SeenSource,
  type SourceRow,
} from '../../db/sources.ts';
import { listSourceTethers } from '../../db/tethers.ts';
import type { Comparer } from '../../following/comparer.ts';
import { followSources, reachesOf, takenBy } from '../../following/follow.ts';
import type { FollowedReach } from '../../following/followed.ts';
import { together } from '../../together.ts';
import type { ReadingOutcome } from './reading.ts';

/** A source that is about to be read, with what its objects take. */
export interface BegunReading {
  /** Higher than that of every reading that began before, in any process. */
  number: number;
  source: SourceRow;
  folder: FolderRow;
  follow: FollowedReach[];
  /** Its sheets as they were read last, packed; null where that is not kept. */
  before: Uint8Array | null;
  /** An object has lost its hold: then it is read although its bytes are the same. */
  hasAdrift: boolean;
}

/** What a file was seen to hold; `stamp` is the state it was in before it was read. */
export interface SeenFile {
  outcome: ReadingOutcome;
  stamp: string;
}

/** What became of a reading. */
export type EndedReading = Omit<BegunReading, 'hasAdrift'> & SeenFile;

/** How long an ended reading waits for others to be recorded with it, while others are under way. */
const GATHER_MS = 100;
const MOST_RECORDED = 16;

/**
 * Begins and records readings. When many sources change at once, what the database is asked for them is asked together:
 * each question costs as much as reading a small workbook does.
 */
export class Readings {
  private underway = 0;
  private readonly waiting = new Set<() => void>();
  private readonly begin = together((ids: readonly string[]) => this.beginAll(ids));

  constructor(
    private readonly db: Database,
    private readonly comparer: Comparer,
  ) {}

  /**
   * Has a source read by `read` (null for as it was), and records what it saw; gives the number of the reading, 0 where
   * there is no such source. The source's lock must be held.
   */
  async run(
    sourceId: string,
    read: (begun: BegunReading) => Promise<SeenFile | null>,
  ): Promise<number> {
    let ended: EndedReading | null = null;
    let number = 0;
    this.underway++;
    try {
      const begun = await this.begin(sourceId);
      if (!begun) return 0;
      number = begun.number;
      const seen = await read(begun);
      if (seen) ended = { ...begun, ...seen };
    } finally {
      this.underway--;
      if (this.underway === 0) for (const go of this.waiting) go();
    }
    if (ended) await this.record(ended);
    return number;
  }

  /**
   * Records what a reading saw, and gives the objects of its source their standing, unless a later reading was recorded
   * meanwhile. All objects of a source change together or not at all.
   */
  readonly record = together((ended: readonly EndedReading[]) => this.recordAll(ended), {
    most: MOST_RECORDED,
    until: () => this.untilQuiet(),
  });

  /** What is left to do after a reading; see `leftAfter`. */
  readonly left = together((readings: readonly { id: string; number: number }[]) =>
    leftAfter(this.db, readings),
  );

  /** Until nothing more is under way, or for so long that nobody notices. */
  private untilQuiet(): Promise<void> {
    if (this.underway === 0) return Promise.resolve();
    return new Promise((resolve) => {
      const go = () => {
        clearTimeout(timer);
        this.waiting.delete(go);
        resolve();
      };
      const timer = setTimeout(go, GATHER_MS);
      this.waiting.add(go);
    });
  }

  private async beginAll(ids: readonly string[]): Promise<(BegunReading | null)[]> {
    const begun = await beginReadings(this.db, ids);
    const tethers = (await listSourceTethers(this.db, ids)).filter(({ frozenAt }) => !frozenAt);
    const packed = await findPacked(
      this.db,
      tethers.map(({ base }) => base),
    );
    const blocks = tethers.filter(({ reach }) => reach.kind === 'block');
    const before = await findSheetPrints(
      this.db,
      blocks.map(({ sourceId }) => sourceId),
    );
    return ids.map((id) => {
      const found = begun.get(id);
      if (!found) return null;
      const own = tethers.filter(({ sourceId }) => sourceId === id);
      return {
        ...found,
        follow: reachesOf(own, packed),
        before: before.get(id) ?? null,
        hasAdrift: own.some(({ standing }) => standing === 'adrift'),
      };
    });
  }

  private async recordAll(ended: readonly EndedReading[]): Promise<(undefined | Error)[]> {
    try {
      await this.db.transaction((tx) => recordTogether(tx, this.comparer, ended));
      return ended.map(() => undefined);
    } catch (error) {
      if (ended.length === 1) return [error as Error];
    }
    // One that cannot be recorded does not keep the others from it.
    const alone: (undefined | Error)[] = [];
    for (const each of ended) alone.push(...(await this.recordAll([each])));
    return alone;
  }
}

async function recordTogether(
  tx: Database,
  comparer: Comparer,
  ended: readonly EndedReading[],
): Promise<void> {
  const recorded = await recordReadings(
    tx,
    ended.map((each) => ({ id: each.source.id, number: each.number, seen: seenOf(each) })),
  );
  await followSources(
    { tx, comparer },
    ended
      .filter(({ source }) => recorded.has(source.id))
      .map((each) => ({
        id: each.source.id,
        shownPath: `${each.folder.name}/${each.source.path}`,
        taken: takenOf(each),
      })),
  );
}

function takenOf(ended: EndedReading) {
  const { outcome, follow } = ended;
  return outcome.ok ? takenBy(outcome.value.followed, follow) : outcome;
}

function seenOf(ended: EndedReading): SeenSource {
  const { source, outcome, stamp } = ended;
  const isGone = !outcome.ok && outcome.fault.code === 'source-missing';
  // By what it was a file is found again that went elsewhere.
  const hash = outcome.ok ? outcome.value.hash : (outcome.hash ?? (isGone ? source.hash : null));
  const wasGone = source.state === 'missing';
  const changedAt = hash === source.hash && isGone === wasGone ? null : new Date();
  const common = { hash, stamp, changedAt };
  if (!outcome.ok) {
    const { fault, bytes } = outcome;
    const state = fault.code === 'source-missing' ? ('missing' as const) : ('unreadable' as const);
    return { ...common, state, fault, bytes, sheets: null };
  }
  const { bytes, sheets } = outcome.value;
  return {
    ...common,
    state: 'present',
    fault: null,
    bytes,
    sheets: sheets.map(({ name, state }) => ({ name, state })),
  };
}

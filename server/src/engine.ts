import { thinHistory } from './changing/history.ts';
import { liftMoorings } from './changing/moorings.ts';
import { alignTimetables, refreshDue } from './changing/timetable.ts';
import type { Database, DatabaseConnection } from './db/database.ts';
import { listUncompared } from './db/tethers.ts';
import { writeOutLeft } from './documents/write-out.ts';
import { Writing } from './documents/writing.ts';
import { DatabaseFeed } from './events/feed.ts';
import { EventHub } from './events/hub.ts';
import { JobQueue } from './jobs/queue.ts';
import { JobRunner } from './jobs/runner.ts';
import { Locks } from './locks/locks.ts';
import { lookAsked, noteContents } from './sources/look.ts';
import { Readings } from './sources/reading/readings.ts';
import { SourceKeeper } from './sources/watching/keeper.ts';
import { followCertain, followMoved } from './sources/watching/moved.ts';
import { tell } from './tell.ts';
import type { WorkThreads } from './work-threads.ts';

/**
 * What every process runs, server or worker: watching, jobs and the feed of events. Everything that processes share is in
 * the database. The threads are handed in, and stay when the engine stops.
 */
export class Engine {
  readonly db: Database;
  readonly events = new EventHub();
  readonly writing: Writing;
  readonly reader: WorkThreads['reader'];
  readonly comparer: WorkThreads['comparer'];
  readonly writer: WorkThreads['writer'];
  readonly locks: Locks;
  readonly readings: Readings;
  readonly queue: JobQueue;
  readonly keeper: SourceKeeper;
  private readonly runner: JobRunner;
  private readonly feed: DatabaseFeed;

  constructor(
    private readonly database: DatabaseConnection,
    url: string,
    kind: 'server' | 'worker',
    threads: WorkThreads,
  ) {
    const { db } = database;
    this.db = db;
    this.reader = threads.reader;
    this.comparer = threads.comparer;
    this.writer = threads.writer;
    this.writing = new Writing(db);
    this.locks = new Locks(url);
    this.queue = new JobQueue(db, url, kind);
    this.readings = new Readings(db, this.comparer);
    const { comparer, locks, queue, reader, readings, writer } = this;
    const means = { db, comparer, locks, queue, reader, readings, writer };
    this.keeper = new SourceKeeper(means);
    this.runner = new JobRunner(db, queue, kind, {
      look: async ({ data }) => {
        const { sourceId, isForced } = data!;
        const { lacksNotes, isSlow } = await lookAsked(means, sourceId, { isForced });
        if (lacksNotes) await queue.askNote(sourceId);
        await followMoved(means, sourceId);
        await followCertain(means);
        if (isSlow) await queue.askLookLater(sourceId);
        else queue.tookNotLong(sourceId);
      },
      note: async ({ data }) => {
        await noteContents(means, data!.sourceId);
        await followCertain(means);
      },
      timetable: async () => {
        await refreshDue(means);
        await writeOutLeft(db);
      },
      align: async () => {
        await alignTimetables(means);
        await liftMoorings(means);
      },
      thin: async () => {
        await thinHistory(means);
        await liftMoorings(means, { isFinal: true });
      },
    });
    this.feed = new DatabaseFeed(
      url,
      {
        updates: (documentId) => this.writing.heard(documentId),
        presence: (text) => this.writing.heardPresence(text),
        events: (text) => this.events.publish(JSON.parse(text)),
        jobs: (count) => this.runner.wake(Number(count)),
        folders: () => void this.keeper.syncFolders().catch(logged),
        reset: () => {
          this.writing.forget();
          void this.keeper.syncFolders().then(() => this.resync(), logged);
        },
      },
      () => {
        this.events.setDatabase(true);
        this.resync();
        this.writing.resync();
        this.runner.wake();
        void this.keeper.syncFolders().catch(logged);
      },
      () => this.events.setDatabase(false),
    );
  }

  /** Resolves when events are heard and jobs are done; the first look through the folders goes on meanwhile. */
  async start({ watches = true, works = true } = {}): Promise<void> {
    await this.queue.start();
    await this.feed.start();
    // What put objects behind in earlier versions is not kept with what of it may do harm: it is compared once more.
    for (const id of await listUncompared(this.db))
      await this.queue.askLook(id, { isForced: true });
    if (works) await this.runner.start();
    if (watches) this.keeper.start().catch(logged);
  }

  async stop(): Promise<void> {
    this.events.close();
    await ended('writing together', this.writing.stop());
    await ended('the feed of the database', this.feed.stop());
    await ended('watching', this.keeper.stop());
    await ended('the jobs', this.runner.stop());
    await ended('the job queue', this.queue.stop());
    await ended('the locks', this.locks.close());
    await ended('the database', this.database.close());
  }

  private resync(): void {
    this.events.publish({ kind: 'resync' });
  }
}

function logged(error: Error): void {
  tell('The engine', error);
}

/** The longest that one part may take to end: a connection that broke at that moment may never say so. */
const PATIENCE_MS = 20_000;

/** Waits until a part has ended; one that does not is told of, and left behind. */
async function ended(part: string, work: Promise<unknown>): Promise<void> {
  let timer: NodeJS.Timeout | undefined;
  const patience = new Promise<void>((resolve) => {
    timer = setTimeout(() => {
      tell('Stopping', new Error(`${part} did not end within ${PATIENCE_MS / 1_000} seconds`));
      resolve();
    }, PATIENCE_MS);
  });
  await Promise.race([work, patience]).finally(() => clearTimeout(timer));
}

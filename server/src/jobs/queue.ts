import { setTimeout as pause } from 'node:timers/promises';
import type { JobStates } from '@tether/contract';
import { sql } from 'drizzle-orm';
import PgBoss from 'pg-boss';
import { CONNECTIONS, type Database } from '../db/database.ts';
import { askForLook, askForLooksAt } from '../db/sources.ts';
import { listWorkers } from '../db/workers.ts';
import { announce, signal } from '../events/announce.ts';
import { tell } from '../tell.ts';
import { together } from '../together.ts';

/** Kinds of jobs. */
export const QUEUES = {
  /** Look at a source whose file changed. */
  look: 'look',
  /** Note what a source holds, by which it is searched: after its objects have their standing. */
  note: 'note',
  /** Refresh what is due by timetable. */
  timetable: 'timetable',
  /** Look whether timetables stand where they should. */
  align: 'align',
  /** Thin out old states. */
  thin: 'thin',
} as const;
export type QueueName = keyof typeof QUEUES;

export interface LookJob {
  sourceId: string;
  /** Read it although its bytes are the same. */
  isForced?: boolean;
}

/** A job that was fetched to be done. */
export interface FetchedJob {
  id: string;
  name: QueueName;
  data: LookJob | null;
}

/** The longest a job may take; one whose process went away before is given to others much sooner. */
const EXPIRE_S = 300;
/** A file that took too long is tried again after so many seconds, then after three times as many. */
const SLOW_AGAIN_S = 600;
const MOST_SLOW_S = 6 * 3600;
const TELL_EVERY_MS = 250;
/** Jobs taken at once: few, so that other processes get their share of what waits. */
const MOST_FETCHED = 5;
/** Files that are saved together are asked for together. */
const TOGETHER_MS = 10;

/**
 * The jobs that all processes share, kept in PostgreSQL by pg-boss. A look that waits is asked for once, however often its
 * source changes meanwhile; a job that failed is tried again after a second, then after longer and longer.
 */
export class JobQueue {
  private readonly boss: PgBoss;
  private telling: NodeJS.Timeout | null = null;
  /** How often each source took too long to be read. */
  private readonly slow = new Map<string, number>();
  private readonly askAt = together(
    (places: readonly { folderId: string; path: string }[]) => askForLooksAt(this.db, places),
    { until: () => pause(TOGETHER_MS) },
  );
  private readonly send = together((jobs: readonly PgBoss.JobInsert[]) => this.sendAll(jobs));
  private readonly fetchOne = together((names: readonly QueueName[]) => this.fetchAll(names), {
    most: MOST_FETCHED,
  });
  private readonly completeOne = together((jobs: readonly FetchedJob[]) => this.completeAll(jobs));

  constructor(
    private readonly db: Database,
    url: string,
    kind: keyof typeof CONNECTIONS = 'server',
  ) {
    this.boss = new PgBoss({
      connectionString: url,
      max: CONNECTIONS[kind].queue,
      application_name: 'obedient-tether-jobs',
      maintenanceIntervalSeconds: 60,
      retentionDays: 3,
      deleteAfterHours: 24,
      archiveCompletedAfterSeconds: 3600,
    });
    this.boss.on('error', (error) => tell('The job queue', error));
  }

  async start(): Promise<void> {
    await this.boss.start();
    const retry = { retryLimit: 14, retryDelay: 1, retryBackoff: true, expireInSeconds: EXPIRE_S };
    await this.boss.createQueue(QUEUES.look, { name: QUEUES.look, policy: 'short', ...retry });
    for (const name of [QUEUES.note, QUEUES.timetable, QUEUES.align, QUEUES.thin]) {
      await this.boss.createQueue(name, { name, policy: 'short', ...retry, retryLimit: 1 });
    }
    await this.boss.schedule(QUEUES.thin, '17 3 * * *');
    await this.boss.schedule(QUEUES.align, '* * * * *');
  }

  async stop(): Promise<void> {
    if (this.telling) clearTimeout(this.telling);
    await this.boss.stop({ graceful: false, wait: true });
  }

  /** Asks for a look at a source. */
  async askLook(sourceId: string, { isForced = false } = {}): Promise<void> {
    await askForLook(this.db, sourceId);
    await this.sendLook(sourceId, isForced);
  }

  /** Asks to look again later at a source whose reading took too long: after minutes, then after hours. */
  async askLookLater(sourceId: string): Promise<void> {
    const times = this.slow.get(sourceId) ?? 0;
    this.slow.set(sourceId, times + 1);
    await this.send({
      name: QUEUES.look,
      data: { sourceId, isForced: true },
      singletonKey: `${sourceId} later`,
      startAfter: new Date(Date.now() + 1000 * Math.min(SLOW_AGAIN_S * 3 ** times, MOST_SLOW_S)),
    });
  }

  /** A source was read in time. */
  tookNotLong(sourceId: string): void {
    this.slow.delete(sourceId);
  }

  /** Asks for a look at the source at a path of a folder; false where none is known there. */
  async askLookAt(folderId: string, path: string): Promise<boolean> {
    const sourceId = await this.askAt({ folderId, path });
    if (sourceId) await this.sendLook(sourceId, false);
    return sourceId !== null;
  }

  private sendLook(sourceId: string, isForced: boolean): Promise<void> {
    return this.send({
      name: QUEUES.look,
      data: { sourceId, ...(isForced ? { isForced } : {}) },
      // A forced look must not be swallowed by a usual one that waits.
      singletonKey: isForced ? `${sourceId} forced` : sourceId,
    });
  }

  private async sendAll(jobs: readonly PgBoss.JobInsert[]): Promise<undefined[]> {
    await this.boss.insert([...jobs]);
    const looks = jobs.filter(({ name }) => name === QUEUES.look);
    if (looks.length > 0) await signal(this.db, 'jobs', String(looks.length));
    this.tellScreens();
    return jobs.map(() => undefined);
  }

  /** Tells the screens that there is something new about jobs, a few times a second at most. */
  tellScreens(): void {
    this.telling ??= setTimeout(() => {
      this.telling = null;
      announce(this.db, { kind: 'jobs' }).catch(() => undefined);
    }, TELL_EVERY_MS);
  }

  /** Asks for noting what a source holds. */
  async askNote(sourceId: string): Promise<void> {
    await this.send({ name: QUEUES.note, data: { sourceId }, singletonKey: sourceId });
  }

  /** Asks for refreshing what is due by timetable. */
  async askTimetable(): Promise<void> {
    await this.send({ name: QUEUES.timetable, singletonKey: 'due' });
  }

  /** The next job of a kind, or null. It is then this process's to do. */
  fetch(name: QueueName): Promise<FetchedJob | null> {
    return this.fetchOne(name);
  }

  private async fetchAll(names: readonly QueueName[]): Promise<(FetchedJob | null)[]> {
    const fetched = new Map<QueueName, FetchedJob[]>();
    for (const name of new Set(names)) {
      const batchSize = names.filter((each) => each === name).length;
      const jobs = await this.boss.fetch<LookJob | null>(name, { batchSize });
      fetched.set(
        name,
        jobs.map(({ id, data }) => ({ id, name, data })),
      );
    }
    return names.map((name) => fetched.get(name)!.shift() ?? null);
  }

  /** Says that a job is done. */
  complete(job: FetchedJob): Promise<void> {
    return this.completeOne(job);
  }

  private async completeAll(jobs: readonly FetchedJob[]): Promise<undefined[]> {
    for (const name of new Set(jobs.map((job) => job.name))) {
      await this.boss.complete(
        name,
        jobs.filter((job) => job.name === name).map(({ id }) => id),
      );
    }
    return jobs.map(() => undefined);
  }

  /** Gives a job back to be tried again. */
  async fail({ name, id }: Pick<FetchedJob, 'name' | 'id'>, reason: string): Promise<void> {
    await this.boss.fail(name, id, { message: reason });
    this.tellScreens();
  }

  /**
   * Gives back the jobs that run for so many seconds and that no process says it does: who fetched them went away before it
   * said so, or the database did before its answer had arrived.
   */
  async giveBackUnheld(seconds: number): Promise<void> {
    const { rows } = await this.db.execute<{ id: string; name: QueueName }>(sql`
      select id, name from pgboss.job
      where state = 'active' and started_on < now() - make_interval(secs => ${seconds})
        and id not in (select unnest(jobs) from workers)`);
    for (const job of rows) {
      if (job.name in QUEUES) await this.fail(job, 'no process did it');
    }
  }

  /** Forgets every job. */
  async clear(): Promise<void> {
    await this.boss.clearStorage();
  }

  /** Whether no look or note waits, runs or is to be tried again. */
  async isIdle(): Promise<boolean> {
    for (const name of [QUEUES.look, QUEUES.note]) {
      if ((await this.boss.getQueueSize(name, { before: 'completed' })) > 0) return false;
    }
    return true;
  }

  /** What runs, what waits and who does it, for the screen. */
  async states(): Promise<JobStates> {
    const { rows } = await this.db.execute<{
      id: string;
      state: 'created' | 'retry' | 'active';
      path: string | null;
      started: Date | null;
      times: number;
      next: Date;
      reason: string | null;
    }>(sql`
      select j.id, j.state, s.path, j.started_on as started, j.retry_count as times, j.start_after as next,
        j.output ->> 'message' as reason
      from pgboss.job j left join sources s on s.id::text = j.data ->> 'sourceId'
      where j.name = ${QUEUES.look} and j.state <= 'active'
      order by j.created_on limit 200`);
    const workers = await listWorkers(this.db);
    return {
      running: rows
        .filter(({ state }) => state === 'active')
        .map(({ id, path, started }) => {
          const worker = workers.find(({ jobs }) => jobs.includes(id));
          return {
            path: path ?? '',
            since: new Date(started ?? Date.now()).toISOString(),
            worker: worker ? `${worker.host}, process ${worker.pid}` : null,
          };
        }),
      waiting: rows.filter(({ state }) => state === 'created').length,
      retrying: rows
        .filter(({ state }) => state === 'retry')
        .map(({ path, times, next, reason }) => ({
          path: path ?? '',
          times: times + 1,
          next: new Date(next).toISOString(),
          reason: reason ?? '',
        })),
      workers: workers.map(({ host, pid, kind, jobs }) => ({ host, pid, kind, jobs: jobs.length })),
    };
  }
}

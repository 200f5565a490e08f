import { randomUUID } from 'node:crypto';
import { hostname } from 'node:os';
import type { Database } from '../db/database.ts';
import { hasDueTethers } from '../db/tethers.ts';
import { removeWorker, reportWorker, takeLostWorkers } from '../db/workers.ts';
import { reasonOf, tell } from '../tell.ts';
import { together } from '../together.ts';
import { type FetchedJob, type JobQueue, QUEUES, type QueueName } from './queue.ts';

type Work = Record<QueueName, (job: FetchedJob) => Promise<void>>;

/** Jobs done side by side. Reading is bounded by the reading threads; the rest of a job waits for the database. */
const SLOTS = 20;
/** How often is looked for jobs that nobody told of: those that are tried again. */
const LOOK_EVERY_MS = 1_000;
/** A process that was not seen for so many seconds is gone; longer than any pause of one that is not. */
const LOST_AFTER_S = Number(process.env.TETHER_LOST_AFTER ?? 12);
const BEAT_MS = 3_000;
const DATABASE_AWAY_MS = 500;

/**
 * Does this process's share of the jobs, and says that it is there. A process that goes away without a word is noticed by
 * the others, which take its jobs over.
 */
export class JobRunner {
  private readonly id = randomUUID();
  private readonly jobs = new Set<string>();
  /** Jobs that begin together are reported together. */
  private readonly reportBegun = together(async (jobs: readonly string[]) => {
    await this.report();
    return jobs.map(() => undefined);
  });
  private readonly slots: Promise<void>[] = [];
  private wakeups: (() => void)[] = [];
  private beating: NodeJS.Timeout | null = null;
  private isStopping = false;

  constructor(
    private readonly db: Database,
    private readonly queue: JobQueue,
    private readonly kind: 'server' | 'worker',
    private readonly work: Work,
    private readonly lostAfterS = LOST_AFTER_S,
  ) {}

  async start(): Promise<void> {
    await this.report();
    const every = Math.min(BEAT_MS, this.lostAfterS * 250);
    this.beating = setInterval(() => void this.beat().catch(this.asTold), every);
    for (let slot = 0; slot < SLOTS; slot++) this.slots.push(this.runSlot(slot === 0));
  }

  /** Ends when the jobs that run are done. */
  async stop(): Promise<void> {
    this.isStopping = true;
    if (this.beating) clearInterval(this.beating);
    for (const wake of this.wakeups.splice(0)) wake();
    await Promise.all(this.slots);
    await removeWorker(this.db, this.id).catch(() => undefined);
  }

  /** Jobs are there: as many of the slots that have nothing to do look for them. */
  wake(count = 1): void {
    for (const wake of this.wakeups.splice(0, count)) wake();
  }

  /** Whether this process is doing something. */
  get isBusy(): boolean {
    return this.jobs.size > 0;
  }

  private async runSlot(isFirst: boolean): Promise<void> {
    const names: QueueName[] = isFirst ? ['look', 'timetable', 'align', 'thin', 'note'] : ['look'];
    while (!this.isStopping) {
      let hasWorked = false;
      try {
        for (const name of names) {
          const job = await this.queue.fetch(name);
          if (!job) continue;
          hasWorked = true;
          await this.do(job);
          // Whatever was done, standings come first.
          break;
        }
      } catch (error) {
        if (!this.isStopping) tell('Fetching jobs', error);
        await pause(DATABASE_AWAY_MS);
      }
      if (!hasWorked && !this.isStopping) await this.untilWoken();
    }
  }

  private async do(job: FetchedJob): Promise<void> {
    this.jobs.add(job.id);
    try {
      await this.reportBegun(job.id);
      await this.work[job.name](job);
      await this.sayWhatBecame(() => this.queue.complete(job));
    } catch (error) {
      tell(`Job ${job.name}`, error);
      await this.sayWhatBecame(() => this.queue.fail(job, reasonOf(error)));
    } finally {
      this.jobs.delete(job.id);
      this.queue.tellScreens();
    }
  }

  /** Says what became of a job; when the database is away, as soon as it is there again. */
  private async sayWhatBecame(say: () => Promise<void>): Promise<void> {
    while (!this.isStopping) {
      try {
        return await say();
      } catch {
        await pause(DATABASE_AWAY_MS);
      }
    }
    await say().catch(() => undefined);
  }

  private async beat(): Promise<void> {
    await this.report();
    for (const lost of await takeLostWorkers(this.db, this.lostAfterS)) {
      const reason = `process ${lost.pid} on ${lost.host} went away`;
      // A process says which jobs it does, not of which kind they are.
      for (const id of lost.jobs) {
        for (const name of Object.values(QUEUES)) await this.queue.fail({ name, id }, reason);
      }
    }
    // Longer than for a process: one that was held up just after it had fetched a job has still to say so.
    await this.queue.giveBackUnheld(2 * this.lostAfterS);
    if (await hasDueTethers(this.db)) await this.queue.askTimetable();
  }

  private readonly asTold = (error: unknown): void => {
    // At the end the database may be gone before the last beat is.
    if (!this.isStopping) tell('Looking after the jobs', error);
  };

  private report(): Promise<void> {
    const { id, kind } = this;
    return reportWorker(this.db, {
      id,
      host: hostname(),
      pid: process.pid,
      kind,
      jobs: [...this.jobs],
    });
  }

  private untilWoken(): Promise<void> {
    return new Promise((resolve) => {
      const wake = () => {
        clearTimeout(timer);
        resolve();
      };
      const timer = setTimeout(() => {
        this.wakeups = this.wakeups.filter((each) => each !== wake);
        resolve();
      }, LOOK_EVERY_MS);
      this.wakeups.push(wake);
    });
  }
}

function pause(milliseconds: number): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve, milliseconds));
}

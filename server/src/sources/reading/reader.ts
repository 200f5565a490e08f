import { totalmem } from 'node:os';
import { type Fault, fault } from '@tether/core';
import { Piscina } from 'piscina';
import { tell } from '../../tell.ts';
import { builtWorker, THREAD_ARGUMENTS } from '../../threads.ts';
import type { ReadingOutcome, ReadingRequest } from './reading.ts';

/** For whom a file is read: a person who waits for it, or the objects that follow it. */
type For = 'people' | 'following';

/** Reads sources in worker threads, so that a large file never keeps the server from answering. */
export interface SourceReader {
  /** `by` says who waits for it: neither keeps the other waiting for long. */
  read(request: ReadingRequest, by?: For): Promise<ReadingOutcome>;
  /** How many readings were done: for tests that count them. */
  readonly count: number;
  close(): Promise<void>;
}

const TIME_LIMIT_MS = 120_000;
const THREADS = 3;
/** Threads that are left to the others, so that slow files of one kind do not hold all of them. */
const LEFT_TO_OTHERS = 1;
const MEMORY_MB = Math.max(512, Math.min(4096, Math.floor(totalmem() / 2 ** 20 / 4)));

/** Starts the reading threads. */
export function startReader({
  worker = builtWorker('read-file'),
  timeLimit = TIME_LIMIT_MS,
  memory = MEMORY_MB,
} = {}): SourceReader {
  const pool = new Piscina({
    filename: worker,
    execArgv: THREAD_ARGUMENTS,
    minThreads: 1,
    maxThreads: THREADS,
    idleTimeout: 60_000,
    resourceLimits: { maxOldGenerationSizeMb: memory },
  });
  // A thread that dies says so to its reading, and once more to everybody: that must not end the server.
  pool.on('error', (error) => tell('A reading thread', error));
  const turns = new Turns();
  let count = 0;

  const readNow = async (request: ReadingRequest): Promise<ReadingOutcome> => {
    try {
      // Its time counts from here: a thread is free, and what was waited for one is nothing that this file did.
      return await pool.run(request, { signal: AbortSignal.timeout(timeLimit) });
    } catch (error) {
      return { ok: false, fault: faultOf(error, request.shownPath), hash: null, bytes: 0 };
    }
  };
  const faultOf = (error: unknown, path: string): Fault => {
    const { name, message } = error as Error;
    if (name === 'AbortError' || name === 'TimeoutError') {
      const minutes = Math.max(1, Math.round(timeLimit / 60_000));
      return fault('source-slow', { path, minutes: String(minutes) });
    }
    if (/memory/i.test(message)) {
      const limit = `it needs over ${(memory / 1024).toFixed(1).replace('.0', '')} GB of memory`;
      return fault('source-too-large', { path, limit });
    }
    // What is wrong with a file comes as a fault of it: this is wrong with us.
    tell(`Reading ${path}`, error);
    return fault('unexpected', { detail: `“${path}” could not be read here` });
  };

  return {
    get count() {
      return count;
    },
    read(request, by = 'people') {
      count++;
      return turns.run(by, () => readNow(request));
    },
    close: () => pool.destroy(),
  };
}

/** Gives free threads to people and to following in turn; none of the two can hold them all. */
class Turns {
  private readonly waiting: Record<For, (() => void)[]> = { people: [], following: [] };
  private readonly running: Record<For, number> = { people: 0, following: 0 };
  private last: For = 'following';

  async run<T>(by: For, work: () => Promise<T>): Promise<T> {
    await new Promise<void>((go) => {
      this.waiting[by].push(go);
      this.letIn();
    });
    try {
      return await work();
    } finally {
      this.running[by]--;
      this.letIn();
    }
  }

  private letIn(): void {
    while (this.running.people + this.running.following < THREADS) {
      const order: For[] =
        this.last === 'people' ? ['following', 'people'] : ['people', 'following'];
      const next = order.find(
        (by) => this.waiting[by].length > 0 && this.running[by] < THREADS - LEFT_TO_OTHERS,
      );
      if (!next) return;
      this.last = next;
      this.running[next]++;
      this.waiting[next].shift()!();
    }
  }
}

import type { Change, ChangeSlip, Choice, Result } from '@tether/core';
import { fail, ok } from '@tether/core';
import { Piscina } from 'piscina';
import type { Database } from '../db/database.ts';
import { findPacked } from '../db/snapshots.ts';
import { tell } from '../tell.ts';
import { builtWorker, THREAD_ARGUMENTS } from '../threads.ts';
import { type ComparingTask, type PartTaken, toJson } from './compare-packed.ts';

const THREADS = 2;
/** Packed bytes that are unpacked at once, in a millisecond or two: handing over hundreds of small tables takes longer. */
const SMALL = 32 << 10;

/**
 * Compares states of objects, in threads of its own: two tables of many thousand rows take seconds, in which the server
 * must answer.
 */
export interface Comparer {
  /** What leads from one kept state to another. Fault: `state-forgotten` when one of them is not kept any more. */
  slip(db: Database, from: string, to: string): Promise<Result<ChangeSlip>>;
  /** The same in few words, and what of it may do harm; null where nothing changes. Fault: `state-forgotten`. */
  change(db: Database, from: string, to: string): Promise<Result<Change | null>>;
  /** The part that somebody chose of what leads from one kept state to another. Fault: `state-forgotten`. */
  part(db: Database, from: string, to: string, choice: Choice): Promise<Result<PartTaken>>;
  /** A kept state as JSON, to be sent; null when it is not kept. */
  json(db: Database, hash: string): Promise<string | null>;
  close(): Promise<void>;
}

/** Starts the threads when there is something to compare. */
export function startComparer(): Comparer {
  const pool = new Piscina({
    filename: builtWorker('compare-packed'),
    execArgv: THREAD_ARGUMENTS,
    minThreads: 0,
    maxThreads: THREADS,
    idleTimeout: 60_000,
  });
  // A thread that dies says so to its work, and once more to everybody: that must not end the server.
  pool.on('error', (error) => tell('A comparing thread', error));

  const run = async <T>(
    db: Database,
    from: string,
    to: string,
    want: Pick<ComparingTask, 'want' | 'choice'>,
  ): Promise<Result<T>> => {
    const packed = await findPacked(db, [from, to]);
    const [before, after] = [packed.get(from), packed.get(to)];
    if (!before || !after) return fail('state-forgotten');
    return ok(await pool.run({ before, after, ...want } satisfies ComparingTask));
  };
  return {
    slip: (db, from, to) => run(db, from, to, { want: 'slip' }),
    change: (db, from, to) => run(db, from, to, { want: 'change' }),
    part: (db, from, to, choice) => run(db, from, to, { want: 'part', choice }),
    json: async (db, hash) => {
      const packed = (await findPacked(db, [hash])).get(hash);
      if (!packed) return null;
      return packed.length < SMALL ? toJson(packed) : pool.run(packed, { name: 'toJson' });
    },
    close: () => pool.destroy(),
  };
}

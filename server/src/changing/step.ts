import type { RefreshResponse } from '@tether/contract';
import type { Result } from '@tether/core';
import type { z } from 'zod';
import type { Database } from '../db/database.ts';
import type { LogRow } from '../db/log.ts';
import type { Means } from '../sources/means.ts';

/** Who does a step, and what it is a part of where it is done to many at once. */
export interface By {
  personId: string;
  act?: string | null;
}

/** What a step may need besides the database. */
export type Tools = Pick<Means, 'comparer' | 'writer'>;

/** What a step did. */
export interface Done {
  /** Objects or documents that are other than before. */
  changed: number;
  /** Those that it was not done to, with the reason. */
  refused: RefreshResponse['refused'];
  /** Sources that must be looked at when the transaction has ended: what their objects take may be another. */
  looks: string[];
}

/**
 * Something that is done to objects, documents or sources, logged, and can be taken back. Everything that the log takes back is
 * one of these (`registry.ts`).
 */
export interface Step<Wish, Data> {
  /** What the log keeps of it: enough to know the way back. */
  data: z.ZodType<Data>;
  /** Does it within a transaction and logs it. A fault is found before anything is written. */
  apply(tx: Database, wish: Wish, by: By, tools: Tools): Promise<Result<Done>>;
  /** What it did, in a sentence for the log. */
  describe(data: Data, more?: string): string;
  /**
   * What changed since, so that taking it back would undo somebody else's work, in words that follow “because”; null when
   * the world is as the step left it. Locks what it looks at until the transaction ends.
   */
  changedSince(tx: Database, data: Data, entry: LogRow): Promise<string | null>;
  /** What to do to have it back as it was. */
  invert(data: Data, entry: LogRow): Wish;
}

/** What doing a step needs. */
export type StepMeans = Pick<Means, 'db' | 'queue'> & Tools;

/** Does a step in a transaction of its own. */
export async function doStep<Wish, Data>(
  { db, queue, comparer, writer }: StepMeans,
  step: Step<Wish, Data>,
  wish: Wish,
  by: By,
): Promise<Result<Done>> {
  const done = await db.transaction((tx) => step.apply(tx, wish, by, { comparer, writer }));
  if (done.ok) await lookAfter(queue, done.value);
  return done;
}

/** Asks for the looks that a step needs. */
export async function lookAfter(
  queue: Means['queue'],
  { looks }: Pick<Done, 'looks'>,
): Promise<void> {
  for (const sourceId of new Set(looks)) await queue.askLook(sourceId, { isForced: true });
}

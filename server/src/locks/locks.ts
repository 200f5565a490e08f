import { createHash } from 'node:crypto';
import { EventEmitter, once } from 'node:events';
import pg from 'pg';
import { together } from '../together.ts';
import { Serial } from './serial.ts';

/** Who waits for a lock is told when it is given back, and asks anew after this: a connection that broke tells nobody. */
const ASK_AGAIN_MS = 1_000;
/** Channel on which it is told that a lock was given back, by its number. */
const GIVEN_BACK = 'tether_locks';

/**
 * Locks that hold over all processes (advisory locks of PostgreSQL, 13.3.5), on one connection of their own. When that
 * connection is lost its locks are free for others; what was being done is then kept from harm by the numbers of readings.
 */
export class Locks {
  private client: Promise<pg.Client> | null = null;
  private readonly serial = new Serial();
  /** Tells the number of each lock that was given back anywhere. */
  private readonly givenBack = new EventEmitter().setMaxListeners(0);
  private readonly held = new Set<string>();
  private asking: Promise<unknown> = Promise.resolve();
  private readonly tryLock = together((keys: readonly string[]) =>
    this.ask('pg_try_advisory_lock', keys),
  );
  private readonly unlock = together((keys: readonly string[]) =>
    this.ask('pg_advisory_unlock', keys),
  );

  constructor(private readonly url: string) {}

  /** Does the work while nobody else anywhere does work under the same key; waits for its turn. */
  run<T>(key: string, work: () => Promise<T>): Promise<T> {
    return this.serial.run(key, async () => {
      for (;;) {
        // Listening begins before asking, so that nothing is missed between.
        const signal = AbortSignal.timeout(ASK_AGAIN_MS);
        const given = once(this.givenBack, numberOf(key), { signal }).catch(() => undefined);
        if (await this.take(key)) break;
        await given;
      }
      try {
        return await work();
      } finally {
        await this.release(key);
      }
    });
  }

  /** Does the work unless somebody is doing work under the same key; tells whether it was done. */
  async tryRun(key: string, work: () => Promise<void>): Promise<boolean> {
    if (this.serial.isBusy(key)) return false;
    return this.serial.run(key, async () => {
      if (!(await this.take(key))) return false;
      try {
        await work();
      } finally {
        await this.release(key);
      }
      return true;
    });
  }

  /** Takes a lock to keep; false when another process has it. */
  async take(key: string): Promise<boolean> {
    if (this.held.has(key)) return true;
    const isTaken = await this.tryLock(key);
    if (isTaken) this.held.add(key);
    return isTaken;
  }

  /** Whether a lock that was taken to keep is still held. */
  holds(key: string): boolean {
    return this.held.has(key);
  }

  /** Gives a lock back. */
  async release(key: string): Promise<void> {
    if (!this.held.delete(key)) return;
    await this.unlock(key);
  }

  async close(): Promise<void> {
    const client = await this.client?.catch(() => null);
    this.client = null;
    await client?.end();
  }

  /** Asks the same of all these keys; one question after the other, since a connection answers one at a time. */
  private ask(
    which: 'pg_try_advisory_lock' | 'pg_advisory_unlock',
    keys: readonly string[],
  ): Promise<boolean[]> {
    const answers = this.asking.then(async () => {
      const client = await this.connected();
      const told =
        which === 'pg_advisory_unlock' ? `, pg_notify('${GIVEN_BACK}', number::text)` : '';
      const { rows } = await client.query<{ answer: boolean }>(
        `select ${which}(number) as answer${told}
          from unnest($1::bigint[]) with ordinality as v (number, place) order by place`,
        [keys.map(numberOf)],
      );
      return rows.map(({ answer }) => answer);
    });
    this.asking = answers.catch(() => undefined);
    return answers;
  }

  private connected(): Promise<pg.Client> {
    if (this.client) return this.client;
    const client = new pg.Client({
      connectionString: this.url,
      keepAlive: true,
      keepAliveInitialDelayMillis: 10_000,
    });
    client.on('notification', ({ payload }) => this.givenBack.emit(payload ?? ''));
    const connecting = client
      .connect()
      .then(() => client.query(`listen ${GIVEN_BACK}`))
      .then(() => client);
    const lost = () => {
      // A connection is lost once, however often it says so: the next one keeps what it holds.
      if (this.client !== connecting) return;
      this.client = null;
      this.held.clear();
    };
    client.on('error', lost);
    client.on('end', lost);
    connecting.catch(lost);
    this.client = connecting;
    return connecting;
  }
}

/** The 64-bit number that stands for a key. */
function numberOf(key: string): string {
  return createHash('sha256').update(key).digest().readBigInt64BE().toString();
}

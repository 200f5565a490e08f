import { afterAll, afterEach, describe, expect, test } from '@jest/globals';
import pg from 'pg';
import { eventually } from '../testing/testing.fixture.ts';
import { Locks } from './locks.ts';

const url = process.env.TEST_DATABASE_URL!;
const opened: Locks[] = [];
/** The locks of one more process. */
function anotherProcess(): Locks {
  const locks = new Locks(url);
  opened.push(locks);
  return locks;
}
let keys = 0;
const newKey = () => `locks test ${process.pid} ${keys++}`;
const watcher = new pg.Client({ connectionString: url });
const connecting = watcher.connect();
afterEach(() => Promise.all(opened.splice(0).map((locks) => locks.close())));
afterAll(() => watcher.end());

/** A piece of work that goes on until it is ended. */
function work() {
  let end = () => {};
  const ended = new Promise<void>((resolve) => {
    end = resolve;
  });
  let begin = () => {};
  const begun = new Promise<void>((resolve) => {
    begin = resolve;
  });
  const run = async () => {
    begin();
    await ended;
  };
  return { run, begun, end };
}

describe('work under one key', () => {
  test('is done by one process at a time, each in its turn', async () => {
    const [one, other] = [anotherProcess(), anotherProcess()];
    const key = newKey();
    let inside = 0;
    let most = 0;
    let done = 0;
    const count = async () => {
      inside++;
      most = Math.max(most, inside);
      await new Promise((resolve) => setImmediate(resolve));
      inside--;
      done++;
    };
    await Promise.all([one, other, one, other, one].map((locks) => locks.run(key, count)));
    expect([most, done]).toEqual([1, 5]);
  });

  test('is left to whoever does it already', async () => {
    const [one, other] = [anotherProcess(), anotherProcess()];
    const key = newKey();
    const { run, begun, end } = work();
    const running = one.tryRun(key, run);
    await begun;
    const never = async () => {
      throw new Error('Two do it.');
    };
    expect(await other.tryRun(key, never)).toBe(false);
    expect(await one.tryRun(key, never)).toBe(false);
    expect(await other.tryRun(newKey(), async () => undefined)).toBe(true);
    end();
    expect(await running).toBe(true);
    expect(await other.tryRun(key, async () => undefined)).toBe(true);
  });

  test('that fails frees the key', async () => {
    const [one, other] = [anotherProcess(), anotherProcess()];
    const key = newKey();
    await expect(
      one.run(key, async () => {
        throw new Error('spoilt');
      }),
    ).rejects.toThrow('spoilt');
    expect(await other.take(key)).toBe(true);
  });
});

describe('a lock that is kept', () => {
  test('is nobody else’s until it is given back', async () => {
    const [one, other] = [anotherProcess(), anotherProcess()];
    const key = newKey();
    expect([await one.take(key), await other.take(key)]).toEqual([true, false]);
    expect([one.holds(key), other.holds(key)]).toEqual([true, false]);
    await one.release(key);
    expect(await other.take(key)).toBe(true);
  });

  test('is lost with its connection, and whoever had it knows', async () => {
    await connecting;
    const [one, other] = [anotherProcess(), anotherProcess()];
    const [key, later] = [newKey(), newKey()];
    await one.take(key);
    const holder = async () =>
      (
        await watcher.query(
          `select pid from pg_locks where locktype = 'advisory' and pid <> pg_backend_pid()
            and pid in (select pid from pg_stat_activity where query like '%pg_try_advisory_lock%' and datname = current_database())`,
        )
      ).rows.map(({ pid }) => pid as number);
    for (const pid of await holder()) await watcher.query('select pg_terminate_backend($1)', [pid]);
    await eventually(
      async () => one.holds(key),
      (holds) => !holds,
    );
    expect(await other.take(key)).toBe(true);
    // On a new connection it works on, and keeps what it takes there.
    expect(await one.take(key)).toBe(false);
    expect(await one.take(later)).toBe(true);
    await new Promise((resolve) => setImmediate(resolve));
    expect(one.holds(later)).toBe(true);
  });
});

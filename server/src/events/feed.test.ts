import { afterAll, afterEach, beforeAll, describe, expect, test } from '@jest/globals';
import { drizzle } from 'drizzle-orm/node-postgres';
import pg from 'pg';
import { dropDatabase, eventually, query } from '../testing/testing.fixture.ts';
import { announce, signal } from './announce.ts';
import { DatabaseFeed } from './feed.ts';

const admin = process.env.TEST_DATABASE_URL!;
const name = `feed_${process.pid}_${Date.now()}`;
const url = new URL(admin);
url.pathname = name;
let pool: pg.Pool;
const feeds: DatabaseFeed[] = [];

beforeAll(async () => {
  await query(admin, `create database ${name}`);
  pool = new pg.Pool({ connectionString: url.href, max: 2 });
  pool.on('error', () => undefined);
});
afterEach(() => Promise.all(feeds.splice(0).map((feed) => feed.stop())));
afterAll(async () => {
  await pool.end();
  await dropDatabase(admin, name);
});

/** A process that listens: what it heard, and how often it may have missed something. */
async function listener() {
  const heard: string[] = [];
  const gaps: number[] = [];
  const feed = new DatabaseFeed(
    url.href,
    { events: (text) => heard.push(text), jobs: () => heard.push('a job') },
    () => gaps.push(Date.now()),
  );
  feeds.push(feed);
  await feed.start();
  return { heard, gaps };
}
const db = () => drizzle(pool) as unknown as Parameters<typeof announce>[0];
const LOG = '{"kind":"log"}';

describe('what one process tells', () => {
  test('is heard by all, once, in the order of the commits', async () => {
    const [one, other] = await Promise.all([listener(), listener()]);
    await announce(db(), { kind: 'log' }, { kind: 'sources' }, { kind: 'log' });
    await signal(db(), 'jobs');
    const all = [LOG, '{"kind":"sources"}', 'a job'];
    for (const { heard } of [one, other]) {
      await eventually(
        async () => heard,
        (texts) => texts.length === 3,
      );
      expect(heard).toEqual(all);
    }
  });

  test('in a transaction is heard when that is committed, and never when it is not', async () => {
    const { heard } = await listener();
    await db().transaction(async (tx) => {
      await announce(tx, { kind: 'log' });
      await signal(db(), 'jobs');
      await eventually(
        async () => heard,
        (texts) => texts.includes('a job'),
      );
      expect(heard).not.toContain(LOG);
    });
    await eventually(
      async () => heard,
      (texts) => texts.includes(LOG),
    );
    const spoilt = db().transaction(async (tx) => {
      await announce(tx, { kind: 'sources' });
      throw new Error('spoilt');
    });
    await expect(spoilt).rejects.toThrow('spoilt');
    await signal(db(), 'jobs');
    await eventually(
      async () => heard,
      (texts) => texts.filter((text) => text === 'a job').length === 2,
    );
    expect(heard).not.toContain('{"kind":"sources"}');
  });
});

test('a process whose connection was lost hears again, and knows that it may have missed something', async () => {
  const { heard, gaps } = await listener();
  await pool.query(
    `select pg_terminate_backend(pid) from pg_stat_activity where datname = $1 and query like 'listen%'`,
    [name],
  );
  await eventually(
    async () => gaps,
    (times) => times.length === 1,
  );
  await announce(db(), { kind: 'log' });
  await eventually(
    async () => heard,
    (texts) => texts.includes(LOG),
  );
  expect(gaps).toHaveLength(1);
});

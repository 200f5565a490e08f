import { afterAll, beforeAll, expect, jest, test } from '@jest/globals';
import { sql } from 'drizzle-orm';
import pg from 'pg';
import { startTestServer } from '../testing/testing.fixture.ts';
import { CONNECTIONS } from './database.ts';

let server: Awaited<ReturnType<typeof startTestServer>>;
beforeAll(async () => {
  server = await startTestServer({ works: false });
}, 60_000);
afterAll(() => server?.stop());

test('a connection that breaks within a transaction fails that transaction and nothing else', async () => {
  const { db } = server;
  const broken = db.transaction(async (tx) => {
    const { rows } = await tx.execute<{ pid: number }>(sql`select pg_backend_pid() as pid`);
    await db.execute(sql`select pg_terminate_backend(${rows[0]!.pid})`);
    // An error that nobody hears ends the process, and so this test, before the next answer.
    await tx.execute(sql`select 1`);
  });
  await expect(broken).rejects.toThrow();
  expect((await db.execute<{ one: number }>(sql`select 1 as one`)).rows).toEqual([{ one: 1 }]);
});

test('transactions that cannot begin leave their connections to others', async () => {
  const { db } = server;
  const { query } = pg.Client.prototype;
  const broken = jest.spyOn(pg.Client.prototype, 'query').mockImplementation(function (
    this: pg.Client,
    ...asked: unknown[]
  ) {
    const [what] = asked as [{ text?: string }];
    if (what?.text === 'begin') return Promise.reject(new Error('Connection terminated'));
    return (query as (...all: unknown[]) => unknown).apply(this, asked);
  } as typeof query);
  try {
    for (let nth = 0; nth <= CONNECTIONS.server.pool; nth++) {
      await expect(db.transaction((tx) => tx.execute(sql`select 1`))).rejects.toThrow('begin');
    }
  } finally {
    broken.mockRestore();
  }
  const { rows } = await db.transaction((tx) => tx.execute<{ one: number }>(sql`select 1 as one`));
  expect(rows).toEqual([{ one: 1 }]);
});

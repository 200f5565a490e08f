import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { sql } from 'drizzle-orm';
import { startTestServer } from '../testing.fixture.ts';

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

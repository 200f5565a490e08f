import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { sql } from 'drizzle-orm';
import { listFolderSources, listFolders } from '../db/sources.ts';
import { reportWorker } from '../db/workers.ts';
import { eventually, startTestServer } from '../testing/testing.fixture.ts';
import { QUEUES } from './queue.ts';
import { JobRunner } from './runner.ts';

let server: Awaited<ReturnType<typeof startTestServer>>;
let first: string;
let second: string;

beforeAll(async () => {
  // Nobody works here: jobs stay where they are put.
  server = await startTestServer({ works: false });
  const folders = await listFolders(server.db);
  const lists = await Promise.all(folders.map(({ id }) => listFolderSources(server.db, id)));
  [first, second] = lists.flat().map(({ id }) => id) as [string, string];
}, 60_000);
afterAll(() => server?.stop());
beforeEach(() => server.queue.clear());

const waiting = async () => (await server.queue.states()).waiting;
const asked = async (id: string) =>
  Number(
    (await server.db.execute(sql`select asked_number as n from sources where id = ${id}`)).rows[0]!
      .n,
  );

describe('a look that is asked for', () => {
  test('waits once, however often its source changes meanwhile', async () => {
    const before = await asked(first);
    for (let n = 0; n < 5; n++) await server.queue.askLook(first);
    await server.queue.askLook(second);
    expect(await waiting()).toBe(2);
    // Whoever looks just now knows that it was asked for again.
    expect(await asked(first)).toBeGreaterThanOrEqual(before + 5);
  });

  test('is asked for anew while one is being done', async () => {
    await server.queue.askLook(first);
    const job = await server.queue.fetch(QUEUES.look);
    expect(job).toMatchObject({ data: { sourceId: first } });
    expect(await server.queue.fetch(QUEUES.look)).toBeNull();
    await server.queue.askLook(first);
    await server.queue.askLook(first);
    expect(await server.queue.states()).toMatchObject({ waiting: 1, running: [{}] });
    await server.queue.complete(job!);
    expect(await server.queue.fetch(QUEUES.look)).toMatchObject({ data: { sourceId: first } });
  });

  test('is not swallowed by a usual one when the bytes do not matter', async () => {
    await server.queue.askLook(first);
    await server.queue.askLook(first, { isForced: true });
    const both = [await server.queue.fetch(QUEUES.look), await server.queue.fetch(QUEUES.look)];
    expect(both.map((job) => job!.data!.isForced ?? false).sort()).toEqual([false, true]);
  });

  test('by the place of its file is known by it, and nothing is asked where no file is known', async () => {
    const { rows } = await server.db.execute<{ folder_id: string; path: string }>(
      sql`select folder_id, path from sources where id = ${first}`,
    );
    const { folder_id: folder, path } = rows[0]!;
    expect(await server.queue.askLookAt(folder, path)).toBe(true);
    expect(await server.queue.askLookAt(folder, 'nowhere.csv')).toBe(false);
    expect(await server.queue.fetch(QUEUES.look)).toMatchObject({ data: { sourceId: first } });
    expect(await waiting()).toBe(0);
  });
});

test('a job that failed waits, says why and how often, and comes again', async () => {
  await server.queue.askLook(first);
  const job = (await server.queue.fetch(QUEUES.look))!;
  await server.queue.fail(job, 'the disk is full');
  const { retrying } = await server.queue.states();
  expect(retrying).toMatchObject([{ times: 1, reason: 'the disk is full' }]);
  expect(new Date(retrying[0]!.next).getTime()).toBeGreaterThan(Date.now() - 1_000);
  expect(await server.queue.isIdle()).toBe(false);
  const again = await eventually(
    () => server.queue.fetch(QUEUES.look),
    (next) => next !== null,
  );
  expect(again!.id).toBe(job.id);
  await server.queue.complete(again!);
  expect(await server.queue.isIdle()).toBe(true);
});

test('a job whose process never learnt that it has it comes again; one that is being done does not', async () => {
  const done: string[] = [];
  await server.queue.askLook(second);
  const held = (await server.queue.fetch(QUEUES.look))!;
  const elsewhere = { id: randomUUID(), host: 'elsewhere', pid: 1, kind: 'worker' as const };
  const isThere = () => reportWorker(server.db, { ...elsewhere, jobs: [held.id] });
  await isThere();
  await server.queue.askLook(first);
  const lost = (await server.queue.fetch(QUEUES.look))!;
  const look = async ({ id }: { id: string }) => void done.push(id);
  const idle = async () => undefined;
  const work = { look, note: idle, timetable: idle, align: idle, thin: idle };
  const runner = new JobRunner(server.db, server.queue, 'worker', work, 2);
  const beating = setInterval(() => void isThere(), 100);
  try {
    await runner.start();
    await eventually(
      async () => done.length,
      (length) => length > 0,
    );
    expect(done).toEqual([lost.id]);
    expect((await server.queue.states()).running).toHaveLength(1);
  } finally {
    clearInterval(beating);
    await runner.stop();
  }
});

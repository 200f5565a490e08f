import { readdir, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect, jest, test } from '@jest/globals';
import type { Tether } from '@tether/contract';
import { saveAsColleague, setCell } from '@tether/demo';
import { sql } from 'drizzle-orm';
import pg from 'pg';
import { CONNECTIONS } from '../db/database.ts';
import { eventually, startOwnCluster, startTestServer } from './testing.fixture.ts';

let cluster: Awaited<ReturnType<typeof startOwnCluster>>;
let server: Awaited<ReturnType<typeof startTestServer>>;
let ines: Awaited<ReturnType<(typeof server)['as']>>;
let documentId: string;

beforeAll(async () => {
  cluster = await startOwnCluster();
  server = await startTestServer({ cluster: cluster.url });
  ines = await server.as('ines');
  documentId = (await ines.get('/api/documents')).body[0].id;
}, 120_000);
afterAll(async () => {
  await server?.stop();
  await cluster?.stop();
}, 60_000);

const counts = () => join(server.sources, 'monitoring/planting-counts.xlsx');
async function countsTether(): Promise<Tether | undefined> {
  const { body, status } = await ines.get(`/api/documents/${documentId}/tethers`);
  // While the database is away there is no answer, and nothing worse.
  if (status !== 200) return undefined;
  return (body as Tether[]).find(({ name }) => name === 'Planting counts by plot');
}

test('the private database lets nobody in without its password, and its manager not over the network at all', async () => {
  const ask = async (change: (url: URL) => void) => {
    const url = new URL(cluster.url);
    change(url);
    const client = new pg.Client({ connectionString: url.href });
    try {
      await client.connect();
      const { rows } = await client.query(
        'select rolsuper, rolcreaterole, rolreplication from pg_roles where rolname = current_user',
      );
      return rows[0];
    } catch (error) {
      return (error as { code?: string }).code ?? (error as Error).message;
    } finally {
      await client.end().catch(() => undefined);
    }
  };
  // What the product works as is no superuser.
  expect(await ask(() => undefined)).toEqual({
    rolsuper: false,
    rolcreaterole: false,
    rolreplication: false,
  });
  for (const user of ['tether_app', 'tether', 'postgres']) {
    for (const password of ['', 'tether', 'wrong']) {
      const answer = await ask((url) => {
        url.username = user;
        url.password = password;
      });
      expect(typeof answer).toBe('string');
    }
  }
  // The socket is for the account of the database alone.
  const [file] = (await readdir(cluster.sockets)).filter((name) => /^\.s\.PGSQL\.\d+$/.test(name));
  expect((await stat(join(cluster.sockets, file!))).mode & 0o777).toBe(0o700);
  const kept = fileURLToPath(new URL('../../../.run/crashing-cluster.password', import.meta.url));
  expect((await stat(kept)).mode & 0o777).toBe(0o600);
});

test('there is room in it for a server and four workers', async () => {
  const client = new pg.Client({ connectionString: cluster.url });
  await client.connect();
  const { rows } = await client.query(
    "select current_setting('max_connections')::int - current_setting('superuser_reserved_connections')::int as room",
  );
  await client.end();
  // Each has one for its locks and one for the feed of events besides.
  const of = ({ pool, queue }: { pool: number; queue: number }) => pool + queue + 2;
  expect(of(CONNECTIONS.server) + 4 * of(CONNECTIONS.worker)).toBeLessThan(rows[0].room);
});

test('numbers that were given are not given again after a crash', async () => {
  const next = async () => {
    const { rows } = await server.db.execute<{ number: string }>(
      sql`select nextval('reading_numbers') as number`,
    );
    return Number(rows[0]!.number);
  };
  const before = await next();
  await cluster.crash();
  const after = await eventually(
    () => next().catch(() => 0),
    (number) => number > 0,
  );
  expect(after).toBeGreaterThan(before);
});

test('a database that crashes and comes back is worked with again, and nothing is half done', async () => {
  await ines
    .patch(`/api/documents/${documentId}`)
    .send({ mode: { kind: 'automatic' } })
    .expect(200);
  const published = jest.spyOn(server.events, 'publish');
  for (let round = 1; round <= 2; round++) {
    // One save just before, one while it is away, one as soon as it is back.
    await saveAsColleague(counts(), [setCell('Counts', 'D8', 100 + round)]);
    const crash = cluster.crash();
    await saveAsColleague(counts(), [setCell('Counts', 'D9', 200 + round)]);
    await crash;
    await saveAsColleague(counts(), [setCell('Counts', 'D10', 300 + round)]);
    const shown = async () => {
      const tether = await countsTether();
      if (tether?.standing !== 'in step') return null;
      const { cells } = (await ines.get(`/api/snapshots/${tether.base}`)).body;
      return [8, 9, 10].map(
        (row) =>
          cells.find(
            (cell: { row: number; column: number }) => cell.row === row && cell.column === 4,
          )?.value,
      );
    };
    await eventually(
      shown,
      (values) => values?.join() === [100 + round, 200 + round, 300 + round].join(),
      30_000,
    );
  }
  // Screens are told to look anew: what happened meanwhile was said to nobody.
  expect(published.mock.calls.filter(([{ kind }]) => kind === 'resync').length).toBeGreaterThan(0);
  await server.keeper.idle();
  expect((await ines.get('/api/jobs')).body).toMatchObject({
    running: [],
    waiting: 0,
    retrying: [],
  });
}, 120_000);

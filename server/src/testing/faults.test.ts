import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import type { JobStates, LogEntry, RefreshResponse, SourceFolder, Tether } from '@tether/contract';
import type { Cell } from '@tether/core';
import { DEMO_PASSWORD, saveAsColleague, setCell } from '@tether/demo';
import { sql } from 'drizzle-orm';
import { findPacked } from '../db/snapshots.ts';
import { unpackSnapshot } from '../storage/packed.ts';
import { eventually, startTestServer } from './testing.fixture.ts';

type TestServer = Awaited<ReturnType<typeof startTestServer>>;
let server: TestServer;
let ines: Awaited<ReturnType<TestServer['as']>>;
let documentId: string;

async function begin(options?: { works: boolean }) {
  server = await startTestServer(options);
  ines = await server.as('ines');
  documentId = (await ines.get('/api/documents')).body[0].id;
}
afterEach(async () => {
  await server?.stop();
});

/** As `npm start` starts it; `post` speaks to it as Ines Fallow. */
async function startServer() {
  const [started, said] = await server.startProcess([], /^listening \d+$/);
  const api = `http://127.0.0.1:${said.split(' ')[1]}/api`;
  const headers = { 'content-type': 'application/json' };
  const signIn = await fetch(`${api}/sign-in`, {
    method: 'POST',
    headers,
    body: JSON.stringify({ signInName: 'ines', password: DEMO_PASSWORD }),
  });
  const cookie = signIn.headers.get('set-cookie')!.split(';')[0]!;
  const post = (path: string, body: unknown) =>
    fetch(api + path, {
      method: 'POST',
      headers: { ...headers, cookie },
      body: JSON.stringify(body),
    });
  return { started, post };
}

const counts = () => join(server.sources, 'monitoring/planting-counts.xlsx');
const tethers = async (): Promise<Tether[]> =>
  (await ines.get(`/api/documents/${documentId}/tethers`)).body;
const countsTether = async () =>
  (await tethers()).find(({ name }) => name === 'Planting counts by plot')!;
const log = async (): Promise<LogEntry[]> => (await ines.get('/api/log')).body.entries;
const automatic = () =>
  ines
    .patch(`/api/documents/${documentId}`)
    .send({ mode: { kind: 'automatic' } })
    .expect(200);
const jobs = async (): Promise<JobStates> => (await ines.get('/api/jobs')).body;
/** Breaks every connection to the database, as a restart of it does. */
const breakConnections = () =>
  server.db
    .execute(
      sql`select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()`,
    )
    .catch(() => undefined);

/** Whoever changes the tether waits until it is released: they stand in the middle of their own transaction. */
async function holdUp(id: string): Promise<() => Promise<void>> {
  let release = () => {};
  const released = new Promise<void>((resolve) => {
    release = resolve;
  });
  let done: Promise<void> = Promise.resolve();
  await new Promise<void>((resolve) => {
    done = server.db.transaction(async (tx) => {
      await tx.execute(sql`select 1 from tethers where id = ${id} for update`);
      resolve();
      await released;
    });
  });
  return () => {
    release();
    return done;
  };
}
/** How many transactions of other processes wait for a lock. */
const waiting = async () =>
  Number(
    (
      await server.db.execute(
        sql`select count(*) as n from pg_stat_activity where datname = current_database() and wait_event_type = 'Lock'`,
      )
    ).rows[0]!.n,
  );

describe('with this process alone', () => {
  beforeEach(() => begin(), 60_000);

  test('two people who take the same refresh take it once', async () => {
    const tam = await server.as('tam');
    await saveAsColleague(counts(), [setCell('Counts', 'D8', 104)]);
    const { id, pending } = await eventually(countsTether, ({ standing }) => standing === 'behind');
    const ask = { tethers: [{ id, seen: pending }] };
    const answers: RefreshResponse[] = (
      await Promise.all([
        ines.post('/api/tethers/refresh').send(ask),
        tam.post('/api/tethers/refresh').send(ask),
      ])
    ).map(({ body }) => body);
    expect(answers.flatMap(({ refreshed }) => refreshed)).toEqual([id]);
    expect(answers.flatMap(({ refused }) => refused.map(({ fault }) => fault.code))).toEqual([
      'nothing-to-refresh',
    ]);
    expect((await log()).filter(({ kind }) => kind === 'refreshed')).toHaveLength(1);
  });

  test('a source that is replaced again and again while it is read is taken in whole states only', async () => {
    await automatic();
    // Both cells are saved together: no state may have one of the new and one of the old.
    for (let value = 1; value <= 8; value++) {
      await saveAsColleague(counts(), [
        setCell('Counts', 'D8', value),
        setCell('Counts', 'D9', value),
      ]);
    }
    await eventually(countsTether, ({ standing, base }) => standing === 'in step' && base !== '');
    await server.keeper.idle();
    const { id } = await countsTether();
    const states = (await ines.get(`/api/tethers/${id}/history`)).body as { snapshot: string }[];
    const contents = await findPacked(
      server.db,
      states.map(({ snapshot }) => snapshot),
    );
    const pairs = states.map(({ snapshot }) => {
      const { cells } = unpackSnapshot(contents.get(snapshot)!);
      const at = (row: number) =>
        cells.find((cell: Cell) => cell.row === row && cell.column === 4)?.value;
      return [at(8), at(9)];
    });
    expect(pairs[0]).toEqual([8, 8]);
    for (const [one, other] of pairs.slice(0, -1)) expect(one).toBe(other);
  });

  test('when the database breaks all connections, the objects come to stand as their sources', async () => {
    await automatic();
    await breakConnections();
    await saveAsColleague(counts(), [setCell('Counts', 'D8', 104)]);
    await breakConnections();
    const taken = await eventually(
      async () => (await server.db.execute(sql`select refreshed_how from tethers`)).rows,
      (rows) => rows.some(({ refreshed_how: how }) => how === 'automatically'),
      20_000,
    );
    expect(taken).toHaveLength(2);
    await server.keeper.idle();
    expect(await countsTether()).toMatchObject({ standing: 'in step' });
    expect((await log()).filter(({ kind }) => kind === 'refreshed')).toHaveLength(1);
  });

  test('a job that fails is tried again, and says so meanwhile', async () => {
    await automatic();
    // A table that refuses to be written: what a full disk of the database looks like.
    await server.db.execute(
      sql`alter table log_entries add constraint full_disk check (kind <> 'refreshed') not valid`,
    );
    await saveAsColleague(counts(), [setCell('Counts', 'D8', 104)]);
    const states = await eventually(jobs, ({ retrying }) => retrying.length > 0);
    expect(states.retrying[0]).toMatchObject({ path: 'planting-counts.xlsx' });
    expect(await countsTether()).toMatchObject({ standing: 'in step', refreshedHow: 'by hand' });
    await server.db.execute(sql`alter table log_entries drop constraint full_disk`);
    await eventually(countsTether, ({ refreshedHow }) => refreshedHow === 'automatically', 20_000);
    await eventually(
      jobs,
      ({ retrying, waiting, running }) => retrying.length + waiting + running.length === 0,
    );
  });
});

describe('with workers', () => {
  beforeEach(() => begin({ works: false }), 60_000);

  test('they share the work, and each change is taken once', async () => {
    await Promise.all([server.startWorker(), server.startWorker()]);
    await automatic();
    expect(
      (await eventually(jobs, ({ workers: known }) => known.length === 2)).workers,
    ).toMatchObject([{ kind: 'worker' }, { kind: 'worker' }]);
    await saveAsColleague(counts(), [setCell('Counts', 'D8', 104)]);
    await saveAsColleague(join(server.sources, 'works/boardwalk-piles.xlsx'), [
      setCell('Piles', 'E5', 2.5),
    ]);
    await eventually(
      tethers,
      (all) => all.every(({ refreshedHow }) => refreshedHow === 'automatically'),
      20_000,
    );
    await server.keeper.idle();
    expect((await log()).filter(({ kind }) => kind === 'refreshed')).toHaveLength(2);
  });

  test('a server that is killed in the middle of a refresh by hand leaves the old, and the next one takes it', async () => {
    const first = await startServer();
    await saveAsColleague(counts(), [setCell('Counts', 'D8', 104)]);
    const behind = await eventually(countsTether, ({ standing }) => standing === 'behind', 20_000);
    const ask = { tethers: [{ id: behind.id, seen: behind.pending }] };
    const release = await holdUp(behind.id);
    const asked = first.post('/tethers/refresh', ask).catch(() => null);
    await eventually(waiting, (count) => count > 0, 20_000);
    first.started.kill('SIGKILL');
    expect(await asked).toBeNull();
    await release();
    // The database finds out that nobody is at the other end before it would commit.
    await eventually(waiting, (count) => count === 0, 20_000);
    expect(await countsTether()).toMatchObject({ standing: 'behind', base: behind.base });
    expect((await log()).filter(({ kind }) => kind === 'refreshed')).toHaveLength(0);
    const second = await startServer();
    expect(await (await second.post('/tethers/refresh', ask)).json()).toMatchObject({
      refreshed: [behind.id],
    });
    expect(await countsTether()).toMatchObject({ standing: 'in step', base: behind.pending });
  });

  test('one that is killed in the middle of a refresh leaves old or new, and another goes on', async () => {
    const first = await server.startWorker();
    await automatic();
    const { id, base } = await countsTether();
    const release = await holdUp(id);
    await saveAsColleague(counts(), [setCell('Counts', 'D8', 104)]);
    await eventually(jobs, ({ running }) => running.length === 1, 20_000);
    first.kill('SIGKILL');
    await release();
    expect((await countsTether()).base).toBe(base);
    await server.startWorker();
    await eventually(countsTether, ({ refreshedHow }) => refreshedHow === 'automatically', 30_000);
    await eventually(
      jobs,
      (states) => states.running.length + states.waiting + states.retrying.length === 0,
      30_000,
    );
    expect((await jobs()).workers).toHaveLength(1);
    expect((await log()).filter(({ kind }) => kind === 'refreshed')).toHaveLength(1);
    const folders = (await ines.get('/api/sources')).body as SourceFolder[];
    expect(
      folders.flatMap(({ sources }) => sources).every(({ state }) => state === 'present'),
    ).toBe(true);
  });
});

import { type ChildProcess, spawn } from 'node:child_process';
import { cp, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';
import { afterAll } from '@jest/globals';
import { DEMO_PASSWORD } from '@tether/demo';
import pg from 'pg';
import supertest from 'supertest';
import { buildApp } from '../app.ts';
import { connectDatabase } from '../db/database.ts';
import { loadDemoOnce } from '../demo/load.ts';
import { Engine } from '../engine.ts';
import { startPrinter } from '../outputs/printer.ts';
import { startWorkThreads, stopWorkThreads, type WorkThreads } from '../work-threads.ts';

/** The demo, loaded once in a test file and cluster, and copied for every server in it. */
const loaded = new Map<string, ReturnType<typeof loadOnce>>();
let servers = 0;

/** The threads that all servers of a test file work in. They start when there is something to do in them. */
let threads: WorkThreads | null = null;
export function testThreads(): WorkThreads {
  threads ??= startWorkThreads(join(tmpdir(), `tether-backups-${process.pid}`));
  return threads;
}
afterAll(async () => {
  if (threads) await stopWorkThreads(threads);
  threads = null;
  await rm(join(tmpdir(), `tether-backups-${process.pid}`), { recursive: true, force: true });
  for (const demo of loaded.values()) {
    await rm((await demo).sources, { recursive: true, force: true });
  }
});

function adminUrl(): string {
  const admin = process.env.TEST_DATABASE_URL;
  if (!admin) throw new Error('These tests need a database: run them with npm test.');
  return admin;
}

function urlOf(cluster: string, database: string): string {
  const url = new URL(cluster);
  url.pathname = database;
  return url.href;
}

export const MIGRATIONS = fileURLToPath(new URL('../../migrations', import.meta.url));

/** A PostgreSQL of the test's own, which it may let crash. Made by the same tool as that of all tests. */
export async function startOwnCluster(): Promise<{
  url: string;
  sockets: string;
  stop(): Promise<void>;
  crash(): Promise<void>;
}> {
  const { startCluster } = await import(
    new URL('../../../tools/setup/cluster.mjs', import.meta.url).href
  );
  return startCluster('crashing-cluster');
}

async function loadOnce(cluster: string): Promise<{ database: string; sources: string }> {
  const database = `demo_${process.pid}_${Date.now()}`;
  await query(cluster, `create database ${database}`);
  const url = urlOf(cluster, database);
  const sources = await mkdtemp(join(tmpdir(), 'tether-demo-'));
  const engine = new Engine(await connectDatabase(url, MIGRATIONS), url, 'server', testThreads());
  await loadDemoOnce(engine, sources, 'short');
  await engine.start({ watches: false });
  await engine.keeper.start();
  await engine.keeper.idle();
  await engine.stop();
  return { database, sources };
}

/**
 * Writes the numbers that sequences stand at into the database's own log. A database that was made from another one takes
 * its sequences over with numbers reserved that its log knows nothing of: after a crash they would go back, and numbers
 * come twice. One that was not made from another has its log from the beginning.
 */
const NOTED_SEQUENCES = `
  select setval(format('%I.%I', schemaname, sequencename)::regclass, last_value)
  from pg_sequences where last_value is not null`;

/** A server of its own for a test: own database in the test cluster, own copy of the demo's sources. */
export async function startTestServer({ works = true, cluster = adminUrl() } = {}) {
  const loading = loaded.get(cluster) ?? loadOnce(cluster);
  loaded.set(cluster, loading);
  const demo = await loading;
  const name = `test_${process.pid}_${Date.now()}_${servers++}`;
  await query(cluster, `create database ${name} template ${demo.database}`);
  const url = urlOf(cluster, name);
  const sources = await mkdtemp(join(tmpdir(), 'tether-sources-'));
  await cp(demo.sources, sources, { recursive: true, preserveTimestamps: true });
  await query(url, 'update source_folders set root = replace(root, $1, $2)', [
    demo.sources,
    sources,
  ]);
  await query(url, NOTED_SEQUENCES);
  const database = await connectDatabase(url, MIGRATIONS);
  const { db } = database;
  const engine = new Engine(database, url, 'server', testThreads());
  const { comparer, events, writing, reader, readings, keeper, locks, queue, writer } = engine;
  await engine.start({ watches: false, works });
  if (works) {
    await keeper.start();
    await keeper.idle();
  }
  const services = {
    db,
    comparer,
    writer,
    reader,
    readings,
    keeper,
    events,
    writing,
    locks,
    queue,
    roots: [sources],
    printer: startPrinter(null),
    hasDemo: true,
    office: { sources, kept: `${sources}-office` },
  };
  const app = buildApp(services, null);
  const processes: ChildProcess[] = [];
  const startProcess = async (args: string[], isThere: RegExp): Promise<[ChildProcess, string]> => {
    const main = fileURLToPath(new URL('../../dist/main.js', import.meta.url));
    const started = spawn(process.execPath, [main, ...args], {
      env: {
        ...process.env,
        DATABASE_URL: url,
        MIGRATIONS,
        TETHER_SOURCES: sources,
        TETHER_LOST_AFTER: '2',
      },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    processes.push(started);
    const said = await new Promise<string>((resolve, reject) => {
      createInterface({ input: started.stdout! }).on(
        'line',
        (line) => isThere.test(line) && resolve(line),
      );
      started.on('exit', () => reject(new Error('The process ended.')));
    });
    return [started, said];
  };
  return {
    ...services,
    app,
    sources,
    url,
    /** Another process over the same database and folders; resolves with the line by which it says that it is there. */
    startProcess,
    /** One as `npm run worker` starts it. */
    startWorker: async () => (await startProcess(['--worker'], /^working$/))[0],
    /** A client that is signed in. */
    async as(signInName: string) {
      const agent = supertest.agent(app);
      await agent.post('/api/sign-in').send({ signInName, password: DEMO_PASSWORD }).expect(200);
      return agent;
    },
    async stop() {
      for (const each of processes) each.kill('SIGKILL');
      await engine.stop();
      await dropDatabase(cluster, name);
      await rm(sources, { recursive: true, force: true });
    },
  };
}

/** One statement over a connection of its own, which is closed also when the statement fails. */
export async function query(url: string, sql: string, values: unknown[] = []): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    await client.query(sql, values);
  } finally {
    await client.end();
  }
}

/**
 * Drops a database with whatever connections are left of ours. Not `with (force)`: it also ends the database's own
 * cleaning process, and our role may not, so that it fails whenever that happens to be at work. A plain drop waits
 * for it.
 */
export async function dropDatabase(cluster: string, name: string): Promise<void> {
  const ours =
    'select pg_terminate_backend(pid) from pg_stat_activity where datname = $1 and usename = current_user';
  await query(cluster, ours, [name]);
  await query(cluster, `drop database ${name}`);
}

/**
 * Asks until the answer is right, less and less often, so that asking takes nothing from what is waited for; fails with the last
 * answer after `limit` milliseconds.
 */
export async function eventually<T>(
  ask: () => Promise<T>,
  isRight: (answer: T) => boolean,
  limit = 60_000,
): Promise<T> {
  const began = Date.now();
  for (;;) {
    const answer = await ask();
    if (isRight(answer)) return answer;
    const waited = Date.now() - began;
    if (waited > limit) throw new Error(`It did not come: ${JSON.stringify(answer)}`);
    await new Promise((resolve) => setTimeout(resolve, 25 + Math.min(225, waited / 20)));
  }
}

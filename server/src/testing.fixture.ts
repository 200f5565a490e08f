import { rmSync } from 'node:fs';
import { cp, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { DEMO_PASSWORD } from '@tether/demo';
import pg from 'pg';
import supertest from 'supertest';
import { buildApp } from './app.ts';
import { connectDatabase } from './db/database.ts';
import { loadDemoOnce } from './demo/load.ts';
import { Engine } from './engine.ts';

/** The demo, loaded once in a test file and copied for every server in it. */
let loaded: Promise<{ database: string; sources: string }> | null = null;
let servers = 0;

function adminUrl(): string {
  const admin = process.env.TEST_DATABASE_URL;
  if (!admin) throw new Error('These tests need a database: run them with npm test.');
  return admin;
}

function urlOf(database: string): string {
  const url = new URL(adminUrl());
  url.pathname = database;
  return url.href;
}

const MIGRATIONS = fileURLToPath(new URL('../migrations', import.meta.url));

async function loadOnce(): Promise<{ database: string; sources: string }> {
  const database = `demo_${process.pid}_${Date.now()}`;
  await query(adminUrl(), `create database ${database}`);
  const sources = await mkdtemp(join(tmpdir(), 'tether-demo-'));
  process.once('exit', () => rmSync(sources, { recursive: true, force: true }));
  const engine = new Engine(
    await connectDatabase(urlOf(database), MIGRATIONS),
    urlOf(database),
    'server',
  );
  await loadDemoOnce({ db: engine.db, locks: engine.locks }, sources, 'short');
  await engine.start({ watches: false });
  await engine.keeper.start();
  await engine.keeper.idle();
  await engine.stop();
  return { database, sources };
}

/** A server of its own for a test: own database in the test cluster, own copy of the demo's sources. */
export async function startTestServer({ works = true } = {}) {
  loaded ??= loadOnce();
  const demo = await loaded;
  const name = `test_${process.pid}_${Date.now()}_${servers++}`;
  await query(adminUrl(), `create database ${name} template ${demo.database}`);
  const url = urlOf(name);
  const sources = await mkdtemp(join(tmpdir(), 'tether-sources-'));
  await cp(demo.sources, sources, { recursive: true, preserveTimestamps: true });
  await query(url, 'update source_folders set root = replace(root, $1, $2)', [
    demo.sources,
    sources,
  ]);
  const database = await connectDatabase(url, MIGRATIONS);
  const { db } = database;
  const engine = new Engine(database, url, 'server');
  const { events, reader, keeper, locks, queue } = engine;
  await engine.start({ watches: false, works });
  if (works) {
    await keeper.start();
    await keeper.idle();
  }
  const services = {
    db,
    reader,
    keeper,
    events,
    locks,
    queue,
    roots: [sources],
    chromium: null,
    hasDemo: true,
  };
  const app = buildApp(services, null);
  return {
    ...services,
    app,
    sources,
    url,
    /** A client that is signed in. */
    async as(signInName: string) {
      const agent = supertest.agent(app);
      await agent.post('/api/sign-in').send({ signInName, password: DEMO_PASSWORD }).expect(200);
      return agent;
    },
    async stop() {
      await engine.stop();
      await query(adminUrl(), `drop database ${name} with (force)`);
      await rm(sources, { recursive: true, force: true });
    },
  };
}

async function query(url: string, sql: string, values: unknown[] = []): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query(sql, values);
  await client.end();
}

/** Asks until the answer is right; fails with the last answer after `limit` milliseconds. */
export async function eventually<T>(
  ask: () => Promise<T>,
  isRight: (answer: T) => boolean,
  limit = 10_000,
): Promise<T> {
  const deadline = Date.now() + limit;
  for (;;) {
    const answer = await ask();
    if (isRight(answer)) return answer;
    if (Date.now() > deadline) throw new Error(`It did not come: ${JSON.stringify(answer)}`);
    await new Promise((resolve) => setTimeout(resolve, 25));
  }
}

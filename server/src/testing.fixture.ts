import { mkdtemp, rm } from 'node:fs/promises';
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

/** A server of its own for a test file: own database in the test cluster, own copy of the demo's sources. */
export async function startTestServer() {
  const admin = process.env.TEST_DATABASE_URL;
  if (!admin) throw new Error('These tests need a database: run them with npm test.');
  const name = `test_${process.pid}_${Date.now()}`;
  await query(admin, `create database ${name}`);
  const url = new URL(admin);
  url.pathname = name;
  const sources = await mkdtemp(join(tmpdir(), 'tether-sources-'));
  const migrations = fileURLToPath(new URL('../migrations', import.meta.url));
  const database = await connectDatabase(url.href, migrations);
  const { db } = database;
  const engine = new Engine(database, url.href, 'server');
  const { events, reader, keeper, locks, queue } = engine;
  await loadDemoOnce({ db, locks }, sources, 'short');
  await engine.start({ watches: false });
  await keeper.start();
  await keeper.idle();
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
    url: url.href,
    /** A client that is signed in. */
    async as(signInName: string) {
      const agent = supertest.agent(app);
      await agent.post('/api/sign-in').send({ signInName, password: DEMO_PASSWORD }).expect(200);
      return agent;
    },
    async stop() {
      await engine.stop();
      await query(admin, `drop database ${name} with (force)`);
      await rm(sources, { recursive: true, force: true });
    },
  };
}

async function query(url: string, sql: string): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query(sql);
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

import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { delimiter, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import pg from 'pg';
import { buildApp } from './app.ts';
import { connectDatabase } from './db/database.ts';
import { RESET_CHANNEL } from './db/reset.ts';
import { loadDemoOnce, resetDemo } from './demo/load.ts';
import { EventHub } from './events/hub.ts';
import { SourceKeeper } from './sources/keeper.ts';
import { startReader } from './sources/reader.ts';

/**
 * The server process. Settings come from the environment, set by the start command: DATABASE_URL, MIGRATIONS,
 * TETHER_SOURCES, TETHER_ROOTS (places below which source folders may lie, with `:` between; without it that of
 * TETHER_SOURCES), PORT (0 for any), WEB_ROOT, CHROMIUM (what prints; without it nothing is printed here),
 * DEMO_REPORT (`short` for a demo whose report has two tables and nothing else). With `--reset-demo` it restores the demo and ends.
 * When it serves, it prints one line `listening <port>`.
 */
const { values } = parseArgs({ options: { 'reset-demo': { type: 'boolean' } } });
const env = (name: string): string => {
  const value = process.env[name];
  if (value === undefined) throw new Error(`${name} is not set: start the server with npm start.`);
  return value;
};

const databaseUrl = env('DATABASE_URL');
const sourcesRoot = env('TETHER_SOURCES');
const database = await connectDatabase(databaseUrl, env('MIGRATIONS'));

if (values['reset-demo']) {
  await resetDemo(database.db, sourcesRoot);
  await database.close();
} else await serve();

function rootsFrom(setting: string | undefined): string[] {
  const given = (setting ?? '').split(delimiter).filter((root) => root !== '');
  return (given.length > 0 ? given : [sourcesRoot]).map((root) => resolve(root));
}

async function serve(): Promise<void> {
  const { db } = database;
  const size = process.env.DEMO_REPORT === 'short' ? 'short' : 'whole';
  if (await loadDemoOnce(db, sourcesRoot, size)) console.log('The demo is loaded.');
  const events = new EventHub();
  const reader = startReader();
  let keeper = new SourceKeeper(db, reader, events);
  const services = {
    db,
    reader,
    events,
    roots: rootsFrom(process.env.TETHER_ROOTS),
    chromium: process.env.CHROMIUM || null,
    hasDemo: true,
    get keeper() {
      return keeper;
    },
  };
  const server = createServer(buildApp(services, process.env.WEB_ROOT ?? null));
  server.listen(Number(process.env.PORT ?? 0), '127.0.0.1', () => {
    console.log(`listening ${(server.address() as AddressInfo).port}`);
  });
  server.on('error', (error) => {
    console.error(`The server cannot listen: ${error.message}`);
    process.exit(1);
  });
  const stopListening = await listenForReset(async () => {
    await keeper.stop();
    keeper = new SourceKeeper(db, reader, events);
    await keeper.start();
    events.publish({ kind: 'resync' });
  });
  // Serving does not wait for the first look through the folders: what is known is shown meanwhile.
  keeper.start().catch((error: unknown) => console.error('Watching failed:', error));

  let isStopping = false;
  const stop = async () => {
    if (isStopping) return;
    isStopping = true;
    events.close();
    server.close();
    server.closeAllConnections();
    await keeper.stop();
    await reader.close();
    await stopListening();
    await database.close();
    process.exit(0);
  };
  process.on('SIGTERM', () => void stop());
  process.on('SIGINT', () => void stop());
}

/** Hears when the demo was reset by another process. Gives the way to stop hearing. */
async function listenForReset(onReset: () => Promise<void>): Promise<() => Promise<void>> {
  let client: pg.Client | null = null;
  let isStopped = false;
  const connect = async () => {
    client = new pg.Client({ connectionString: databaseUrl });
    client.on('notification', () => {
      onReset().catch((error: unknown) => console.error('After the reset:', error));
    });
    client.on('error', () => {
      client = null;
      if (!isStopped) setTimeout(() => connect().catch(() => undefined), 1000).unref();
    });
    await client.connect();
    await client.query(`listen ${RESET_CHANNEL}`);
  };
  await connect();
  return async () => {
    isStopped = true;
    await client?.end();
  };
}

import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { delimiter, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { officeOf } from '@tether/demo';
import { writingSockets } from './api/writing.ts';
import { buildApp } from './app.ts';
import { connectDatabase } from './db/database.ts';
import { listOwn, loadDemoOnce, resetDemo } from './demo/load.ts';
import { Engine } from './engine.ts';
import { Locks } from './locks/locks.ts';
import { startPrinter } from './outputs/printer.ts';
import { surviveLostConnections } from './survive.ts';
import { tell } from './tell.ts';

/**
 * The server process. Settings come from the environment, set by the start command: DATABASE_URL, MIGRATIONS,
 * TETHER_SOURCES, TETHER_ROOTS (places below which source folders may lie, with `:` between; without it that of
 * TETHER_SOURCES), PORT (0 for any), WEB_ROOT, CHROMIUM (what prints; without it nothing is printed here),
 * DEMO_REPORT (`short` for a demo whose report has two tables and nothing else). When it serves, it prints one line
 * `listening <port>`.
 *
 * TETHER_OFFICE is where the stand-in office keeps what it undoes; without it that is beside the sources.
 *
 * TETHER_JOBS=off leaves watching and reading to workers; TETHER_LOST_AFTER is the seconds after which a process that does
 * not say that it is there counts as gone (12).
 *
 * With `--worker` it serves nothing and does its share of the jobs, which other processes over the same database do too;
 * it prints `working`. With `--reset-demo` it restores the demo and ends; where
 * that would delete what people made themselves, it says what, and does it with `--yes` alone.
 */
const { values } = parseArgs({
  options: {
    'reset-demo': { type: 'boolean' },
    yes: { type: 'boolean' },
    worker: { type: 'boolean' },
  },
});
const env = (name: string): string => {
  const value = process.env[name];
  if (value === undefined) throw new Error(`${name} is not set: start the server with npm start.`);
  return value;
};

surviveLostConnections(process);
const databaseUrl = env('DATABASE_URL');
const database = await connectDatabase(
  databaseUrl,
  env('MIGRATIONS'),
  values.worker ? 'worker' : 'server',
);

if (values['reset-demo']) await reset();
else if (values.worker) await work();
else await serve();

async function reset(): Promise<void> {
  const own = values.yes ? [] : await listOwn(database.db);
  if (own.length > 0) {
    console.log(`own ${JSON.stringify(own)}`);
    await database.close();
    return;
  }
  const locks = new Locks(databaseUrl);
  await resetDemo({ db: database.db, locks }, env('TETHER_SOURCES'));
  await locks.close();
  await database.close();
}

async function work(): Promise<void> {
  const engine = new Engine(database, databaseUrl, 'worker');
  await engine.start();
  console.log('working');
  onStop(() => engine.stop());
}

async function serve(): Promise<void> {
  const { db } = database;
  const sourcesRoot = env('TETHER_SOURCES');
  const size = process.env.DEMO_REPORT === 'short' ? 'short' : 'whole';
  const engine = new Engine(database, databaseUrl, 'server');
  const { comparer, events, writing, reader, readings, keeper, locks, queue, writer } = engine;
  if (await loadDemoOnce({ db, locks }, sourcesRoot, size)) console.log('The demo is loaded.');
  const printer = startPrinter(process.env.CHROMIUM || null);
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
    roots: rootsFrom(process.env.TETHER_ROOTS, sourcesRoot),
    printer,
    hasDemo: true,
    office: officeOf(sourcesRoot),
  };
  // Serving does not wait for the first look through the folders: what is known is shown meanwhile.
  const works = process.env.TETHER_JOBS !== 'off';
  await engine.start({ works, watches: works });
  const server = createServer(buildApp(services, process.env.WEB_ROOT ?? null));
  server.on('upgrade', writingSockets(services));
  server.listen(Number(process.env.PORT ?? 0), '127.0.0.1', () => {
    console.log(`listening ${(server.address() as AddressInfo).port}`);
  });
  server.on('error', (error) => {
    console.error(`The server cannot listen: ${error.message}`);
    process.exit(1);
  });
  onStop(async () => {
    events.close();
    server.close();
    server.closeAllConnections();
    await printer.close();
    await engine.stop();
  });
}

function rootsFrom(setting: string | undefined, sourcesRoot: string): string[] {
  const given = (setting ?? '').split(delimiter).filter((root) => root !== '');
  return (given.length > 0 ? given : [sourcesRoot]).map((root) => resolve(root));
}

/** Ends the process in good order when it is told to. */
function onStop(end: () => Promise<void>): void {
  let isStopping = false;
  const stop = () => {
    if (isStopping) return;
    isStopping = true;
    end().then(
      () => process.exit(0),
      (error: unknown) => {
        tell('Stopping', error);
        process.exit(1);
      },
    );
  };
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
}

import { tmpdir } from 'node:os';
import { delimiter, join } from 'node:path';
import { parseArgs } from 'node:util';
import { connectDatabase } from './db/database.ts';
import { listOwn, resetDemo } from './demo/load.ts';
import { Engine } from './engine.ts';
import { Locks } from './locks/locks.ts';
import { startPrinter } from './outputs/printer.ts';
import { serve } from './serve.ts';
import { startReader } from './sources/reading/reader.ts';
import { surviveLostConnections } from './survive.ts';
import { tell } from './tell.ts';
import { startWorkThreads, stopWorkThreads } from './work-threads.ts';

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
const connect = (role: 'server' | 'worker') =>
  connectDatabase(env('DATABASE_URL'), env('MIGRATIONS'), role);
/** Where sources are kept as they were before something was written into them. */
const backups = () => process.env.TETHER_BACKUPS ?? join(tmpdir(), 'tether-backups');

if (values['reset-demo']) await reset();
else if (values.worker) await work();
else await listen();

async function reset(): Promise<void> {
  const database = await connect('server');
  const own = values.yes ? [] : await listOwn(database.db);
  if (own.length > 0) {
    console.log(`own ${JSON.stringify(own)}`);
    await database.close();
    return;
  }
  const locks = new Locks(env('DATABASE_URL'));
  const reader = startReader();
  await resetDemo({ db: database.db, locks, reader }, env('TETHER_SOURCES'));
  await reader.close();
  await locks.close();
  await database.close();
}

async function work(): Promise<void> {
  const threads = startWorkThreads(backups());
  const database = await connect('worker');
  const engine = new Engine(database, env('DATABASE_URL'), 'worker', threads);
  await engine.start();
  console.log('working');
  onStop(async () => {
    await engine.stop();
    await stopWorkThreads(threads);
  });
}

async function listen(): Promise<void> {
  const threads = startWorkThreads(backups());
  const printer = startPrinter(process.env.CHROMIUM || null);
  const served = await serve(
    {
      databaseUrl: env('DATABASE_URL'),
      migrations: env('MIGRATIONS'),
      sources: env('TETHER_SOURCES'),
      roots: (process.env.TETHER_ROOTS ?? '').split(delimiter).filter((root) => root !== ''),
      office: process.env.TETHER_OFFICE ?? null,
      demo: process.env.DEMO_REPORT === 'short' ? 'short' : 'whole',
      webRoot: process.env.WEB_ROOT ?? null,
      port: Number(process.env.PORT ?? 0),
      works: process.env.TETHER_JOBS !== 'off',
    },
    { threads, printer },
  ).catch((error: Error) => {
    tell('The server cannot start', error);
    process.exit(1);
  });
  console.log(`listening ${served.port}`);
  onStop(async () => {
    await printer.close();
    await served.stop();
    await stopWorkThreads(threads);
  });
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

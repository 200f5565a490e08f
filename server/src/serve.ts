import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { resolve } from 'node:path';
import { officeOf } from '@tether/demo';
import { writingSockets } from './api/writing.ts';
import { buildApp } from './app.ts';
import { connectDatabase } from './db/database.ts';
import { loadDemoOnce } from './demo/load.ts';
import { Engine } from './engine.ts';
import type { Printer } from './outputs/printer.ts';
import type { WorkThreads } from './work-threads.ts';

/** What a server is told about the place where it runs. */
export interface ServeSettings {
  /** Address of its database, and the folder of the migrations that bring it up to date. */
  databaseUrl: string;
  migrations: string;
  /** Where the demo's source folders lie. */
  sources: string;
  /** Places below which source folders may lie; with none, the place of `sources`. */
  roots: readonly string[];
  /** Where the stand-in office keeps what it undoes; null for a place beside the sources. */
  office: string | null;
  demo: 'short' | 'whole';
  /** The built web application; null where it is served by something else. */
  webRoot: string | null;
  /** 0 for any that is free. */
  port: number;
  /** Whether this process watches and reads too, or leaves that to workers. */
  works: boolean;
}

/** What several servers of one process may share: it takes long to start, and keeps nothing of what it worked on. */
export interface SharedParts {
  threads: WorkThreads;
  printer: Printer;
}

/** A server that listens. */
export interface Served {
  port: number;
  /** Ends it in good order. The shared parts go on. */
  stop(): Promise<void>;
}

/** Loads the demo where there is none yet, and serves. Fails where the port is taken or the database does not answer. */
export async function serve(
  settings: ServeSettings,
  { threads, printer }: SharedParts,
): Promise<Served> {
  const { databaseUrl, sources } = settings;
  const database = await connectDatabase(databaseUrl, settings.migrations, 'server');
  const { db } = database;
  const engine = new Engine(database, databaseUrl, 'server', threads);
  const { comparer, events, writing, reader, readings, keeper, locks, queue, writer } = engine;
  if (await loadDemoOnce({ db, locks, reader }, sources, settings.demo)) {
    console.log('The demo is loaded.');
  }
  const roots = settings.roots.length > 0 ? settings.roots : [sources];
  const services = {
    ...{ db, comparer, writer, reader, readings, keeper, events, writing, locks, queue, printer },
    roots: roots.map((root) => resolve(root)),
    hasDemo: true,
    office: officeOf(sources, settings.office),
  };
  // Serving does not wait for the first look through the folders: what is known is shown meanwhile.
  await engine.start({ works: settings.works, watches: settings.works });
  const server = createServer(buildApp(services, settings.webRoot));
  server.on('upgrade', writingSockets(services));
  await new Promise<void>((listening, failed) => {
    server.once('error', failed);
    server.listen(settings.port, '127.0.0.1', () => {
      // What goes wrong later is no part of starting: unheard, it ends the process, which says so.
      server.off('error', failed);
      listening();
    });
  });
  return {
    port: (server.address() as AddressInfo).port,
    async stop() {
      events.close();
      server.close();
      server.closeAllConnections();
      await engine.stop();
    },
  };
}

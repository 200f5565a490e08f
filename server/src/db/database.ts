import { drizzle, type NodePgDatabase, NodePgSession } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import type { PgDialect } from 'drizzle-orm/pg-core';
import pg from 'pg';
import { tell } from '../tell.ts';
import * as schema from './schema.ts';

/** The database, or a transaction in it: every query takes one, so that it can be part of a larger step. */
export type Database = NodePgDatabase<typeof schema>;

export interface DatabaseConnection {
  db: Database;
  pool: pg.Pool;
  close(): Promise<void>;
}

const MIGRATING = 7_335_100;

/**
 * Connections that a process takes at most: for what people and jobs ask, and for the queue itself; locks and the feed of
 * events take one each besides. The shipped database has room for a server and four workers (docs/machines.md).
 */
export const CONNECTIONS = {
  server: { pool: 20, queue: 8 },
  worker: { pool: 10, queue: 4 },
} as const;

/** Connects to the database at `url`; `migrationsFolder` holds its history. */
export async function connectDatabase(
  url: string,
  migrationsFolder: string,
  kind: keyof typeof CONNECTIONS = 'server',
): Promise<DatabaseConnection> {
  const pool = new pg.Pool({ connectionString: url, max: CONNECTIONS[kind].pool });
  // A connection that breaks while idle is replaced at the next query: that is no reason to stop the server.
  pool.on('error', (error) => tell('Database connection lost', error));
  // One that breaks within a transaction fails that transaction. It also says so by itself, to nobody but us: unheard, that
  // would end the process.
  pool.on('connect', (client) => client.on('error', () => undefined));
  const db = drizzle(pool, { schema, casing: 'snake_case' });
  db.transaction = transactionsOf(pool, db);
  // Processes that begin at the same time wait for the one that brings the tables up to date.
  const client = await pool.connect();
  try {
    await client.query('select pg_advisory_lock($1)', [MIGRATING]);
    await migrate(db, { migrationsFolder });
  } finally {
    await client.query('select pg_advisory_unlock($1)', [MIGRATING]).catch(() => undefined);
    client.release();
  }
  return { db, pool, close: () => pool.end() };
}

/**
 * Transactions of which each gives its connection back. The library keeps the connection of one that cannot even begin:
 * after as many as the pool has, everything would wait for ever.
 */
function transactionsOf(pool: pg.Pool, db: Database): Database['transaction'] {
  // Of the library's inner parts; the types do not tell of it.
  const { dialect } = db as unknown as { dialect: PgDialect };
  return async (work, config) => {
    const client = await pool.connect();
    try {
      return await new NodePgSession<typeof schema, never>(client, dialect, undefined).transaction(
        work as never,
        config,
      );
    } finally {
      client.release();
    }
  };
}

import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import * as schema from './schema.ts';

/** The database, or a transaction in it: every query takes one, so that it can be part of a larger step. */
export type Database = NodePgDatabase<typeof schema>;

export interface DatabaseConnection {
  db: Database;
  pool: pg.Pool;
  close(): Promise<void>;
}

/** Connects to the database at `url`; `migrationsFolder` holds its history. */
export async function connectDatabase(
  url: string,
  migrationsFolder: string,
): Promise<DatabaseConnection> {
  const pool = new pg.Pool({ connectionString: url, max: 10 });
  // A connection that breaks while idle is replaced at the next query: that is no reason to stop the server.
  pool.on('error', (error) => console.error(`Database connection lost: ${error.message}`));
  const db = drizzle(pool, { schema, casing: 'snake_case' });
  await migrate(db, { migrationsFolder });
  return { db, pool, close: () => pool.end() };
}

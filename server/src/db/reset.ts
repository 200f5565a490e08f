import { getTableName, sql } from 'drizzle-orm';
import type { Database } from './database.ts';
import * as schema from './schema.ts';

/** Empties every table. */
export async function emptyDatabase(db: Database): Promise<void> {
  const names = Object.values(schema).map((table) => sql.identifier(getTableName(table)));
  await db.execute(sql`truncate ${sql.join(names, sql`, `)} restart identity cascade`);
}

/** Whether nobody has an account yet: a database that no demo or person has used. */
export async function isEmptyDatabase(db: Database): Promise<boolean> {
  const [person] = await db.select({ id: schema.people.id }).from(schema.people).limit(1);
  return person === undefined;
}

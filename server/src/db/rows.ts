import { type SQL, sql } from 'drizzle-orm';
import type { AnyPgColumn, PgTable } from 'drizzle-orm/pg-core';
import type { Database } from './database.ts';

/**
 * Adds many rows as one parameter: a parameter for each of their values would keep the process from other work. All rows
 * have the same columns; what they leave out gets its default.
 */
export async function insertRows<T extends PgTable>(
  db: Database,
  table: T,
  rows: readonly T['$inferInsert'][],
): Promise<void> {
  if (rows.length === 0) return;
  const columns = sql.join(columnsOf(rows[0]!).map(sql.identifier), sql`, `);
  await db.execute(sql`
    insert into ${table} (${columns})
    select ${columns} from json_populate_recordset(null::${table}, ${asJson(rows)}::json)`);
}

/** Changes many rows, each known by its `id`, as one parameter. All of them have the same columns. */
export async function updateRows<T extends PgTable>(
  db: Database,
  table: T,
  rows: readonly (Partial<T['$inferInsert']> & { id: string })[],
): Promise<void> {
  if (rows.length === 0) return;
  const columns = columnsOf(rows[0]!).filter((name) => name !== 'id');
  const changes = sql.join(
    columns.map((name) => sql`${sql.identifier(name)} = given.${sql.identifier(name)}`),
    sql`, `,
  );
  await db.execute(sql`
    update ${table} known set ${changes}
    from json_populate_recordset(null::${table}, ${asJson(rows)}::json) given
    where known.id = given.id`);
}

/** That the column has one of these values, given as one parameter. */
export function isOneOf(column: AnyPgColumn | SQL, values: Iterable<string>): SQL {
  return sql`${column} = any(${sql.param([...values])})`;
}

function columnsOf(row: object): string[] {
  return Object.entries(row)
    .filter(([, value]) => value !== undefined)
    .map(([property]) => columnName(property));
}

function asJson(rows: readonly object[]): string {
  return JSON.stringify(
    rows.map((row) =>
      Object.fromEntries(Object.entries(row).map(([key, value]) => [columnName(key), value])),
    ),
  );
}

/** Columns have the names of their properties, written with underscores. */
function columnName(property: string): string {
  return property.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);
}

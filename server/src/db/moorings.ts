import { and, eq, inArray, type SQL, sql } from 'drizzle-orm';
import type { Database } from './database.ts';
import { documents, moorings, sources, tethers } from './schema.ts';

/** Notes that a name was put into a file. */
export async function insertMoorings(
  db: Database,
  planted: readonly { sourceId: string; name: string }[],
): Promise<void> {
  if (planted.length > 0) {
    await db
      .insert(moorings)
      .values([...planted])
      .onConflictDoNothing();
  }
}

/** Of a file's names those that are there no more. */
export async function deleteMoorings(
  db: Database,
  sourceId: string,
  names: readonly string[],
): Promise<void> {
  await db
    .delete(moorings)
    .where(and(eq(moorings.sourceId, sourceId), inArray(moorings.name, [...names])));
}

/**
 * Names in files that are there which no object holds on to any more. What was taken out of a text or deleted with its document
 * can come back: it holds on, unless `isFinal`.
 */
export async function listEndedMoorings(
  db: Database,
  { isFinal }: { isFinal: boolean },
): Promise<{ sourceId: string; names: string[] }[]> {
  const isLive: SQL = isFinal
    ? sql`${tethers.placed} and exists (
        select 1 from ${documents} d where d.id = ${tethers.documentId} and d.deleted_at is null)`
    : sql`true`;
  const { rows } = await db.execute<{ source_id: string; names: string[] }>(sql`
    select m.source_id, array_agg(m.name order by m.name) as names
    from ${moorings} m join ${sources} s on s.id = m.source_id and s.state = 'present'
    where not exists (
      select 1 from ${tethers} where ${tethers.sourceId} = m.source_id
        and ${tethers.reach} ->> 'mooring' = m.name and ${tethers.frozenAt} is null and ${isLive})
    group by m.source_id`);
  return rows.map((row) => ({ sourceId: row.source_id, names: row.names }));
}

/** Lets objects go from names that their file has no more: they are found by what they hold. */
export async function forgetMoorings(
  db: Database,
  sourceId: string,
  names: readonly string[],
): Promise<void> {
  await db
    .update(tethers)
    .set({ reach: sql`${tethers.reach} - 'mooring'` })
    .where(
      and(eq(tethers.sourceId, sourceId), inArray(sql`${tethers.reach} ->> 'mooring'`, [...names])),
    );
}

import type { TetherState } from '@tether/contract';
import { and, desc, eq, inArray, lt, sql } from 'drizzle-orm';
import type { Database } from './database.ts';
import { insertRows } from './rows.ts';
import { people, tetherLooks, tetherStates, tethers } from './schema.ts';

export type StateRow = typeof tetherStates.$inferSelect;

/** Adds states to the histories of objects. */
export async function insertStates(
  db: Database,
  states: (typeof tetherStates.$inferInsert)[],
): Promise<void> {
  await insertRows(db, tetherStates, states);
}

/** The states of an object, the newest first. */
export async function listStates(db: Database, tetherId: string): Promise<TetherState[]> {
  const rows = await db
    .select({ state: tetherStates, by: people.name })
    .from(tetherStates)
    .leftJoin(people, eq(people.id, tetherStates.personId))
    .where(eq(tetherStates.tetherId, tetherId))
    .orderBy(desc(tetherStates.id));
  return rows.map(({ state, by }, index) => ({
    id: state.id,
    snapshot: state.snapshot,
    at: state.at.toISOString(),
    by,
    how: state.how,
    refreshedHow: state.refreshedHow,
    summary: state.summary,
    isShown: index === 0,
  }));
}

/** One state of an object. */
export async function findState(
  db: Database,
  tetherId: string,
  id: number,
): Promise<StateRow | null> {
  const [row] = await db
    .select()
    .from(tetherStates)
    .where(and(eq(tetherStates.id, id), eq(tetherStates.tetherId, tetherId)));
  return row ?? null;
}

/** The states older than `before`, of every object that has such, for thinning out. */
export async function listOldStates(
  db: Database,
  before: Date,
): Promise<Pick<StateRow, 'id' | 'tetherId' | 'at'>[]> {
  const old = db
    .selectDistinct({ tetherId: tetherStates.tetherId })
    .from(tetherStates)
    .where(lt(tetherStates.at, before));
  return db
    .select({ id: tetherStates.id, tetherId: tetherStates.tetherId, at: tetherStates.at })
    .from(tetherStates)
    .where(inArray(tetherStates.tetherId, old));
}

/** Forgets states. */
export async function deleteStates(db: Database, ids: readonly number[]): Promise<void> {
  if (ids.length === 0) return;
  await db.delete(tetherStates).where(sql`${tetherStates.id} = any(${sql.param(ids)}::bigint[])`);
}

/** Records that a person looked at what objects show. */
export async function recordLooks(
  db: Database,
  personId: string,
  looks: readonly { id: string; base: string }[],
): Promise<void> {
  if (looks.length === 0) return;
  // Only what an object shows or showed can have been looked at.
  const shown = sql.join(
    looks.map(({ id, base }) => sql`(${id}::uuid, ${base}::text)`),
    sql`, `,
  );
  await db.execute(sql`
    insert into tether_looks (person_id, tether_id, snapshot)
    select ${personId}::uuid, v.id, v.base from (values ${shown}) as v (id, base)
    join tethers t on t.id = v.id
    where t.base = v.base or exists (
      select 1 from tether_states h where h.tether_id = v.id and h.snapshot = v.base)
    on conflict (person_id, tether_id) do update set snapshot = excluded.snapshot`);
}

/** For a person who opens a document: whatever they have not looked at yet begins with what is shown now. */
export async function beginLooks(
  db: Database,
  personId: string,
  documentId: string,
): Promise<void> {
  await db
    .insert(tetherLooks)
    .select(
      db
        .select({
          personId: sql`${personId}::uuid`.as('person_id'),
          tetherId: tethers.id,
          snapshot: tethers.base,
        })
        .from(tethers)
        .where(eq(tethers.documentId, documentId)),
    )
    .onConflictDoNothing();
}

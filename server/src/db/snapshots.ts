import { inArray, sql } from 'drizzle-orm';
import type { PackedSnapshot } from '../storage/packed.ts';
import type { Database } from './database.ts';
import { isOneOf } from './rows.ts';
import { snapshots } from './schema.ts';

/** Stores packed snapshots unless they are there already. */
export async function storePacked(
  db: Database,
  contents: readonly PackedSnapshot[],
): Promise<void> {
  // In one order, so that two who store the same never wait for each other.
  const rows = [...new Map(contents.map((content) => [content.hash, content])).values()].sort(
    (a, b) => (a.hash < b.hash ? -1 : 1),
  );
  if (rows.length === 0) return;
  const stored = await db
    .insert(snapshots)
    .select(
      sql`select * from unnest(
        ${sql.param(rows.map(({ hash }) => hash))}::text[],
        ${sql.param(rows.map(({ sheet }) => sheet))}::text[],
        ${sql.param(rows.map(({ area }) => JSON.stringify(area)))}::jsonb[],
        ${sql.param(rows.map(({ packed }) => Buffer.from(packed)))}::bytea[])`,
    )
    .onConflictDoNothing()
    .returning({ hash: snapshots.hash });
  const isNew = new Set(stored.map(({ hash }) => hash));
  const known = rows.filter(({ hash }) => !isNew.has(hash)).map(({ hash }) => hash);
  if (known.length === 0) return;
  // Touching what is there keeps it from being swept away before it is used (see `sweepSnapshots`).
  const touched = await db
    .select({ hash: snapshots.hash })
    .from(snapshots)
    .where(inArray(snapshots.hash, known))
    .for('key share');
  const isThere = new Set(touched.map(({ hash }) => hash));
  await storePacked(
    db,
    rows.filter(({ hash }) => !isNew.has(hash) && !isThere.has(hash)),
  );
}

/** The snapshots with these hashes, packed. */
export async function findPacked(
  db: Database,
  hashes: readonly string[],
): Promise<Map<string, Uint8Array>> {
  if (hashes.length === 0) return new Map();
  const rows = await db
    .select({ hash: snapshots.hash, packed: snapshots.packed })
    .from(snapshots)
    .where(isOneOf(snapshots.hash, new Set(hashes)));
  // Each with memory of its own: what comes from the database shares that of a whole answer.
  return new Map(rows.map(({ hash, packed }) => [hash, new Uint8Array(packed)]));
}

/** What keeps a snapshot: it is shown, waited for, remembered or compared with. */
const isNeeded = sql`(
  exists (select 1 from tethers t where t.base = s.hash or t.pending = s.hash or t.shown = s.hash)
  or exists (select 1 from tether_states h where h.snapshot = s.hash)
  or exists (select 1 from tether_looks l where l.snapshot = s.hash))`;

/** Log entries without a slip of their own, one of whose two states is about to be removed. */
export async function listLosingSlips(
  db: Database,
  most: number,
): Promise<{ id: number; from: string; to: string }[]> {
  const { rows } = await db.execute<{ id: string; from: string; to: string }>(sql`
    select e.id, e.undo ->> 'from' as from, e.undo ->> 'to' as to
    from log_entries e
    join snapshots f on f.hash = e.undo ->> 'from'
    join snapshots g on g.hash = e.undo ->> 'to'
    where e.slip is null and e.undo ->> 'kind' = 'state' and exists (
      select 1 from snapshots s where s.hash in (f.hash, g.hash) and not ${isNeeded})
    limit ${most}`);
  return rows.map((row) => ({ ...row, id: Number(row.id) }));
}

/** Removes snapshots that nothing needs; gives how many. */
export async function sweepSnapshots(db: Database): Promise<number> {
  const swept = await db.execute(sql`delete from snapshots s where not ${isNeeded}`);
  return swept.rowCount ?? 0;
}

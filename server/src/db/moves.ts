import { sql } from 'drizzle-orm';
import type { Database } from './database.ts';
import { sources } from './schema.ts';

/** A file that went, and one that came with the same bytes. */
export interface Move {
  from: string;
  fromPath: string;
  to: string;
  toPath: string;
}

/** How long before the one went the other may have come: who moves a file to another disk copies it first. */
const COPIED_BEFORE = '10 minutes';

/**
 * Files that went and to which something is tied, each with all that came with the same bytes at about that time and to which
 * nothing is tied and in which nobody typed, as far as they have to do with a source. A copy that was there long before is none of them.
 */
export async function listMoves(db: Database, sourceId: string): Promise<Move[]> {
  const { rows } = await db.execute<{
    from: string;
    from_path: string;
    to: string;
    to_path: string;
  }>(sql`
    with bytes as (select hash from sources where id = ${sourceId})
    select a.id as from, a.path as from_path, b.id as to, b.path as to_path
    from bytes
    join sources a on a.hash = bytes.hash and a.state = 'missing'
    join source_folders f on f.id = a.folder_id and f.state = 'watched'
    join sources b on b.hash = bytes.hash and b.state = 'present' and b.id <> a.id
    where exists (select 1 from tethers t where t.source_id = a.id)
      and not exists (select 1 from tethers t where t.source_id = b.id)
      and not exists (select 1 from entries e where e.source_id = b.id)
      and b.changed_at >= a.changed_at - ${COPIED_BEFORE}::interval
    order by a.path, b.path`);
  return rows.map((row) => ({
    ...{ from: row.from, fromPath: row.from_path },
    ...{ to: row.to, toPath: row.to_path },
  }));
}

/** Files that went, of folders in which certain ones are followed, and to which something is tied. */
export async function listFollowable(db: Database): Promise<string[]> {
  const { rows } = await db.execute<{ id: string }>(sql`
    select s.id from sources s
    join source_folders f on f.id = s.folder_id and f.state = 'watched' and f.follows_certain
    where s.state = 'missing' and exists (select 1 from tethers t where t.source_id = s.id)`);
  return rows.map(({ id }) => id);
}

/** Whether a file came at about the time when the other went, and nothing is tied to it or typed into it: the same rule as for moves. */
export async function cameInstead(db: Database, from: string, to: string): Promise<boolean> {
  const { rows } = await db.execute(sql`
    select 1 from sources a, sources b
    where a.id = ${from} and a.state = 'missing' and b.id = ${to} and b.state = 'present'
      and not exists (select 1 from tethers t where t.source_id = b.id)
      and not exists (select 1 from entries e where e.source_id = b.id)
      and b.changed_at >= a.changed_at - ${COPIED_BEFORE}::interval`);
  return rows.length > 0;
}

/**
 * Lets a source be the file of another one, which is then no source of its own. False where either is not as it was, and nothing is
 * done. Readings that began before are not recorded any more.
 */
export async function takePlaceOf(tx: Database, from: string, to: string): Promise<boolean> {
  const { rows: locked } = await tx.execute<{ id: string; state: string }>(sql`
    select id, state from sources where id in (${from}, ${to}) order by id for update`);
  const stateOf = (id: string) => locked.find((row) => row.id === id)?.state;
  if (stateOf(from) !== 'missing' || stateOf(to) !== 'present') return false;
  const { rows: gone } = await tx.execute<{ folder_id: string; path: string }>(sql`
    delete from sources s where s.id = ${to}
      and not exists (select 1 from tethers t where t.source_id = s.id)
      and not exists (select 1 from entries e where e.source_id = s.id)
    returning folder_id, path`);
  const [place] = gone;
  if (!place) return false;
  await tx.execute(sql`
    update ${sources} set folder_id = ${place.folder_id}, path = ${place.path}, stamp = null,
      read_number = nextval('reading_numbers'), asked_number = nextval('reading_numbers')
    where id = ${from}`);
  return true;
}

import type { CellPlace } from '@tether/core';
import { and, asc, eq, inArray, sql } from 'drizzle-orm';
import type { Database } from './database.ts';
import { type CellHeld, entries, people } from './schema.ts';

/** What somebody typed into a cell of a source, with their name. */
export interface EntryRow extends CellPlace {
  id: string;
  typed: string;
  entered: CellHeld;
  agreed: CellHeld;
  landmark: string;
  personId: string | null;
  by: string | null;
  at: string;
}

/** All that waits to be saved in a source, in reading order. */
export async function findEntries(db: Database, sourceId: string): Promise<EntryRow[]> {
  const rows = await db
    .select({ entry: entries, name: people.name })
    .from(entries)
    .leftJoin(people, eq(people.id, entries.personId))
    .where(eq(entries.sourceId, sourceId))
    .orderBy(asc(entries.sheet), asc(entries.row), asc(entries.column));
  return rows.map(({ entry, name }) => ({ ...entry, by: name, at: entry.at.toISOString() }));
}

/** Takes entries down; a later one of the same cell takes the place of the one before, and what stood there before both stays. */
export async function putEntries(
  tx: Database,
  sourceId: string,
  personId: string,
  made: readonly Omit<EntryRow, 'id' | 'personId' | 'by' | 'at'>[],
): Promise<void> {
  // In whole milliseconds, as it is read.
  const at = new Date();
  const rows = new Map(
    made.map((each) => [
      `${each.sheet} ${each.row} ${each.column}`,
      { ...each, sourceId, personId, at },
    ]),
  );
  for (const some of chunksOf([...rows.values()], MOST_AT_ONCE)) {
    await tx
      .insert(entries)
      .values(some)
      .onConflictDoUpdate({
        target: [entries.sourceId, entries.sheet, entries.row, entries.column],
        set: {
          typed: sql`excluded.typed`,
          entered: sql`excluded.entered`,
          personId,
          at,
        },
      });
  }
}

/** A statement takes no more than 65,535 values. */
const MOST_AT_ONCE = 1_000;

function* chunksOf<T>(all: readonly T[], size: number): Generator<T[]> {
  for (let at = 0; at < all.length; at += size) yield all.slice(at, at + size);
}

/** Lets entries go. */
export async function deleteEntries(tx: Database, ids: readonly string[]): Promise<void> {
  if (ids.length > 0) await tx.delete(entries).where(inArray(entries.id, [...ids]));
}

/** Lets entries go that are still those of a moment: one that was typed over since stays. */
export async function deleteSaved(
  tx: Database,
  saved: readonly Pick<EntryRow, 'id' | 'at'>[],
): Promise<void> {
  for (const { id, at } of saved) {
    await tx.delete(entries).where(and(eq(entries.id, id), eq(entries.at, new Date(at))));
  }
}

/** Says what stands in the cell of an entry, and beside it, from now on. */
export async function setAgreedEntry(
  tx: Database,
  id: string,
  now: Pick<EntryRow, 'agreed' | 'landmark'>,
): Promise<void> {
  await tx.update(entries).set(now).where(eq(entries.id, id));
}

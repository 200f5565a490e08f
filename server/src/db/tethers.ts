import type { Form, SourceUse, Tether } from '@tether/contract';
import type { Area } from '@tether/core';
import { and, asc, eq, inArray, ne, type SQL, sql } from 'drizzle-orm';
import type { Database } from './database.ts';
import { documents, people, snapshots, sourceFolders, sources, tethers } from './schema.ts';

export type TetherRow = typeof tethers.$inferSelect;

/** Adds a tether. */
export async function insertTether(
  db: Database,
  tether: typeof tethers.$inferInsert,
): Promise<TetherRow> {
  const [row] = await db.insert(tethers).values(tether).returning();
  return row!;
}

/** Tethers for the screen, by document, by id or all that need attention; the oldest standing first. */
export async function describeTethers(
  db: Database,
  which: { documentId: string } | { ids: readonly string[] } | { needAttention: true },
): Promise<{ tether: Tether; documentName: string }[]> {
  const rows = await db
    .select({
      row: tethers,
      source: { id: sources.id, folder: sourceFolders.name, path: sources.path },
      refreshedBy: people.name,
      documentName: documents.name,
    })
    .from(tethers)
    .innerJoin(sources, eq(sources.id, tethers.sourceId))
    .innerJoin(sourceFolders, eq(sourceFolders.id, sources.folderId))
    .innerJoin(documents, eq(documents.id, tethers.documentId))
    .leftJoin(people, eq(people.id, tethers.refreshedBy))
    .where(condition(which))
    .orderBy(asc(tethers.standingSince), asc(tethers.id));
  return rows.map(({ row, source, refreshedBy, documentName }) => {
    const { sourceId: _, standingSince, refreshedAt, ...rest } = row;
    return {
      documentName,
      tether: {
        ...rest,
        source,
        refreshedBy,
        standingSince: standingSince.toISOString(),
        refreshedAt: refreshedAt.toISOString(),
      },
    };
  });
}

function condition(which: Parameters<typeof describeTethers>[1]): SQL | undefined {
  if ('documentId' in which) return eq(tethers.documentId, which.documentId);
  if ('ids' in which) return inArray(tethers.id, [...which.ids]);
  return and(eq(tethers.placed, true), ne(tethers.standing, 'in step'));
}

/** The tethers of a source, in an order that every transaction shares, locked when `lock` is set. */
export function listSourceTethers(
  db: Database,
  sourceId: string,
  { lock = false } = {},
): Promise<TetherRow[]> {
  const query = db
    .select()
    .from(tethers)
    .where(eq(tethers.sourceId, sourceId))
    .orderBy(asc(tethers.id));
  return lock ? query.for('update') : query;
}

/** Locks these tethers for the running transaction, always in the same order so that two never wait for each other. */
export function lockTethers(tx: Database, ids: readonly string[]): Promise<TetherRow[]> {
  if (ids.length === 0) return Promise.resolve([]);
  return tx
    .select()
    .from(tethers)
    .where(inArray(tethers.id, [...ids]))
    .orderBy(asc(tethers.id))
    .for('update');
}

/** Tethers by id, without a lock. */
export function findTethers(db: Database, ids: readonly string[]): Promise<TetherRow[]> {
  if (ids.length === 0) return Promise.resolve([]);
  return db
    .select()
    .from(tethers)
    .where(inArray(tethers.id, [...ids]));
}

/** Where a source is used: every object in a text that takes cells of it, with the cells it shows. */
export async function listSourceUses(db: Database, sourceId: string): Promise<SourceUse[]> {
  const rows = await db
    .select({
      tetherId: tethers.id,
      name: tethers.name,
      reach: tethers.reach,
      document: { id: documents.id, name: documents.name },
      sheet: sql<string>`${snapshots.content} ->> 'sheet'`,
      area: sql<Area>`${snapshots.content} -> 'area'`,
    })
    .from(tethers)
    .innerJoin(documents, eq(documents.id, tethers.documentId))
    .innerJoin(snapshots, eq(snapshots.hash, tethers.base))
    .where(and(eq(tethers.sourceId, sourceId), eq(tethers.placed, true)))
    .orderBy(asc(documents.name), asc(tethers.name));
  return rows;
}

/** Names of the documents whose text holds objects out of a folder. */
export async function documentsUsingFolder(db: Database, folderId: string): Promise<string[]> {
  const rows = await db
    .selectDistinct({ name: documents.name })
    .from(tethers)
    .innerJoin(sources, eq(sources.id, tethers.sourceId))
    .innerJoin(documents, eq(documents.id, tethers.documentId))
    .where(and(eq(sources.folderId, folderId), eq(tethers.placed, true)))
    .orderBy(asc(documents.name));
  return rows.map(({ name }) => name);
}

/** Forgets the tethers of objects that stand in no text and were tied to a folder. */
export async function forgetFolderTethers(tx: Database, folderId: string): Promise<void> {
  const inFolder = tx
    .select({ id: sources.id })
    .from(sources)
    .where(eq(sources.folderId, folderId));
  await tx
    .delete(tethers)
    .where(and(eq(tethers.placed, false), inArray(tethers.sourceId, inFolder)));
}

/** Changes columns of one tether. */
export async function updateTether(
  db: Database,
  id: string,
  values: Partial<typeof tethers.$inferInsert>,
): Promise<void> {
  await db.update(tethers).set(values).where(eq(tethers.id, id));
}

/** Records which of the document's tethers stand in its text. */
export async function setPlaced(
  tx: Database,
  documentId: string,
  placed: ReadonlyMap<string, Form>,
): Promise<void> {
  const rows = await tx
    .select({ id: tethers.id, placed: tethers.placed, form: tethers.form })
    .from(tethers)
    .where(eq(tethers.documentId, documentId));
  for (const row of rows) {
    const form = placed.get(row.id);
    const isAsWas =
      row.placed === (form !== undefined) && (form === undefined || form === row.form);
    if (isAsWas) continue;
    await tx
      .update(tethers)
      .set(form === undefined ? { placed: false } : { placed: true, form })
      .where(eq(tethers.id, row.id));
  }
}

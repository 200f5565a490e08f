import type { SourceFolder, SourceSummary } from '@tether/contract';
import { asc, eq, sql } from 'drizzle-orm';
import type { Database } from './database.ts';
import { sourceFolders, sources } from './schema.ts';

export type FolderRow = typeof sourceFolders.$inferSelect;
export type SourceRow = typeof sources.$inferSelect;

/** Registers a folder. */
export async function insertFolder(
  db: Database,
  folder: typeof sourceFolders.$inferInsert,
): Promise<FolderRow> {
  const [row] = await db.insert(sourceFolders).values(folder).returning();
  return row!;
}

/** All folders by name. */
export function listFolders(db: Database): Promise<FolderRow[]> {
  return db.select().from(sourceFolders).orderBy(asc(sourceFolders.name));
}

/** Sets whether a folder can be reached; false when nothing changed. */
export async function setFolderState(
  db: Database,
  id: string,
  state: SourceFolder['state'],
): Promise<boolean> {
  const rows = await db
    .update(sourceFolders)
    .set({ state })
    .where(sql`${sourceFolders.id} = ${id} and ${sourceFolders.state} <> ${state}`)
    .returning({ id: sourceFolders.id });
  return rows.length > 0;
}

/** The files of a folder. */
export function listFolderSources(db: Database, folderId: string): Promise<SourceRow[]> {
  return db.select().from(sources).where(eq(sources.folderId, folderId)).orderBy(asc(sources.path));
}

/** A source together with its folder. */
export async function findSource(
  db: Database,
  id: string,
): Promise<{ source: SourceRow; folder: FolderRow } | null> {
  const [row] = await db
    .select({ source: sources, folder: sourceFolders })
    .from(sources)
    .innerJoin(sourceFolders, eq(sourceFolders.id, sources.folderId))
    .where(eq(sources.id, id));
  return row ?? null;
}

/** Records how a file was seen, under its folder and path. */
export async function upsertSource(
  db: Database,
  seen: typeof sources.$inferInsert,
): Promise<SourceRow> {
  const { folderId: _, path: __, ...values } = seen;
  const [row] = await db
    .insert(sources)
    .values(seen)
    .onConflictDoUpdate({ target: [sources.folderId, sources.path], set: values })
    .returning();
  return row!;
}

/** All folders with their files, for the screen. */
export async function describeFolders(db: Database): Promise<SourceFolder[]> {
  const folders = await listFolders(db);
  const files = await db.select().from(sources).orderBy(asc(sources.path));
  return folders.map(({ id, name, state }) => ({
    id,
    name,
    state,
    sources: files.filter((file) => file.folderId === id).map((file) => summarise(file, name)),
  }));
}

function summarise(file: SourceRow, folder: string): SourceSummary {
  const { id, folderId, path, state, fault, bytes, changedAt } = file;
  return { id, folderId, folder, path, state, fault, bytes, changedAt: changedAt.toISOString() };
}

import type {
  DocumentCard,
  DocumentDetail,
  DocumentSummary,
  StandingCounts,
} from '@tether/contract';
import { type Fault, fault, type Mode } from '@tether/core';
import { type DocumentContent, type KindName, kindOf } from '@tether/documents';
import { and, count, desc, eq, inArray, isNotNull, isNull, sql } from 'drizzle-orm';
import { alias } from 'drizzle-orm/pg-core';
import type { Database } from './database.ts';
import { documents, people, tethers } from './schema.ts';

const holders = alias(people, 'holders');

const summaryColumns = {
  id: documents.id,
  kind: documents.kind,
  name: documents.name,
  version: documents.version,
  savedAt: documents.savedAt,
  savedBy: people.name,
  mode: documents.mode,
  share: documents.share,
  heldSince: documents.heldSince,
  heldBy: holders.name,
};

/** As the screens want it: moments as text, the hold as one. */
function toSummary<T extends { savedAt: Date; heldSince: Date | null; heldBy: string | null }>(
  row: T,
) {
  const { heldSince, heldBy, savedAt, ...rest } = row;
  return {
    ...rest,
    savedAt: savedAt.toISOString(),
    hold: heldSince && { by: heldBy, since: heldSince.toISOString() },
  };
}

/** Adds a document at version 1. */
export async function insertDocument(
  db: Database,
  document: { kind: KindName; name: string; content: DocumentContent; savedBy: string | null },
): Promise<string> {
  const beginning = kindOf(document.kind).beginning(document.content);
  const [row] = await db
    .insert(documents)
    .values({ ...document, beginning })
    .returning({ id: documents.id });
  return row!.id;
}

/** All documents with the beginning of their content, the one saved last first. */
export async function listDocuments(db: Database): Promise<DocumentCard[]> {
  const rows = await db
    .select({
      ...summaryColumns,
      beginning: documents.beginning,
      // Only what was saved before beginnings were kept is cut here.
      content: sql<DocumentContent>`case when ${documents.beginning} is null then ${documents.content} end`,
    })
    .from(documents)
    .leftJoin(people, eq(people.id, documents.savedBy))
    .leftJoin(holders, eq(holders.id, documents.heldBy))
    .where(isNull(documents.deletedAt))
    .orderBy(desc(documents.savedAt));
  const standings = await countStandings(db);
  return rows.map(({ beginning, content, ...row }) => ({
    ...toSummary(row),
    beginning: beginning ?? kindOf(row.kind).beginning(content),
    standings: standings.get(row.id) ?? {},
  }));
}

/** A document with its content. */
export async function findDocument(db: Database, id: string): Promise<DocumentDetail | null> {
  const [row] = await db
    .select({ ...summaryColumns, content: documents.content })
    .from(documents)
    .leftJoin(people, eq(people.id, documents.savedBy))
    .leftJoin(holders, eq(holders.id, documents.heldBy))
    .where(and(eq(documents.id, id), isNull(documents.deletedAt)));
  if (!row) return null;
  const standings = await countStandings(db, id);
  return { ...toSummary(row), standings: standings.get(id) ?? {} };
}

/** The content of a document as it was last written out; null when there is no such document. */
export async function findContent(db: Database, id: string): Promise<DocumentContent | null> {
  const [row] = await db
    .select({ content: documents.content })
    .from(documents)
    .where(eq(documents.id, id));
  return row?.content ?? null;
}

/** Locks the document for the running transaction and tells its kind, its version and who saved it last; null for a deleted one. */
export async function lockDocument(
  tx: Database,
  id: string,
): Promise<Pick<DocumentSummary, 'kind' | 'version' | 'savedBy'> | null> {
  const [row] = await tx
    .select({ kind: documents.kind, version: documents.version, savedById: documents.savedBy })
    .from(documents)
    .where(and(eq(documents.id, id), isNull(documents.deletedAt)))
    .for('no key update');
  if (!row) return null;
  const [person] = row.savedById
    ? await tx.select({ name: people.name }).from(people).where(eq(people.id, row.savedById))
    : [];
  return { kind: row.kind, version: row.version, savedBy: person?.name ?? null };
}

/** Stores the content as the next version, which is returned. */
export async function storeContent(
  tx: Database,
  { id, kind, content }: { id: string; kind: KindName; content: DocumentContent },
  savedBy: string | null,
): Promise<number> {
  const beginning = kindOf(kind).beginning(content);
  const [row] = await tx
    .update(documents)
    .set({
      content,
      beginning,
      ...(savedBy === null ? {} : { savedBy }),
      savedAt: new Date(),
      version: sql`${documents.version} + 1`,
    })
    .where(eq(documents.id, id))
    .returning({ version: documents.version });
  return row!.version;
}

/** The name of a document, locked for the running transaction; undefined when it is not there. */
export async function lockName(tx: Database, id: string): Promise<string | undefined> {
  const [row] = await tx
    .select({ name: documents.name })
    .from(documents)
    .where(eq(documents.id, id))
    .for('no key update');
  return row?.name;
}

/** Gives the document another name; false when there is no such document. */
export async function renameDocument(db: Database, id: string, name: string): Promise<boolean> {
  const rows = await db
    .update(documents)
    .set({ name })
    .where(eq(documents.id, id))
    .returning({ id: documents.id });
  return rows.length > 0;
}

/** Whether a document is deleted, locked for the running transaction; null where there never was one. */
export async function lockDeletion(
  tx: Database,
  id: string,
): Promise<{ name: string; version: number; isDeleted: boolean } | null> {
  const [row] = await tx
    .select({ name: documents.name, version: documents.version, deletedAt: documents.deletedAt })
    .from(documents)
    .where(eq(documents.id, id))
    .for('no key update');
  return row ? { name: row.name, version: row.version, isDeleted: row.deletedAt !== null } : null;
}

/** The name of a deleted document; null for one that is there, and for none at all. */
export async function findDeleted(db: Database, id: string): Promise<string | null> {
  const [row] = await db
    .select({ name: documents.name })
    .from(documents)
    .where(and(eq(documents.id, id), isNotNull(documents.deletedAt)));
  return row?.name ?? null;
}

/** The names of all documents that begin with this one. */
export async function namesLike(db: Database, name: string): Promise<string[]> {
  const rows = await db
    .select({ name: documents.name })
    .from(documents)
    .where(and(sql`starts_with(${documents.name}, ${name})`, isNull(documents.deletedAt)));
  return rows.map((row) => row.name);
}

/** Deletes a document, or has it back. */
export async function setDeleted(tx: Database, id: string, isDeleted: boolean): Promise<void> {
  await tx
    .update(documents)
    .set({ deletedAt: isDeleted ? new Date() : null })
    .where(eq(documents.id, id));
}

/** What is settled for a document's objects, locked for the running transaction. */
export async function lockDocumentRules(
  tx: Database,
  id: string,
): Promise<{ mode: Mode | null; share: number; heldSince: Date | null } | null> {
  const [row] = await tx
    .select({ mode: documents.mode, share: documents.share, heldSince: documents.heldSince })
    .from(documents)
    .where(eq(documents.id, id))
    .for('no key update');
  return row ?? null;
}

/** Sets what is settled for a document's objects. */
export async function setDocumentRules(
  tx: Database,
  id: string,
  values: Partial<Pick<typeof documents.$inferInsert, 'mode' | 'share' | 'heldSince' | 'heldBy'>>,
): Promise<void> {
  if (Object.keys(values).length > 0) {
    await tx.update(documents).set(values).where(eq(documents.id, id));
  }
}

/** Which of these documents are held, as the reason why nothing in them is refreshed. */
export async function findHolds(db: Database, ids: readonly string[]): Promise<Map<string, Fault>> {
  if (ids.length === 0) return new Map();
  const rows = await db
    .select({ id: documents.id, since: documents.heldSince, by: people.name })
    .from(documents)
    .leftJoin(people, eq(people.id, documents.heldBy))
    .where(and(inArray(documents.id, [...new Set(ids)]), isNotNull(documents.heldSince)));
  return new Map(
    rows.map(({ id, since, by }) => [
      id,
      fault('document-held', {
        who: by ?? 'Somebody',
        since: `${since!.toISOString().slice(0, 16).replace('T', ' ')} UTC`,
      }),
    ]),
  );
}

async function countStandings(db: Database, id?: string): Promise<Map<string, StandingCounts>> {
  const rows = await db
    .select({ documentId: tethers.documentId, standing: tethers.standing, number: count() })
    .from(tethers)
    .where(and(eq(tethers.placed, true), id ? eq(tethers.documentId, id) : undefined))
    .groupBy(tethers.documentId, tethers.standing);
  const counts = new Map<string, StandingCounts>();
  for (const { documentId, standing, number } of rows) {
    counts.set(documentId, { ...counts.get(documentId), [standing]: number });
  }
  return counts;
}

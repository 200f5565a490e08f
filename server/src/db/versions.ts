import type { DocumentVersion, DocumentVersionDetail, KeepVersion } from '@tether/contract';
import { and, desc, eq } from 'drizzle-orm';
import type { Database } from './database.ts';
import { documentVersions, people } from './schema.ts';

const columns = {
  id: documentVersions.id,
  at: documentVersions.at,
  by: people.name,
  why: documentVersions.why,
};

/** Keeps a state of a document's text; gives its id. */
export async function insertVersion(
  db: Database,
  documentId: string,
  personId: string,
  { why, content }: KeepVersion,
): Promise<string> {
  const [row] = await db
    .insert(documentVersions)
    .values({ documentId, personId, why, content })
    .returning({ id: documentVersions.id });
  return row!.id;
}

/** The kept states of a document, the newest first. */
export async function listVersions(db: Database, documentId: string): Promise<DocumentVersion[]> {
  const rows = await db
    .select(columns)
    .from(documentVersions)
    .leftJoin(people, eq(people.id, documentVersions.personId))
    .where(eq(documentVersions.documentId, documentId))
    .orderBy(desc(documentVersions.at));
  return rows.map((row) => ({ ...row, at: row.at.toISOString() }));
}

/** One kept state with its text. */
export async function findVersion(
  db: Database,
  documentId: string,
  id: string,
): Promise<DocumentVersionDetail | null> {
  const [row] = await db
    .select({ ...columns, content: documentVersions.content })
    .from(documentVersions)
    .leftJoin(people, eq(people.id, documentVersions.personId))
    .where(and(eq(documentVersions.id, id), eq(documentVersions.documentId, documentId)));
  return row ? { ...row, at: row.at.toISOString() } : null;
}

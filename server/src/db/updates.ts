import { and, count, eq, gt, inArray, sql } from 'drizzle-orm';
import type { Database } from './database.ts';
import { documentUpdates } from './schema.ts';

/** A piece of what was written in a document, as an update of its shared type. */
export interface Update {
  id: number;
  update: Uint8Array;
  /** Who wrote it. */
  personId: string | null;
  isWrittenOut: boolean;
}

/** Keeps a piece of what was written; gives its number. */
export async function insertUpdate(
  db: Database,
  piece: {
    documentId: string;
    personId: string | null;
    update: Uint8Array;
    isWrittenOut?: boolean;
  },
): Promise<number> {
  const [row] = await db
    .insert(documentUpdates)
    .values({ ...piece, update: Buffer.from(piece.update) })
    .returning({ id: documentUpdates.id });
  return row!.id;
}

/** The pieces of a document but for those that are known already. */
export async function listUpdates(
  db: Database,
  documentId: string,
  known: readonly number[] = [],
): Promise<Update[]> {
  return db
    .select({
      id: documentUpdates.id,
      update: documentUpdates.update,
      personId: documentUpdates.personId,
      isWrittenOut: documentUpdates.isWrittenOut,
    })
    .from(documentUpdates)
    .where(
      and(
        eq(documentUpdates.documentId, documentId),
        sql`${documentUpdates.id} <> all(${sql.param([...known])}::bigint[])`,
      ),
    )
    .orderBy(documentUpdates.id);
}

/** Notes that the document's content says what these pieces say. */
export async function setWrittenOut(
  tx: Database,
  documentId: string,
  ids: readonly number[],
): Promise<void> {
  await tx
    .update(documentUpdates)
    .set({ isWrittenOut: true })
    .where(
      and(
        eq(documentUpdates.documentId, documentId),
        eq(documentUpdates.isWrittenOut, false),
        inArray(documentUpdates.id, [...ids]),
      ),
    );
}

/** Documents of which something was written that their content does not say yet. */
export async function listNotWrittenOut(db: Database): Promise<string[]> {
  const rows = await db
    .selectDistinct({ id: documentUpdates.documentId })
    .from(documentUpdates)
    .where(eq(documentUpdates.isWrittenOut, false));
  return rows.map(({ id }) => id);
}

/** Whether something was written in a document that its content does not say yet. */
export async function isNotWrittenOut(db: Database, documentId: string): Promise<boolean> {
  const [row] = await db
    .select({ id: documentUpdates.id })
    .from(documentUpdates)
    .where(and(eq(documentUpdates.documentId, documentId), eq(documentUpdates.isWrittenOut, false)))
    .limit(1);
  return row !== undefined;
}

/** Documents that lie in more pieces than that. */
export async function listScattered(db: Database, pieces: number): Promise<string[]> {
  const rows = await db
    .select({ id: documentUpdates.documentId })
    .from(documentUpdates)
    .groupBy(documentUpdates.documentId)
    .having(gt(count(), pieces));
  return rows.map(({ id }) => id);
}

/** Puts one piece in the place of those that it was made of. */
export async function replaceUpdates(
  tx: Database,
  documentId: string,
  ids: readonly number[],
  whole: Uint8Array,
): Promise<void> {
  const [{ left } = { left: 0 }] = await tx
    .select({
      left: sql<number>`count(*) filter (where not ${documentUpdates.isWrittenOut})::int`,
    })
    .from(documentUpdates)
    .where(inArray(documentUpdates.id, [...ids]));
  await tx.delete(documentUpdates).where(inArray(documentUpdates.id, [...ids]));
  await insertUpdate(tx, { documentId, personId: null, update: whole, isWrittenOut: left === 0 });
}

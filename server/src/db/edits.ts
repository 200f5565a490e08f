import type { Edit, Face } from '@tether/core';
import { and, asc, eq, inArray, sql } from 'drizzle-orm';
import type { Database } from './database.ts';
import { insertRows } from './rows.ts';
import { edits, people, tethers } from './schema.ts';

/** An edit as it is kept, with the name of whoever made it. */
export interface EditRow extends Edit {
  id: string;
  tetherId: string;
  agreed: Face | null;
  isGone: boolean;
  /** Whether the formula of its cell gives way. */
  isOverFormula: boolean;
}

/** The edits of these tethers, in reading order. */
export async function findEdits(db: Database, tetherIds: readonly string[]): Promise<EditRow[]> {
  if (tetherIds.length === 0) return [];
  const rows = await db
    .select({ edit: edits, name: people.name })
    .from(edits)
    .leftJoin(people, eq(people.id, edits.personId))
    .where(inArray(edits.tetherId, [...tetherIds]))
    .orderBy(asc(edits.row), asc(edits.column));
  return rows.map(({ edit, name }) => ({
    id: edit.id,
    tetherId: edit.tetherId,
    row: edit.row,
    column: edit.column,
    value: edit.value.is,
    agreed: edit.agreed.is,
    isGone: edit.isGone,
    isOverFormula: edit.isOverFormula,
    by: name ?? '',
    at: edit.at.toISOString(),
  }));
}

/** Makes an edit; a later one of the same cell takes the place of the one before, and what was agreed on stays. */
export async function putEdit(
  tx: Database,
  personId: string,
  {
    tetherId,
    row,
    column,
    value,
    agreed,
    isOverFormula,
  }: Pick<EditRow, 'tetherId' | 'row' | 'column' | 'value' | 'agreed' | 'isOverFormula'>,
): Promise<void> {
  const changed = { value: { is: value }, isOverFormula, personId, at: new Date() };
  const done = await tx
    .update(edits)
    .set(changed)
    .where(
      and(
        eq(edits.tetherId, tetherId),
        eq(edits.row, row),
        eq(edits.column, column),
        eq(edits.isGone, false),
      ),
    )
    .returning({ id: edits.id });
  if (done.length > 0) return;
  await tx.insert(edits).values({ tetherId, row, column, agreed: { is: agreed }, ...changed });
}

/** Puts edits that were made elsewhere into an object that has none. */
export async function putEdits(
  tx: Database,
  personId: string,
  tetherId: string,
  made: readonly Pick<
    EditRow,
    'row' | 'column' | 'value' | 'agreed' | 'isGone' | 'isOverFormula'
  >[],
): Promise<void> {
  const rows = made.map(({ value, agreed, ...each }) => ({
    ...{ ...each, tetherId, personId },
    ...{ value: { is: value }, agreed: { is: agreed } },
  }));
  await insertRows(tx, edits, rows);
}

/** Lets edits go. */
export async function deleteEdits(tx: Database, ids: readonly string[]): Promise<void> {
  if (ids.length > 0) await tx.delete(edits).where(inArray(edits.id, [...ids]));
}

/** Says what is agreed on for an edit from now on. */
export async function setAgreed(tx: Database, id: string, agreed: Face | null): Promise<void> {
  await tx
    .update(edits)
    .set({ agreed: { is: agreed } })
    .where(eq(edits.id, id));
}

/** Gives edits other places: all are set aside first, since one may take the place of another. */
export async function moveEdits(
  tx: Database,
  moved: readonly { id: string; row: number; column: number; isGone: boolean }[],
): Promise<void> {
  if (moved.length === 0) return;
  const ids = moved.map(({ id }) => id);
  await tx.update(edits).set({ isGone: true }).where(inArray(edits.id, ids));
  for (const { id, row, column, isGone } of moved) {
    await tx.update(edits).set({ row, column, isGone }).where(eq(edits.id, id));
  }
}

/** Records how many edits a tether has, and what stands in the document by them. */
export async function setShownEdits(
  tx: Database,
  tetherId: string,
  shown: { hash: string | null; count: number },
): Promise<void> {
  await tx
    .update(tethers)
    .set({ shown: shown.hash, editCount: shown.count })
    .where(eq(tethers.id, tetherId));
}

/** Tethers of a document in which edits wait. */
export async function listEditedIn(db: Database, documentId: string): Promise<string[]> {
  const rows = await db
    .select({ id: tethers.id })
    .from(tethers)
    .where(
      and(
        eq(tethers.documentId, documentId),
        eq(tethers.placed, true),
        sql`${tethers.editCount} > 0`,
      ),
    );
  return rows.map(({ id }) => id);
}

/** Tethers of a source in whose documents edits wait. */
export async function listEdited(db: Database, sourceId: string): Promise<string[]> {
  const rows = await db
    .select({ id: tethers.id })
    .from(tethers)
    .where(and(eq(tethers.sourceId, sourceId), sql`${tethers.editCount} > 0`));
  return rows.map(({ id }) => id);
}

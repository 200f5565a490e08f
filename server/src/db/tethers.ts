import type { Hold, NeedsPage, SourceUse, Tether } from '@tether/contract';
import { type Area, type Fault, type Mode, modeOf } from '@tether/core';
import type { Form } from '@tether/documents';
import { and, asc, count, eq, inArray, isNotNull, isNull, type SQL, sql } from 'drizzle-orm';
import { alias } from 'drizzle-orm/pg-core';
import type { Database } from './database.ts';
import { insertRows, isOneOf, updateRows } from './rows.ts';
import {
  documents,
  people,
  snapshots,
  sourceFolders,
  sources,
  tetherLooks,
  tethers,
} from './schema.ts';

export type TetherRow = typeof tethers.$inferSelect;

/** Adds a tether. */
export async function insertTether(
  db: Database,
  tether: typeof tethers.$inferInsert,
): Promise<TetherRow> {
  const [row] = await db.insert(tethers).values(tether).returning();
  return row!;
}

/** Adds many tethers, with all that rows of them have. */
export async function insertTethers(db: Database, rows: readonly TetherRow[]): Promise<void> {
  await insertRows(db, tethers, rows);
}

const refreshers = alias(people, 'refreshers');
const leavers = alias(people, 'leavers');
const freezers = alias(people, 'freezers');
const holders = alias(people, 'holders');

/** What holds for an object: its own mode, else that of its source, else that of its document, else null for as usual. */
export const modeInForce = sql<Mode | null>`coalesce(${tethers.mode}, ${sources.mode}, ${documents.mode})`;

/** What needs somebody: behind and not left or gone back to on purpose, adrift, or waiting with an automatic refresh. */
export const needsSomebody = sql`(${tethers.placed} and (${tethers.standing} in ('adrift', 'contested', 'reshaped') or (
  ${tethers.standing} = 'behind' and ${tethers.pinnedTo} is null and ${tethers.leftHash} is distinct from ${tethers.pending})))`;

/** A tether with what a list shows beside it. */
export interface DescribedTether {
  tether: Tether;
  documentName: string;
  hold: Hold | null;
}

/**
 * Tethers for the screen of a person: of a document, by id, or by any condition; the oldest
 * standing first where no order is asked for.
 */
export async function describeTethers(
  db: Database,
  which:
    | { documentId: string }
    | { ids: readonly string[] }
    | { where: SQL | undefined; order: SQL[]; limit: number; offset: number },
  personId: string | null = null,
): Promise<DescribedTether[]> {
  const query = db
    .select({
      row: tethers,
      source: { id: sources.id, folder: sourceFolders.name, path: sources.path },
      sourceMode: sources.mode,
      documentMode: documents.mode,
      refreshedBy: refreshers.name,
      leftBy: leavers.name,
      frozenBy: freezers.name,
      heldBy: holders.name,
      heldSince: documents.heldSince,
      documentName: documents.name,
      lookedAt: tetherLooks.snapshot,
    })
    .from(tethers)
    .innerJoin(sources, eq(sources.id, tethers.sourceId))
    .innerJoin(sourceFolders, eq(sourceFolders.id, sources.folderId))
    .innerJoin(documents, eq(documents.id, tethers.documentId))
    .leftJoin(refreshers, eq(refreshers.id, tethers.refreshedBy))
    .leftJoin(leavers, eq(leavers.id, tethers.leftBy))
    .leftJoin(freezers, eq(freezers.id, tethers.frozenBy))
    .leftJoin(holders, eq(holders.id, documents.heldBy))
    .leftJoin(
      tetherLooks,
      and(
        eq(tetherLooks.tetherId, tethers.id),
        personId ? eq(tetherLooks.personId, personId) : sql`false`,
      ),
    );
  const rows =
    'order' in which
      ? await query
          .where(which.where)
          .orderBy(...which.order, asc(tethers.id))
          .limit(which.limit)
          .offset(which.offset)
      : await query.where(condition(which)).orderBy(asc(tethers.standingSince), asc(tethers.id));
  return rows.map((each) => ({
    documentName: each.documentName,
    hold: each.heldSince && { by: each.heldBy, since: each.heldSince.toISOString() },
    tether: toTether(each),
  }));
}

const NEEDS_PAGE = 100;

/** What needs somebody, page by page, that of one document together, the oldest first. */
export async function pageNeeds(
  db: Database,
  page: number,
  personId: string | null,
): Promise<NeedsPage> {
  const needs = await describeTethers(
    db,
    {
      where: needsSomebody,
      order: [asc(documents.name), asc(documents.id), asc(tethers.standingSince)],
      limit: NEEDS_PAGE,
      offset: page * NEEDS_PAGE,
    },
    personId,
  );
  const [row] = await db.select({ total: count() }).from(tethers).where(needsSomebody);
  const { total } = row!;
  return { needs, total, hasMore: (page + 1) * NEEDS_PAGE < total };
}

interface DescribedRow {
  row: TetherRow;
  source: Tether['source'];
  sourceMode: Mode | null;
  documentMode: Mode | null;
  refreshedBy: string | null;
  leftBy: string | null;
  frozenBy: string | null;
  lookedAt: string | null;
}

function toTether(described: DescribedRow): Tether {
  const { row, source, sourceMode, documentMode, refreshedBy, leftBy, frozenBy } = described;
  const { mode, from } = modeOf({ object: row.mode, source: sourceMode, document: documentMode });
  const isLeft = row.leftHash !== null && row.leftHash === row.pending && row.leftAt !== null;
  return {
    id: row.id,
    documentId: row.documentId,
    name: row.name,
    form: row.form,
    reach: row.reach,
    source,
    base: row.base,
    pending: row.pending,
    standing: row.standing,
    reason: row.reason,
    summary: row.summary,
    behindBy: row.behindBy,
    warnings: row.warnings,
    placed: row.placed,
    standingSince: row.standingSince.toISOString(),
    refreshedAt: row.refreshedAt.toISOString(),
    refreshedBy,
    refreshedHow: row.refreshedHow,
    mode,
    modeFrom: from,
    nextDue: row.nextDue?.toISOString() ?? null,
    waits: row.waits,
    left: isLeft ? { by: leftBy, at: row.leftAt!.toISOString() } : null,
    places: row.reshaped?.places ?? null,
    pinnedTo: row.pinnedTo?.toISOString() ?? null,
    shown: row.shown ?? row.base,
    editCount: row.editCount,
    unlocked: row.unlocked,
    writesAtOnce: row.writesAtOnce,
    frozen: row.frozenAt && { by: frozenBy, at: row.frozenAt.toISOString() },
    lookedAt: described.lookedAt === row.base ? null : described.lookedAt,
  };
}

function condition(which: { documentId: string } | { ids: readonly string[] }): SQL | undefined {
  if ('documentId' in which) return eq(tethers.documentId, which.documentId);
  return inArray(tethers.id, [...which.ids]);
}

/** What decides whether an object takes a change by itself. */
export interface TetherRules {
  mode: Mode;
  /** Per cent of its cells that may change unseen. */
  share: number;
  isHeld: boolean;
  /** `folder/path` of its source. */
  shownPath: string;
}

/** The rules for these tethers. */
export async function findRules(
  db: Database,
  ids: readonly string[],
): Promise<Map<string, TetherRules>> {
  if (ids.length === 0) return new Map();
  const rows = await db
    .select({
      id: tethers.id,
      object: tethers.mode,
      source: sources.mode,
      document: documents.mode,
      share: documents.share,
      heldSince: documents.heldSince,
      folder: sourceFolders.name,
      path: sources.path,
    })
    .from(tethers)
    .innerJoin(sources, eq(sources.id, tethers.sourceId))
    .innerJoin(sourceFolders, eq(sourceFolders.id, sources.folderId))
    .innerJoin(documents, eq(documents.id, tethers.documentId))
    .where(isOneOf(tethers.id, ids));
  return new Map(
    rows.map(({ id, object, source, document, share, heldSince, folder, path }) => [
      id,
      {
        mode: modeOf({ object, source, document }).mode,
        share,
        isHeld: heldSince !== null,
        shownPath: `${folder}/${path}`,
      },
    ]),
  );
}

/** Whether the timetable of any tether is due. */
export async function hasDueTethers(db: Database): Promise<boolean> {
  const rows = await db
    .select({ id: tethers.id })
    .from(tethers)
    .where(sql`${tethers.nextDue} <= now()`)
    .limit(1);
  return rows.length > 0;
}

/** Tethers whose timetable is due, as many as are done at once. */
export function listDueTethers(db: Database, most: number): Promise<TetherRow[]> {
  return db
    .select()
    .from(tethers)
    .where(sql`${tethers.nextDue} <= now()`)
    .orderBy(asc(tethers.id))
    .limit(most);
}

/** Tethers that go by a timetable, with the moment that they are due at next. */
export function listTimedTethers(db: Database): Promise<{ id: string; nextDue: Date }[]> {
  return db
    .select({ id: tethers.id, nextDue: sql<Date>`${tethers.nextDue}`.mapWith(tethers.nextDue) })
    .from(tethers)
    .where(sql`${tethers.nextDue} > now()`);
}

/** Tethers for whom what was said of these holds: themselves, those of a document, or those of a source. */
export async function tethersUnder(
  db: Database,
  which: { ids: readonly string[] } | { documentId: string } | { sourceId: string },
): Promise<string[]> {
  const where =
    'ids' in which
      ? inArray(tethers.id, [...which.ids])
      : 'documentId' in which
        ? eq(tethers.documentId, which.documentId)
        : eq(tethers.sourceId, which.sourceId);
  const rows = await db
    .select({ id: tethers.id })
    .from(tethers)
    .where(where)
    .orderBy(asc(tethers.id));
  return rows.map(({ id }) => id);
}

/** The tethers of these sources, in an order that every transaction shares, locked when `lock` is set. */
export function listSourceTethers(
  db: Database,
  sourceIds: readonly string[],
  { lock = false } = {},
): Promise<TetherRow[]> {
  if (sourceIds.length === 0) return Promise.resolve([]);
  const query = db
    .select()
    .from(tethers)
    .where(inArray(tethers.sourceId, [...sourceIds]))
    .orderBy(asc(tethers.id));
  return lock ? query.for('no key update') : query;
}

/** Locks these tethers for the running transaction, always in the same order so that two never wait for each other. */
export function lockTethers(tx: Database, ids: readonly string[]): Promise<TetherRow[]> {
  if (ids.length === 0) return Promise.resolve([]);
  return tx
    .select()
    .from(tethers)
    .where(inArray(tethers.id, [...ids]))
    .orderBy(asc(tethers.id))
    .for('no key update');
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
      sheet: sql<string>`${snapshots.sheet}`,
      area: sql<Area>`${snapshots.area}`,
    })
    .from(tethers)
    .innerJoin(documents, eq(documents.id, tethers.documentId))
    .innerJoin(snapshots, eq(snapshots.hash, tethers.base))
    .where(and(eq(tethers.sourceId, sourceId), eq(tethers.placed, true)))
    .orderBy(asc(documents.name), asc(tethers.name));
  return rows;
}

/** The paths of a folder's files to which something is tied. */
export async function tiedPaths(db: Database, folderId: string): Promise<string[]> {
  const rows = await db
    .selectDistinct({ path: sources.path })
    .from(tethers)
    .innerJoin(sources, eq(sources.id, tethers.sourceId))
    .where(and(eq(sources.folderId, folderId), isNull(tethers.frozenAt)))
    .orderBy(asc(sources.path));
  return rows.map(({ path }) => path);
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

/** Changes the same columns of many tethers, each with values of its own. */
export function updateTethers(
  db: Database,
  rows: readonly (Partial<typeof tethers.$inferInsert> & { id: string })[],
): Promise<void> {
  return updateRows(db, tethers, rows);
}

/** A tether whose folder went or came, with what the log says of it. */
export interface MovedTether {
  id: string;
  documentId: string;
  name: string;
  sourceId: string;
  path: string;
  standing: TetherRow['standing'];
}

const MOVED = sql`t.id, t.document_id as "documentId", t.name, t.source_id as "sourceId", s.path, t.standing`;

/**
 * Puts every tether of a folder's sources adrift for the same reason, in one statement. What was known of them stays with
 * them, for when the folder comes back as it was. Those that are adrift already keep their own reason.
 */
export async function setFolderAdrift(
  tx: Database,
  folderId: string,
  reason: Fault,
): Promise<MovedTether[]> {
  const { rows } = await tx.execute<MovedTether & Record<string, unknown>>(sql`
    update ${tethers} t set standing = 'adrift', reason = ${JSON.stringify(reason)}::jsonb, standing_since = now()
    from ${sources} s where s.id = t.source_id and t.id in (
      select o.id from ${tethers} o join ${sources} f on f.id = o.source_id
      where f.folder_id = ${folderId} and o.frozen_at is null and o.standing <> 'adrift'
      order by o.id for no key update of o)
    returning ${MOVED}`);
  return rows;
}

/** Gives tethers that their folder’s leaving put adrift the standing they had, where their files are as they were. */
export async function setFolderBack(
  tx: Database,
  sourceIds: readonly string[],
): Promise<MovedTether[]> {
  const { rows } = await tx.execute<MovedTether & Record<string, unknown>>(sql`
    update ${tethers} t set reason = null, standing_since = now(),
      standing = case when t.pending is null then 'in step' else 'behind' end
    from ${sources} s where s.id = t.source_id and t.id in (
      select o.id from ${tethers} o where ${isOneOf(sql`o.source_id`, sourceIds)}
      and o.frozen_at is null and o.standing = 'adrift' and o.reason ->> 'code' = 'folder-offline'
      order by o.id for no key update of o)
    returning ${MOVED}`);
  return rows;
}

/** Sources of objects that are behind without it being kept what of that may do harm, as earlier versions left them. */
export async function listUncompared(db: Database): Promise<string[]> {
  const rows = await db
    .selectDistinct({ sourceId: tethers.sourceId })
    .from(tethers)
    .where(and(isNotNull(tethers.pending), isNull(tethers.danger)));
  return rows.map(({ sourceId }) => sourceId);
}

/** Gives tethers the same values, and each a base of its own. */
export async function updateBases(
  db: Database,
  bases: readonly { id: string; base: string }[],
  values: Partial<typeof tethers.$inferInsert>,
): Promise<void> {
  if (bases.length === 0) return;
  const [ids, hashes] = [bases.map(({ id }) => id), bases.map(({ base }) => base)];
  await db
    .update(tethers)
    .set({ ...values, base: sql`given.base` })
    .from(sql`unnest(${sql.param(ids)}::uuid[], ${sql.param(hashes)}::text[]) as given (id, base)`)
    .where(sql`${tethers.id} = given.id`);
}

/** The tethers that a document shows. */
export async function placedIn(tx: Database, documentId: string): Promise<string[]> {
  const rows = await tx
    .select({ id: tethers.id })
    .from(tethers)
    .where(and(eq(tethers.documentId, documentId), eq(tethers.placed, true)));
  return rows.map(({ id }) => id);
}

/** Records of tethers whether their document shows them. */
export async function setShown(
  tx: Database,
  ids: readonly string[],
  placed: boolean,
): Promise<void> {
  if (ids.length > 0)
    await tx
      .update(tethers)
      .set({ placed })
      .where(isOneOf(tethers.id, new Set(ids)));
}

type PlacedRow = Pick<TetherRow, 'id' | 'name' | 'sourceId'>;

/** Records which of the document's tethers stand in its text; gives those that came into it, and those that left it. */
export async function setPlaced(
  tx: Database,
  documentId: string,
  placed: ReadonlyMap<string, Form>,
): Promise<{ came: PlacedRow[]; left: PlacedRow[] }> {
  const came: PlacedRow[] = [];
  const left: PlacedRow[] = [];
  const rows = await tx
    .select({
      id: tethers.id,
      name: tethers.name,
      sourceId: tethers.sourceId,
      placed: tethers.placed,
      form: tethers.form,
    })
    .from(tethers)
    .where(eq(tethers.documentId, documentId));
  for (const row of rows) {
    const form = placed.get(row.id);
    const isAsWas =
      row.placed === (form !== undefined) && (form === undefined || form === row.form);
    if (isAsWas) continue;
    if (form !== undefined && !row.placed) came.push(row);
    if (form === undefined && row.placed) left.push(row);
    await tx
      .update(tethers)
      .set(form === undefined ? { placed: false } : { placed: true, form })
      .where(eq(tethers.id, row.id));
  }
  return { came, left };
}

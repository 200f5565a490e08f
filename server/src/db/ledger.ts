import type {
  LedgerColumn,
  LedgerGroup,
  LedgerPage,
  LedgerQuery,
  LedgerSource,
  SavedView,
} from '@tether/contract';
import { LEDGER_PAGE } from '@tether/contract';
import { USUAL_MODE } from '@tether/core';
import { and, asc, count, desc, eq, type SQL, sql } from 'drizzle-orm';
import type { Database } from './database.ts';
import { isOneOf } from './rows.ts';
import { documents, people, savedViews, sourceFolders, sources, tethers } from './schema.ts';
import { describeTethers, modeInForce, needsSomebody } from './tethers.ts';

const modeKind = sql<string>`coalesce(${modeInForce} ->> 'kind', ${USUAL_MODE.kind})`;
const sourcePath = sql<string>`(${sourceFolders.name} || '/' || ${sources.path})`;
/** Standings from those that need somebody to those that do not, as `STANDINGS` of the core turned about. */
const standingRank = sql`array_position(array['contested', 'reshaped', 'adrift', 'behind', 'edited here', 'frozen', 'in step'], ${tethers.standing})`;
const refresherName = sql<string>`coalesce((select p.name from people p where p.id = ${tethers.refreshedBy}), '')`;

const SORTS: Record<LedgerColumn, SQL> = {
  name: sql`lower(${tethers.name})`,
  document: sql`lower(${documents.name})`,
  form: sql`${tethers.form}`,
  source: sql`lower(${sourcePath})`,
  mode: modeKind,
  standing: standingRank,
  refreshed: sql`${tethers.refreshedAt}`,
  by: sql`lower(${refresherName})`,
};

const GROUPS: Record<LedgerGroup, { order: SQL; label: SQL<string> }> = {
  document: { order: SORTS.document, label: sql<string>`${documents.name}` },
  source: { order: SORTS.source, label: sourcePath },
  standing: { order: standingRank, label: sql<string>`${tethers.standing}` },
  mode: { order: modeKind, label: modeKind },
  form: { order: SORTS.form, label: sql<string>`${tethers.form}` },
  by: { order: SORTS.by, label: refresherName },
};

/** One page of the tethers that stand in documents, with how many there are in all and in each group. */
export async function pageLedger(
  db: Database,
  query: LedgerQuery,
  page: number,
  personId: string,
): Promise<LedgerPage> {
  const where = conditionOf(query);
  const turn = query.down ? desc : asc;
  const order = [
    ...(query.group ? [asc(GROUPS[query.group].order), asc(GROUPS[query.group].label)] : []),
    ...(query.sort ? [turn(SORTS[query.sort])] : [asc(standingRank), asc(SORTS.document)]),
    asc(SORTS.name),
  ];
  const [rows, total, groups] = await Promise.all([
    describeTethers(db, { where, order, limit: LEDGER_PAGE, offset: page * LEDGER_PAGE }, personId),
    countRows(db, where),
    query.group ? countGroups(db, where, query.group) : [],
  ]);
  return { rows, total, groups };
}

/** Ids of all tethers that the question finds. */
export async function ledgerIds(db: Database, query: LedgerQuery): Promise<string[]> {
  const rows = await found(db, conditionOf(query));
  return rows.map(({ id }) => id);
}

/** The tethers under a condition, each with the label of its group and what orders it. */
function found(db: Database, where: SQL | undefined, group: LedgerGroup = 'document') {
  return db
    .select({
      id: tethers.id,
      label: GROUPS[group].label.as('label'),
      rank: sql<string>`${GROUPS[group].order}`.as('rank'),
    })
    .from(tethers)
    .innerJoin(sources, eq(sources.id, tethers.sourceId))
    .innerJoin(sourceFolders, eq(sourceFolders.id, sources.folderId))
    .innerJoin(documents, eq(documents.id, tethers.documentId))
    .where(where);
}

async function countRows(db: Database, where: SQL | undefined): Promise<number> {
  const [row] = await db.select({ total: count() }).from(found(db, where).as('found'));
  return row!.total;
}

function countGroups(
  db: Database,
  where: SQL | undefined,
  group: LedgerGroup,
): Promise<{ label: string; count: number }[]> {
  const rows = found(db, where, group).as('found');
  return db
    .select({ label: rows.label, count: count() })
    .from(rows)
    .groupBy(rows.rank, rows.label)
    .orderBy(asc(rows.rank), asc(rows.label));
}

function conditionOf(query: LedgerQuery): SQL | undefined {
  const { words, standing, document, source, mode, form, by, needs } = query;
  const patterns = (words ?? '')
    .split(/\s+/)
    .filter((word) => word !== '')
    .map((word) => `%${word.replace(/[\\%_]/g, '\\$&')}%`);
  return and(
    eq(tethers.placed, true),
    ...patterns.map(
      (pattern) =>
        sql`(${tethers.name} || ' ' || ${documents.name} || ' ' || ${sourcePath}) ilike ${pattern}`,
    ),
    standing ? eq(tethers.standing, standing) : undefined,
    document ? eq(tethers.documentId, document) : undefined,
    source ? eq(tethers.sourceId, source) : undefined,
    mode ? eq(modeKind, mode) : undefined,
    form ? eq(tethers.form, form) : undefined,
    by ? eq(tethers.refreshedBy, by) : undefined,
    needs ? needsSomebody : undefined,
  );
}

/** The sources that these objects take of, each with its objects. */
export async function sourcesOf(db: Database, ids: readonly string[]): Promise<LedgerSource[]> {
  const rows = await db
    .select({
      id: sources.id,
      path: sql<string>`${sourceFolders.name} || '/' || ${sources.path}`,
      ids: sql<string[]>`array_agg(${tethers.id})`,
    })
    .from(tethers)
    .innerJoin(sources, eq(sources.id, tethers.sourceId))
    .innerJoin(sourceFolders, eq(sourceFolders.id, sources.folderId))
    .where(isOneOf(tethers.id, new Set(ids)))
    .groupBy(sources.id, sourceFolders.name, sources.path);
  return rows.sort((a, b) => b.ids.length - a.ids.length || (a.path < b.path ? -1 : 1));
}

/** The questions that a person keeps. */
export function listViews(db: Database, personId: string): Promise<SavedView[]> {
  return db
    .select({ id: savedViews.id, name: savedViews.name, query: savedViews.query })
    .from(savedViews)
    .where(eq(savedViews.personId, personId))
    .orderBy(asc(savedViews.name));
}

/** Keeps a question; one of the same name is replaced. */
export async function storeView(
  db: Database,
  personId: string,
  { name, query }: { name: string; query: LedgerQuery },
): Promise<SavedView> {
  const [row] = await db
    .insert(savedViews)
    .values({ personId, name, query })
    .onConflictDoUpdate({ target: [savedViews.personId, savedViews.name], set: { query } })
    .returning({ id: savedViews.id, name: savedViews.name, query: savedViews.query });
  return row!;
}

/** Forgets a question of a person. */
export async function deleteView(db: Database, personId: string, id: string): Promise<void> {
  await db.delete(savedViews).where(and(eq(savedViews.personId, personId), eq(savedViews.id, id)));
}

/** Everybody, for choosing whose steps are shown. */
export function listPeople(db: Database): Promise<{ id: string; name: string }[]> {
  return db.select({ id: people.id, name: people.name }).from(people).orderBy(asc(people.name));
}

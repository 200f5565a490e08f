import { randomUUID } from 'node:crypto';
import type { LogEntry, LogPage, LogQuery } from '@tether/contract';
import type { ChangeSlip } from '@tether/core';
import { and, count, desc, eq, gte, isNotNull, isNull, lt, sql } from 'drizzle-orm';
import type { Database } from './database.ts';
import { insertRows, isOneOf } from './rows.ts';
import { documents, logEntries, people } from './schema.ts';

const PAGE = 50;
/** Entries of one page that has grown since it was opened. */
const MOST_SINCE = 2_000;

/** Writes entries into the log. What a person did to several at once, or named as one, belongs together. */
export async function insertLog(
  db: Database,
  entries: (typeof logEntries.$inferInsert)[],
  act: string | null = null,
): Promise<void> {
  const isMany = entries.length > 1 && entries.every(({ personId }) => Boolean(personId));
  const name = act ?? (isMany ? randomUUID() : null);
  await insertRows(
    db,
    logEntries,
    name ? entries.map((each) => ({ ...each, act: name })) : entries,
  );
}

/** A page of the log, the latest first. */
export async function pageLog(db: Database, query: LogQuery): Promise<LogPage> {
  const { before, since, document, source, person, kind } = query;
  const rows = await db
    .select({ entry: logEntries, person: people.name, documentName: documents.name })
    .from(logEntries)
    .leftJoin(people, eq(people.id, logEntries.personId))
    .leftJoin(documents, eq(documents.id, logEntries.documentId))
    .where(
      and(
        before ? lt(logEntries.id, before) : undefined,
        since ? gte(logEntries.id, since) : undefined,
        document ? eq(logEntries.documentId, document) : undefined,
        source ? eq(logEntries.sourceId, source) : undefined,
        person === 'nobody'
          ? isNull(logEntries.personId)
          : person
            ? eq(logEntries.personId, person)
            : undefined,
        kind ? eq(logEntries.kind, kind) : undefined,
      ),
    )
    .orderBy(desc(logEntries.id))
    .limit(since ? MOST_SINCE : PAGE + 1);
  const acts = await countActs(
    db,
    rows.flatMap(({ entry }) => entry.act ?? []),
  );
  const entries = rows
    .slice(0, since ? MOST_SINCE : PAGE)
    .map(({ entry, person: by, documentName }) => ({
      id: entry.id,
      at: entry.at.toISOString(),
      kind: entry.kind,
      person: by,
      how: entry.how,
      act: (entry.act && acts.get(entry.act)) || null,
      document: entry.documentId ? { id: entry.documentId, name: documentName ?? '' } : null,
      tether: entry.tetherId ? { id: entry.tetherId, name: entry.tetherName ?? '' } : null,
      source: entry.source,
      summary: entry.summary,
      hasSlip: entry.slip !== null || entry.undo?.kind === 'state',
      canTakeBack: entry.undo !== null && entry.takenBackAt === null,
      takenBackAt: entry.takenBackAt?.toISOString() ?? null,
    }));
  return { entries, next: !since && rows.length > PAGE ? entries.at(-1)!.id : null };
}

/** What there is to know of these acts; of one that has a single entry nothing, since that stands for itself. */
async function countActs(
  db: Database,
  acts: readonly string[],
): Promise<Map<string, NonNullable<LogEntry['act']>>> {
  if (acts.length === 0) return new Map();
  const rows = await db
    .select({
      id: sql<string>`${logEntries.act}`,
      count: count(),
      open: sql`count(*) filter (where ${logEntries.undo} is not null and ${logEntries.takenBackAt} is null)`.mapWith(
        Number,
      ),
    })
    .from(logEntries)
    .where(isOneOf(logEntries.act, new Set(acts)))
    .groupBy(logEntries.act);
  return new Map(rows.filter((row) => row.count > 1).map((row) => [row.id, row]));
}

/** The entries of an act that can be taken back, the latest first. */
export async function listActEntries(db: Database, act: string): Promise<number[]> {
  const rows = await db
    .select({ id: logEntries.id })
    .from(logEntries)
    .where(and(eq(logEntries.act, act), isNotNull(logEntries.undo), isNull(logEntries.takenBackAt)))
    .orderBy(desc(logEntries.id));
  return rows.map(({ id }) => id);
}

export type LogRow = typeof logEntries.$inferSelect;

/** One entry of the log, locked for the running transaction. */
export async function lockEntry(tx: Database, id: number): Promise<LogRow | null> {
  const [row] = await tx
    .select()
    .from(logEntries)
    .where(eq(logEntries.id, id))
    .for('no key update');
  return row ?? null;
}

/** One entry of the log. */
export async function findEntry(db: Database, id: number): Promise<LogRow | null> {
  const [row] = await db.select().from(logEntries).where(eq(logEntries.id, id));
  return row ?? null;
}

/** Keeps the slip of an entry whose states are not kept any more. */
export async function setSlip(db: Database, id: number, slip: ChangeSlip): Promise<void> {
  await db.update(logEntries).set({ slip }).where(eq(logEntries.id, id));
}

/** Records that an entry's step was taken back. */
export async function markTakenBack(db: Database, id: number): Promise<void> {
  await db.update(logEntries).set({ takenBackAt: new Date() }).where(eq(logEntries.id, id));
}

/** Of these objects those that were taken out of their text before. */
export async function listPutBack(db: Database, ids: readonly string[]): Promise<Set<string>> {
  if (ids.length === 0) return new Set();
  const rows = await db
    .selectDistinct({ id: logEntries.tetherId })
    .from(logEntries)
    .where(and(eq(logEntries.kind, 'taken out'), isOneOf(logEntries.tetherId, ids)));
  return new Set(rows.flatMap(({ id }) => id ?? []));
}

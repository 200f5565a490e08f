import type { LogPage, LogQuery } from '@tether/contract';
import type { ChangeSlip } from '@tether/core';
import { and, desc, eq, isNull, lt } from 'drizzle-orm';
import type { Database } from './database.ts';
import { insertRows } from './rows.ts';
import { documents, logEntries, people } from './schema.ts';

const PAGE = 50;

/** Writes entries into the log. */
export async function insertLog(
  db: Database,
  entries: (typeof logEntries.$inferInsert)[],
): Promise<void> {
  await insertRows(db, logEntries, entries);
}

/** A page of the log, the latest first. */
export async function pageLog(db: Database, query: LogQuery): Promise<LogPage> {
  const { before, document, source, person, kind } = query;
  const rows = await db
    .select({ entry: logEntries, person: people.name, documentName: documents.name })
    .from(logEntries)
    .leftJoin(people, eq(people.id, logEntries.personId))
    .leftJoin(documents, eq(documents.id, logEntries.documentId))
    .where(
      and(
        before ? lt(logEntries.id, before) : undefined,
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
    .limit(PAGE + 1);
  const entries = rows.slice(0, PAGE).map(({ entry, person: by, documentName }) => ({
    id: entry.id,
    at: entry.at.toISOString(),
    kind: entry.kind,
    person: by,
    how: entry.how,
    document: entry.documentId ? { id: entry.documentId, name: documentName ?? '' } : null,
    tether: entry.tetherId ? { id: entry.tetherId, name: entry.tetherName ?? '' } : null,
    source: entry.source,
    summary: entry.summary,
    hasSlip: entry.slip !== null || entry.undo?.kind === 'state',
    canTakeBack: entry.undo !== null && entry.takenBackAt === null,
    takenBackAt: entry.takenBackAt?.toISOString() ?? null,
  }));
  return { entries, next: rows.length > PAGE ? entries.at(-1)!.id : null };
}

/** One entry of the log. */
export async function findEntry(
  db: Database,
  id: number,
): Promise<typeof logEntries.$inferSelect | null> {
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

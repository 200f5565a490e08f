import type { LogPage, LogQuery } from '@tether/contract';
import { and, desc, eq, lt } from 'drizzle-orm';
import type { Database } from './database.ts';
import { documents, logEntries, people } from './schema.ts';

const PAGE = 50;

/** Writes entries into the log. */
export async function insertLog(
  db: Database,
  entries: (typeof logEntries.$inferInsert)[],
): Promise<void> {
  if (entries.length > 0) await db.insert(logEntries).values(entries);
}

/** A page of the log, the latest first. */
export async function pageLog(db: Database, { before, document }: LogQuery): Promise<LogPage> {
  const rows = await db
    .select({ entry: logEntries, person: people.name, documentName: documents.name })
    .from(logEntries)
    .leftJoin(people, eq(people.id, logEntries.personId))
    .leftJoin(documents, eq(documents.id, logEntries.documentId))
    .where(
      and(
        before ? lt(logEntries.id, before) : undefined,
        document ? eq(logEntries.documentId, document) : undefined,
      ),
    )
    .orderBy(desc(logEntries.id))
    .limit(PAGE + 1);
  const entries = rows.slice(0, PAGE).map(({ entry, person, documentName }) => ({
    id: entry.id,
    at: entry.at.toISOString(),
    kind: entry.kind,
    person,
    document: entry.documentId ? { id: entry.documentId, name: documentName ?? '' } : null,
    tether: entry.tetherId ? { id: entry.tetherId, name: entry.tetherName ?? '' } : null,
    source: entry.source,
    summary: entry.summary,
    slip: entry.slip,
  }));
  return { entries, next: rows.length > PAGE ? entries.at(-1)!.id : null };
}

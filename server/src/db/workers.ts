import { eq, sql } from 'drizzle-orm';
import type { Database } from './database.ts';
import { workers } from './schema.ts';

export type WorkerRow = typeof workers.$inferSelect;

/** Says that a process is there, and which jobs it is doing. All times are those of the database. */
export async function reportWorker(
  db: Database,
  { id, host, pid, kind, jobs }: Pick<WorkerRow, 'id' | 'host' | 'pid' | 'kind' | 'jobs'>,
): Promise<void> {
  await db
    .insert(workers)
    .values({ id, host, pid, kind, jobs })
    .onConflictDoUpdate({ target: workers.id, set: { jobs, seenAt: sql`now()` } });
}

/** Takes a process off the list. */
export async function removeWorker(db: Database, id: string): Promise<void> {
  await db.delete(workers).where(eq(workers.id, id));
}

/** The processes that are there. */
export function listWorkers(db: Database): Promise<WorkerRow[]> {
  return db.select().from(workers).orderBy(workers.startedAt);
}

/** Takes processes that were not seen for so many seconds off the list, and gives them. */
export function takeLostWorkers(db: Database, seconds: number): Promise<WorkerRow[]> {
  return db
    .delete(workers)
    .where(sql`${workers.seenAt} < now() - make_interval(secs => ${seconds})`)
    .returning();
}

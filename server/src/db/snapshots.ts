import { createHash } from 'node:crypto';
import type { Snapshot } from '@tether/core';
import { inArray } from 'drizzle-orm';
import type { Database } from './database.ts';
import { snapshots } from './schema.ts';

/** SHA-256 of the snapshot's content, hexadecimal. Snapshots are built key by key in one order, so equal ones agree. */
export function hashSnapshot(snapshot: Snapshot): string {
  return createHash('sha256').update(JSON.stringify(snapshot)).digest('hex');
}

/** Stores a snapshot unless it is there already, and returns its hash. */
export async function storeSnapshot(db: Database, content: Snapshot): Promise<string> {
  const hash = hashSnapshot(content);
  await db.insert(snapshots).values({ hash, content }).onConflictDoNothing();
  return hash;
}

/** The snapshots with these hashes. */
export async function findSnapshots(
  db: Database,
  hashes: readonly string[],
): Promise<Map<string, Snapshot>> {
  if (hashes.length === 0) return new Map();
  const rows = await db
    .select()
    .from(snapshots)
    .where(inArray(snapshots.hash, [...new Set(hashes)]));
  return new Map(rows.map(({ hash, content }) => [hash, content]));
}

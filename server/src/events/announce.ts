import type { LiveEvent } from '@tether/contract';
import { sql } from 'drizzle-orm';
import type { Database } from '../db/database.ts';

/** Channels of the database on which processes hear of each other. */
export const CHANNELS = {
  /** What every open screen is told, whichever process it is connected to. */
  events: 'tether_events',
  /** A job waits. */
  jobs: 'tether_jobs',
  /** Something was written in a document: its id. */
  updates: 'tether_updates',
  /** Who is in a document, and where. */
  presence: 'tether_presence',
  /** Source folders were added, renamed or removed. */
  folders: 'tether_folders',
  /** The data were replaced as a whole. */
  reset: 'tether_reset',
} as const;

/**
 * Tells every open screen of every process. Within a transaction they hear of it when it is committed, and not at all
 * when it is not.
 */
export async function announce(db: Database, ...events: LiveEvent[]): Promise<void> {
  const texts = [...new Set(events.map((event) => JSON.stringify(event)))];
  if (texts.length === 0) return;
  await db.execute(sql`
    select pg_notify(${CHANNELS.events}, event) from unnest(${sql.param(texts)}::text[]) event`);
}

/** Tells every process on one of the channels. */
export async function signal(
  db: Database,
  channel: keyof typeof CHANNELS,
  text = '',
): Promise<void> {
  await db.execute(sql`select pg_notify(${CHANNELS[channel]}, ${text})`);
}

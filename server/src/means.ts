import type { Database } from './db/database.ts';
import type { Locks } from './sources/locks.ts';
import type { SourceReader } from './sources/reader.ts';

/** What work on sources and tethers needs, in every process. */
export interface Means {
  db: Database;
  reader: SourceReader;
  locks: Locks;
}

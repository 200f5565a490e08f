import type { Database } from './db/database.ts';
import type { Locks } from './sources/locks.ts';
import type { SourceReader } from './sources/reader.ts';
import type { Readings } from './sources/readings.ts';

/** What work on sources and tethers needs, in every process. */
export interface Means {
  db: Database;
  reader: SourceReader;
  readings: Readings;
  locks: Locks;
}

import type { Database } from '../db/database.ts';
import type { Comparer } from '../following/comparer.ts';
import type { JobQueue } from '../jobs/queue.ts';
import type { Locks } from '../locks/locks.ts';
import type { SourceReader } from './reading/reader.ts';
import type { Readings } from './reading/readings.ts';
import type { SourceWriter } from './writing/writer.ts';

/** What work on sources and tethers needs, in every process. */
export interface Means {
  db: Database;
  reader: SourceReader;
  readings: Readings;
  locks: Locks;
  comparer: Comparer;
  writer: SourceWriter;
  queue: JobQueue;
}

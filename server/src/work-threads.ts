import { type Comparer, startComparer } from './following/comparer.ts';
import { type SourceReader, startReader } from './sources/reading/reader.ts';
import { type SourceWriter, startWriter } from './sources/writing/writer.ts';

/** The threads in which a process reads, compares and writes, so that it answers meanwhile. */
export interface WorkThreads {
  reader: SourceReader;
  comparer: Comparer;
  writer: SourceWriter;
}

/** Starts them. Sources as they were before something was written into them are kept in the folder `backups`. */
export function startWorkThreads(backups: string): WorkThreads {
  return { reader: startReader(), comparer: startComparer(), writer: startWriter(backups) };
}

/** Ends them; work that is under way in them is given up. */
export async function stopWorkThreads({ reader, comparer, writer }: WorkThreads): Promise<void> {
  await Promise.all([reader.close(), comparer.close(), writer.close()]);
}

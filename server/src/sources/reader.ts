import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { fault } from '@tether/core';
import { Piscina } from 'piscina';
import type { ReadingOutcome, ReadingRequest } from './reading.ts';

/** Reads sources in worker threads, so that a large file never keeps the server from answering. */
export interface SourceReader {
  read(request: ReadingRequest): Promise<ReadingOutcome>;
  /** How many readings were done: for tests that count them. */
  readonly count: number;
  close(): Promise<void>;
}

const TIME_LIMIT_MS = 120_000;

/** Starts the reading threads. */
export function startReader(): SourceReader {
  const pool = new Piscina({
    filename: workerFile(),
    minThreads: 1,
    maxThreads: 2,
    idleTimeout: 60_000,
    resourceLimits: { maxOldGenerationSizeMb: 4096 },
  });
  let count = 0;
  return {
    get count() {
      return count;
    },
    async read(request) {
      count++;
      try {
        return await pool.run(request, { signal: AbortSignal.timeout(TIME_LIMIT_MS) });
      } catch (error) {
        const { name, message } = error as Error;
        const path = request.shownPath;
        const reason =
          name === 'AbortError' || name === 'TimeoutError'
            ? fault('source-too-large', { path, limit: 'reading took over two minutes' })
            : /memory/i.test(message)
              ? fault('source-too-large', { path, limit: 'it needs over 4 GB of memory' })
              : fault('source-unreadable', { path, detail: message });
        return { ok: false, fault: reason, hash: null, bytes: 0 };
      }
    },
    close: () => pool.destroy(),
  };
}

/** The built worker: beside the built server, or in its folder when the server runs from its TypeScript. */
function workerFile(): string {
  const places = ['./read-file.js', '../../dist/read-file.js'].map((place) =>
    fileURLToPath(new URL(place, import.meta.url)),
  );
  const found = places.find((place) => existsSync(place));
  if (!found) throw new Error('The reading worker is not built: run npm run build first.');
  return found;
}

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
  // Built, the worker lies beside the server as plain script; in development it is run from its TypeScript.
  const built = fileURLToPath(new URL('./read-file.js', import.meta.url));
  const isBuilt = existsSync(built);
  const pool = new Piscina({
    filename: isBuilt ? built : fileURLToPath(new URL('./read-file.ts', import.meta.url)),
    execArgv: isBuilt ? [] : ['--import', 'tsx'],
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

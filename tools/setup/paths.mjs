import { createHash } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** The project's folder. */
export const ROOT = dirname(dirname(dirname(fileURLToPath(import.meta.url))));
/** Everything the commands keep between runs; never in version control. */
export const RUN = join(ROOT, '.run');
/** A short name derived from the project's path, for things that must live outside it. */
export const PROJECT_KEY = createHash('sha256').update(ROOT).digest('hex').slice(0, 10);
/** Where the demo keeps its sources. */
export const SOURCES = process.env.TETHER_SOURCES ?? join(ROOT, 'sources');

mkdirSync(RUN, { recursive: true });

import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

/** The built file that a thread runs: beside the built server, or in its folder when the server runs from its TypeScript. */
export function builtWorker(name: 'read-file' | 'compare-packed' | 'write-file'): string {
  const places = [`./${name}.js`, `../dist/${name}.js`].map((place) =>
    fileURLToPath(new URL(place, import.meta.url)),
  );
  const found = places.find((place) => existsSync(place));
  if (!found) throw new Error(`The thread ${name} is not built: run npm run build first.`);
  return found;
}

/**
 * With what threads are started. Their files are modules: they are imported, never required. A thread that is ended while it
 * requires a module takes the whole process down with it (Node.js 20: "IsGraphAsync must be used on an instantiated module").
 */
export const THREAD_ARGUMENTS = process.allowedNodeEnvironmentFlags.has(
  '--experimental-require-module',
)
  ? ['--no-experimental-require-module']
  : [];

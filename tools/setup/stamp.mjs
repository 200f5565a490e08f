import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT, RUN } from './paths.mjs';

const SKIPPED = new Set(['node_modules', 'dist', 'types-out', 'test-results']);

function hashInto(hash, path) {
  if (!existsSync(path)) return;
  if (statSync(path).isDirectory()) {
    for (const name of readdirSync(path).sort()) {
      if (!SKIPPED.has(name)) hashInto(hash, join(path, name));
    }
  } else hash.update(path).update(readFileSync(path));
}

/** Does `work` unless it was done before for the same content of `inputs` (paths below the project's folder). */
export async function unlessDone(name, inputs, isThere, work) {
  const hash = createHash('sha256');
  for (const input of inputs) hashInto(hash, join(ROOT, input));
  const stamp = hash.digest('hex');
  const file = join(RUN, `${name}.stamp`);
  if (isThere() && existsSync(file) && readFileSync(file, 'utf8') === stamp) return;
  await work();
  writeFileSync(file, stamp);
}

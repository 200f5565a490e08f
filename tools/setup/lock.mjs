import { mkdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { RUN } from './paths.mjs';

/** Whether a process with this number runs, and, when `word` is given, has it in its command line. */
export function isRunning(pid, word = '') {
  try {
    // A process that was killed hard stays listed as a zombie until its parent asks for it.
    if (/^State:\s+Z/m.test(readFileSync(`/proc/${pid}/status`, 'utf8'))) return false;
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(word);
  } catch {
    return false;
  }
}

/** Runs `work` while no other command of this project runs work under the same name. */
export async function locked(name, work) {
  const folder = join(RUN, `${name}.lock`);
  const owner = join(folder, 'pid');
  for (;;) {
    try {
      mkdirSync(folder);
      writeFileSync(owner, String(process.pid));
      break;
    } catch (error) {
      if (error.code !== 'EEXIST') throw error;
      if (isAbandoned(folder, owner)) rmSync(folder, { recursive: true, force: true });
      else await wait(100);
    }
  }
  try {
    return await work();
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

function isAbandoned(folder, owner) {
  try {
    return !isRunning(Number(readFileSync(owner, 'utf8')));
  } catch {
    try {
      // Made, but its owner was stopped before it could sign.
      return Date.now() - statSync(folder).mtimeMs > 5000;
    } catch {
      return false;
    }
  }
}

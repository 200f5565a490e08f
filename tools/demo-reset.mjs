import { join } from 'node:path';
import { createInterface } from 'node:readline/promises';
import { installDebianPackages } from './setup/debian.mjs';
import { installPackages } from './setup/packages.mjs';
import { ROOT, SOURCES } from './setup/paths.mjs';
import { run, say } from './setup/say.mjs';

/** `npm run demo:reset`: demo data and sources as they were at first, also under a running server. */
await installDebianPackages();
await installPackages();
const { build } = await import('./setup/build.mjs');
await build();
const { readServerNote, startCluster } = await import('./setup/cluster.mjs');
const { serverEnvironment } = await import('./setup/server.mjs');
const isServing = readServerNote() !== null;
const cluster = await startCluster('cluster');
const reset = (...more) =>
  run(process.execPath, [join(ROOT, 'server/dist/main.js'), '--reset-demo', ...more], {
    env: serverEnvironment({ url: cluster.url, port: 0, sources: SOURCES }),
    quiet: true,
  });
let { code, output } = await reset(...(process.argv.includes('--yes') ? ['--yes'] : []));
const own = /^own (.*)$/m.exec(output);
let isLeft = false;
if (code === 0 && own) {
  say('This deletes what was made beside the demo:');
  for (const each of JSON.parse(own[1])) console.log(`    ${each}`);
  if (await agrees()) ({ code, output } = await reset('--yes'));
  else isLeft = true;
}
if (!isServing) await cluster.stop();
if (code !== 0) console.error(output);
else say(isLeft ? 'Nothing was changed.' : 'The demo is as it was at first. Sign in again.');
process.exit(code === 0 && isLeft && !process.stdin.isTTY ? 1 : code);

/** Asks whoever sits at the terminal; without one the word is `--yes` on the command line. */
async function agrees() {
  if (!process.stdin.isTTY) {
    say('Write npm run demo:reset -- --yes to delete it.');
    return false;
  }
  const asking = createInterface({ input: process.stdin, output: process.stdout });
  const answer = await asking.question('Delete it? Write yes to go on: ');
  asking.close();
  return answer.trim().toLowerCase() === 'yes';
}

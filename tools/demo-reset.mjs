import { join } from 'node:path';
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
const { code } = await run(process.execPath, [join(ROOT, 'server/dist/main.js'), '--reset-demo'], {
  env: serverEnvironment({ url: cluster.url, port: 0, sources: SOURCES }),
});
if (!isServing) await cluster.stop();
if (code === 0) say('The demo is as it was at first. Sign in again.');
process.exit(code);

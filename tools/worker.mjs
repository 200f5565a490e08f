import { join } from 'node:path';
import { installDebianPackages } from './setup/debian.mjs';
import { installPackages } from './setup/packages.mjs';
import { ROOT, SOURCES } from './setup/paths.mjs';
import { giveUp, run, say } from './setup/say.mjs';

/**
 * `npm run worker`: one more process that watches and reads, over the database of the running server, or over that named
 * in DATABASE_URL, also from another machine that sees the same folders at the same places.
 */
await installDebianPackages();
await installPackages();
const { build } = await import('./setup/build.mjs');
await build();
let url = process.env.DATABASE_URL;
if (!url) {
  const { readServerNote, startCluster } = await import('./setup/cluster.mjs');
  if (!readServerNote()) {
    giveUp(
      'No server runs here whose work could be shared.',
      'Start it with npm start, or say with DATABASE_URL where its database is.',
    );
  }
  // It runs already: this only tells where.
  ({ url } = await startCluster('cluster'));
}
const { serverEnvironment } = await import('./setup/server.mjs');
say('Working; Ctrl-C stops this process, the others go on');
const { code } = await run(
  process.execPath,
  ['--enable-source-maps', join(ROOT, 'server/dist/main.js'), '--worker'],
  { cwd: ROOT, env: serverEnvironment({ url, port: 0, sources: SOURCES }) },
);
process.exit(code);

import { join } from 'node:path';
import { chromium, installDebianPackages } from './setup/debian.mjs';
import { installPackages } from './setup/packages.mjs';
import { ROOT } from './setup/paths.mjs';
import { run } from './setup/say.mjs';

/** `npm run screenshots`: takes the pictures in docs/screenshots anew, from the demo. */
await installDebianPackages();
await installPackages();
const { build } = await import('./setup/build.mjs');
await build();
const { startCluster } = await import('./setup/cluster.mjs');
const cluster = await startCluster('test-cluster');
const playwright = join(ROOT, 'node_modules/@playwright/test/cli.js');
const { code } = await run(process.execPath, [playwright, 'test', '-c', 'e2e/pictures.config.ts'], {
  cwd: ROOT,
  env: { ...process.env, TEST_DATABASE_URL: cluster.url, CHROMIUM: chromium() ?? '' },
});
await cluster.stop();
process.exit(code);

import { join } from 'node:path';
import { chromium, installDebianPackages } from './setup/debian.mjs';
import { installPackages } from './setup/packages.mjs';
import { ROOT } from './setup/paths.mjs';
import { run } from './setup/say.mjs';

/**
 * `npm run bench`: the benchmarks, side by side; first the screens in the browser, then the keeping of
 * tethers with a database, then the work behind them. `--screens`
 * measures the screens alone, and keeps nothing.
 */
await installDebianPackages();
await installPackages();
const { build } = await import('./setup/build.mjs');
await build();
const words = process.argv.slice(2);
const { locked } = await import('./setup/lock.mjs');
const { startCluster } = await import('./setup/cluster.mjs');
await locked('test', async () => {
  const cluster = await startCluster('test-cluster');
  const playwright = join(ROOT, 'node_modules/@playwright/test/cli.js');
  await run(process.execPath, [playwright, 'test', '-c', 'e2e/speed.config.ts'], {
    cwd: ROOT,
    env: { ...process.env, TEST_DATABASE_URL: cluster.url, CHROMIUM: chromium() ?? '' },
  });
  if (!words.includes('--screens')) {
    await run(process.execPath, ['--import', 'tsx', join(ROOT, 'bench/src/keeping.ts')], {
      cwd: ROOT,
      env: { ...process.env, TEST_DATABASE_URL: cluster.url },
    });
  }
  await cluster.stop();
});
if (words.includes('--screens')) process.exit(0);
for (const each of ['writing', 'anchors']) {
  await run(process.execPath, ['--import', 'tsx', join(ROOT, `bench/src/${each}.ts`)], {
    cwd: ROOT,
  });
}
const { code } = await run(
  process.execPath,
  ['--import', 'tsx', join(ROOT, 'bench/src/run.ts'), ...words],
  { cwd: ROOT },
);
process.exit(code);

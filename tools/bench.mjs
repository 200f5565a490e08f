import { join } from 'node:path';
import { installPackages } from './setup/packages.mjs';
import { ROOT } from './setup/paths.mjs';
import { run } from './setup/say.mjs';

/** `npm run bench`: the benchmarks, side by side. */
await installPackages();
const { code } = await run(
  process.execPath,
  ['--import', 'tsx', join(ROOT, 'bench/src/run.ts'), ...process.argv.slice(2)],
  { cwd: ROOT },
);
process.exit(code);

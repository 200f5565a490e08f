import { join } from 'node:path';
import { installPackages } from './setup/packages.mjs';
import { ROOT, SOURCES } from './setup/paths.mjs';
import { run } from './setup/say.mjs';

/** `npm run demo:save`: changes a demo source on disk as a colleague would. */
await installPackages();
const { code } = await run(
  process.execPath,
  ['--import', 'tsx', join(ROOT, 'demo/src/save-command.ts'), ...process.argv.slice(2)],
  { cwd: ROOT, env: { ...process.env, TETHER_SOURCES: SOURCES } },
);
process.exit(code);

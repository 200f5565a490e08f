import { join } from 'node:path';
import { installPackages } from './setup/packages.mjs';
import { ROOT, SOURCES } from './setup/paths.mjs';
import { run } from './setup/say.mjs';

/** `npm run office`: the stand-in office, which plays the world outside on the demo's sources. */
await installPackages();
const { code } = await run(
  process.execPath,
  ['--import', 'tsx', join(ROOT, 'demo/src/office-command.ts'), ...process.argv.slice(2)],
  {
    cwd: ROOT,
    env: { ...process.env, TETHER_SOURCES: SOURCES },
  },
);
process.exit(code);

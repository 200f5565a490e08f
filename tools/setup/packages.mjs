import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './paths.mjs';
import { giveUp, run, say } from './say.mjs';
import { unlessDone } from './stamp.mjs';

/** Installs the npm packages as the lock file has them, when that was not done yet. */
export async function installPackages() {
  await unlessDone(
    'packages',
    ['package-lock.json'],
    () => existsSync(join(ROOT, 'node_modules', '.package-lock.json')),
    async () => {
      say('Installing npm packages (once; about two minutes)');
      const args = ['ci', '--no-audit', '--no-fund', '--loglevel=error'];
      const installed = await run('npm', args, { cwd: ROOT, quiet: true });
      if (installed.code !== 0) {
        giveUp(
          `npm ci did not work:\n${installed.output.slice(-1500)}`,
          'Check that the npm registry can be reached, then run the command again.',
        );
      }
    },
  );
}

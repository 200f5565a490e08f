import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './paths.mjs';
import { giveUp, run, say } from './say.mjs';
import { unlessDone } from './stamp.mjs';

/** Our own packages that the server is built from; everything else stays in node_modules. */
const OWN = ['core', 'formats', 'documents', 'contract', 'demo'];

/** Builds server and web application where their sources changed. */
export async function build() {
  const shared = OWN.map((room) => `${room}/src`);
  await unlessDone(
    'server',
    [...shared, 'server/src', 'cli/src', 'package-lock.json', 'tools/setup/build.mjs'],
    () => ['server', 'cli'].every((room) => existsSync(join(ROOT, room, 'dist', 'main.js'))),
    buildServer,
  );
  await unlessDone(
    'web',
    [...shared, 'web', 'package-lock.json'],
    () => existsSync(join(ROOT, 'web', 'dist', 'index.html')),
    async () => {
      say('Building the web application');
      const vite = join(ROOT, 'node_modules', 'vite', 'bin', 'vite.js');
      const built = await run(process.execPath, [vite, 'build', '--logLevel', 'warn'], {
        cwd: join(ROOT, 'web'),
        quiet: true,
      });
      if (built.code !== 0) {
        giveUp(`The web application did not build:\n${built.output}`, 'Mend it and try again.');
      }
    },
  );
}

/** Bundles the server and the command line: our own packages inside, the others outside. */
async function buildServer() {
  say('Building the server and the command line');
  // Imported here, since the packages may have been installed only a moment ago.
  const esbuild = await import('esbuild');
  const ownAliases = Object.fromEntries(
    OWN.map((room) => [`@tether/${room}`, join(ROOT, room, 'src', 'index.ts')]),
  );
  await esbuild.build({
    entryPoints: {
      'server/dist/main': join(ROOT, 'server/src/main.ts'),
      'server/dist/host': join(ROOT, 'server/src/host.ts'),
      'server/dist/read-file': join(ROOT, 'server/src/sources/reading/read-file.ts'),
      'server/dist/compare-packed': join(ROOT, 'server/src/following/compare-packed.ts'),
      'server/dist/write-file': join(ROOT, 'server/src/sources/writing/write-file.ts'),
      'cli/dist/main': join(ROOT, 'cli/src/main.ts'),
    },
    outdir: ROOT,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    sourcemap: true,
    packages: 'external',
    alias: ownAliases,
    logLevel: 'warning',
  });
}

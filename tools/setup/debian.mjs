import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { giveUp, run, say } from './say.mjs';

const POSTGRES_ROOT = '/usr/lib/postgresql';

/** The folder of PostgreSQL's server programs, of the newest version installed, or null. */
export function postgresPrograms() {
  if (!existsSync(POSTGRES_ROOT)) return null;
  const versions = readdirSync(POSTGRES_ROOT)
    .filter((version) => existsSync(join(POSTGRES_ROOT, version, 'bin', 'initdb')))
    .sort((a, b) => Number(b) - Number(a));
  return versions.length > 0 ? join(POSTGRES_ROOT, versions[0], 'bin') : null;
}

/** Debian's Chromium, or null. */
export function chromium() {
  return ['/usr/bin/chromium'].find((path) => existsSync(path)) ?? null;
}

/** The same browser without windows of its own: it does the same for a page with a sixth less work. Or null. */
export function headlessShell() {
  return ['/usr/bin/chromium-headless-shell'].find((path) => existsSync(path)) ?? null;
}

/** What must be there of each package. */
const PRESENT = {
  postgresql: () => postgresPrograms() !== null,
  chromium: () => chromium() !== null,
  'chromium-headless-shell': () => headlessShell() !== null,
  'poppler-utils': () => existsSync('/usr/bin/pdftotext'),
};

/** What the tests need beside what the product needs: tools that read printed pages back, and their own browser. */
export const FOR_TESTS = ['poppler-utils', 'chromium-headless-shell'];

/** Installs Debian's postgresql and chromium, and `more`, where they are missing. */
export async function installDebianPackages(more = []) {
  const stillMissing = () => ['postgresql', 'chromium', ...more].filter((name) => !PRESENT[name]());
  const missing = stillMissing();
  if (missing.length === 0) return;
  const names = missing.join(' and ');
  const command = `apt-get install --yes --no-install-recommends ${missing.join(' ')}`;
  if (process.getuid?.() !== 0) {
    giveUp(
      `Debian's ${names} must be installed first, and this account may not install packages.`,
      `Run once:  sudo apt-get update && sudo ${command}`,
    );
  }
  say(`Installing Debian's ${names} (once; this can take a few minutes)`);
  const options = { quiet: true, env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } };
  await run('apt-get', ['update'], options);
  const installed = await run('apt-get', command.split(' ').slice(1), options);
  if (installed.code !== 0 || stillMissing().length > 0) {
    giveUp(
      `Installing ${names} did not work:\n${installed.output.slice(-1500)}`,
      `Try it by hand:  apt-get update && ${command}`,
    );
  }
}

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

/** Installs Debian's postgresql and chromium where they are missing. */
export async function installDebianPackages() {
  const missing = [
    ...(postgresPrograms() ? [] : ['postgresql']),
    ...(chromium() ? [] : ['chromium']),
  ];
  if (missing.length === 0) return;
  const command = `apt-get install --yes --no-install-recommends ${missing.join(' ')}`;
  if (process.getuid?.() !== 0) {
    giveUp(
      `Debian's ${missing.join(' and ')} must be installed first, and this account may not install packages.`,
      `Run once:  sudo apt-get update && sudo ${command}`,
    );
  }
  say(`Installing Debian's ${missing.join(' and ')} (once; this can take a few minutes)`);
  const options = { quiet: true, env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } };
  await run('apt-get', ['update'], options);
  const installed = await run('apt-get', command.split(' ').slice(1), options);
  if (installed.code !== 0 || !postgresPrograms() || !chromium()) {
    giveUp(
      `Installing ${missing.join(' and ')} did not work:\n${installed.output.slice(-1500)}`,
      `Try it by hand:  apt-get update && ${command}`,
    );
  }
}

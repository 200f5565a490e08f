import { join } from 'node:path';
import { ROOT } from './setup/paths.mjs';
import { run } from './setup/say.mjs';

/** Fails when a room imports from above its floor. */
const cruiser = join(ROOT, 'node_modules/dependency-cruiser/bin/dependency-cruise.mjs');
const rooms = ['core', 'formats', 'documents', 'contract', 'demo', 'server', 'web', 'cli'].map(
  (room) => `${room}/src`,
);
const args = [cruiser, '--config', 'tools/rooms.cjs', '--output-type', 'err', ...rooms];
const { code } = await run(process.execPath, args, { cwd: ROOT });
process.exit(code);

import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { installDebianPackages } from './setup/debian.mjs';
import { installPackages } from './setup/packages.mjs';
import { ROOT, SOURCES } from './setup/paths.mjs';
import { freePort } from './setup/port.mjs';
import { say } from './setup/say.mjs';

/** `npm run dev`: server and web application that reload on every change, on the data of `npm start`. */
await installDebianPackages();
await installPackages();
const { build } = await import('./setup/build.mjs');
await build();
const { startCluster } = await import('./setup/cluster.mjs');
const { serverEnvironment } = await import('./setup/server.mjs');
const cluster = await startCluster('cluster');
const apiPort = await freePort(4410);
const webPort = await freePort(5173);

const children = [
  // The bundled reading worker stays as it was built; everything else is run from its source.
  start(['--import', 'tsx', '--watch', 'server/src/main.ts'], ROOT, {
    ...serverEnvironment({ url: cluster.url, port: apiPort, sources: SOURCES }),
    NODE_ENV: 'development',
  }),
  start([join(ROOT, 'node_modules/vite/bin/vite.js')], join(ROOT, 'web'), {
    ...process.env,
    API_PORT: String(apiPort),
    WEB_PORT: String(webPort),
  }),
];
say(`Working on it at http://localhost:${webPort} (API on ${apiPort}); Ctrl-C stops`);

let isStopping = false;
const stop = async () => {
  if (isStopping) return;
  isStopping = true;
  for (const child of children) child.kill('SIGTERM');
  await Promise.all(
    children.map((child) =>
      child.exitCode === null ? new Promise((done) => child.once('exit', done)) : null,
    ),
  );
  await cluster.stop();
  process.exit(0);
};
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void stop());

function start(args, cwd, env) {
  return spawn(process.execPath, args, { cwd, env, stdio: ['ignore', 'inherit', 'inherit'] });
}

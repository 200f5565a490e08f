import { chromium, installDebianPackages } from './setup/debian.mjs';
import { installPackages } from './setup/packages.mjs';
import { SOURCES } from './setup/paths.mjs';
import { freePort } from './setup/port.mjs';
import { giveUp, say } from './setup/say.mjs';

/** `npm start`: everything from a bare machine to the running product. */
await installDebianPackages();
await installPackages();
const { build } = await import('./setup/build.mjs');
await build();

const { readServerNote, startCluster, writeServerNote } = await import('./setup/cluster.mjs');
const running = readServerNote();
if (running) {
  giveUp(
    `Obedient Tether already runs here: http://localhost:${running.port}`,
    `Open that address, or stop it first with Ctrl-C where it was started (process ${running.pid}).`,
  );
}
// A database of one's own serves several machines; without one, that of this project does.
const shared = process.env.DATABASE_URL;
if (!shared) say('Starting the database');
const cluster = shared
  ? { url: shared, stop: async () => undefined }
  : await startCluster('cluster');

const { serverEnvironment, startServer } = await import('./setup/server.mjs');
const wanted = Number(process.env.PORT ?? 4310);
const port = await freePort(wanted);
if (port !== wanted) say(`Port ${wanted} is taken: using ${port}`);
say('Starting the server');

let isStopping = false;
let server = null;
const stop = async (code) => {
  if (isStopping) return;
  isStopping = true;
  console.log('');
  say('Stopping');
  await server?.stop();
  await cluster.stop();
  process.exit(code);
};
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop(0));

try {
  server = await startServer({
    ...serverEnvironment({ url: cluster.url, port, sources: SOURCES }),
    CHROMIUM: chromium() ?? '',
  });
} catch (error) {
  console.error(error.message);
  await stop(1);
}
writeServerNote({ pid: process.pid, port: server.port });
void server.ended.then((code) => stop(code));

console.log(`
  Obedient Tether is at  http://localhost:${server.port}

  Sign in as             ines    Ines Fallow, programme officer (owner)
                         tam     Tam Reedsby, field ecologist (editor)
                         odile   Odile Marram, trustee (views only)
  Password               saltmarsh

  The source files are in ${SOURCES}
  Save one as a colleague would:
    npm run demo:save -- monitoring/planting-counts.xlsx 'Counts!D8=104'

  Ctrl-C stops everything.
`);

import {
  chmodSync,
  chownSync,
  existsSync,
  mkdirSync,
  readFileSync,
  readlinkSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { postgresPrograms } from './debian.mjs';
import { isRunning, locked } from './lock.mjs';
import { PROJECT_KEY, RUN } from './paths.mjs';
import { freePort } from './port.mjs';
import { giveUp, run, say } from './say.mjs';

/** PostgreSQL refuses to run as root: then its own account does the work. */
const isRoot = process.getuid() === 0;
const account = isRoot ? postgresAccount() : null;
const USER = 'tether';

function postgresAccount() {
  const line = readFileSync('/etc/passwd', 'utf8')
    .split('\n')
    .find((each) => each.startsWith('postgres:'));
  if (!line) return null;
  const [, , uid, gid] = line.split(':');
  return { uid: Number(uid), gid: Number(gid) };
}

/**
 * Starts the project's private PostgreSQL cluster `name` and makes sure it has the database. Nothing of the system's
 * own cluster is touched: data, socket and port are the project's.
 * @returns {Promise<{ url: string, stop: () => Promise<void>, crash: () => Promise<void> }>} the database's address, and
 * the ways to stop it, and to let it crash and come back at the same address
 */
export async function startCluster(name) {
  const programs = postgresPrograms();
  const home = clusterHome(name);
  const data = join(home, 'data');
  return locked(`cluster-${name}`, async () => {
    if (!existsSync(join(data, 'PG_VERSION'))) await initialise(programs, home, data);
    const running = runningServer(data);
    const port = running?.port ?? (await launch(programs, home, data));
    const url = `postgresql://${USER}@127.0.0.1:${port}/tether`;
    await createDatabase(programs, home, port);
    return {
      url,
      stop: () => stopCluster(programs, data),
      crash: () => crashCluster(programs, home, data),
    };
  });
}

/** Where the cluster lives: in the project, or outside where the project's folder is closed to PostgreSQL's account. */
function clusterHome(name) {
  const inside = join(RUN, name);
  const home =
    isRoot && !isOpenToOthers(RUN) ? join('/var/tmp', `tether-${PROJECT_KEY}-${name}`) : inside;
  mkdirSync(home, { recursive: true });
  chmodSync(home, 0o755);
  if (account) chownSync(home, account.uid, account.gid);
  return home;
}

/** Whether every folder on the way may be entered by any account. */
function isOpenToOthers(folder) {
  for (let path = folder; path !== dirname(path); path = dirname(path)) {
    if ((statSync(path).mode & 0o001) === 0) return false;
  }
  return true;
}

async function initialise(programs, home, data) {
  say('Creating a private PostgreSQL cluster');
  const fresh = join(home, `new-${process.pid}`);
  rmSync(data, { recursive: true, force: true });
  const made = await asAccount(join(programs, 'initdb'), [
    '-D',
    fresh,
    '-U',
    USER,
    '-A',
    'trust',
    '-E',
    'UTF8',
    '--locale=C.UTF-8',
    '--no-sync',
  ]);
  if (made.code !== 0) {
    giveUp(`PostgreSQL could not create its cluster:\n${made.output}`, `Look at ${home}.`);
  }
  renameSync(fresh, data);
}

/** The server that runs on `data`, known by its working folder: the pid in its file may be another process by now. */
function runningServer(data) {
  try {
    const [pid, , , port] = readFileSync(join(data, 'postmaster.pid'), 'utf8').split('\n');
    if (readlinkSync(`/proc/${pid}/cwd`) !== data) return null;
    const state = /^State:\s+(\S)/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1];
    return state === 'Z' ? null : { pid: Number(pid), port: Number(port) };
  } catch {
    return null;
  }
}

async function launch(programs, home, data) {
  const sockets = socketFolder(home);
  let started = { code: 1, output: '' };
  for (let tries = 0; tries < 3; tries++) {
    rmSync(join(data, 'postmaster.pid'), { force: true });
    const port = await freePort();
    const options = [
      `-p ${port}`,
      '-c listen_addresses=127.0.0.1',
      `-c unix_socket_directories=${sockets}`,
      '-c max_connections=60',
      '-c shared_buffers=64MB',
    ].join(' ');
    const log = join(home, 'postgresql.log');
    started = await asAccount(join(programs, 'pg_ctl'), [
      '-D',
      data,
      '-l',
      log,
      '-w',
      '-t',
      '60',
      '-o',
      options,
      'start',
    ]);
    if (started.code === 0) return port;
    // After a hard kill the old server's helpers need a moment to let go of its memory.
    await wait(1500);
  }
  return giveUp(
    `PostgreSQL did not start:\n${started.output}`,
    `Its own account of it is in ${join(home, 'postgresql.log')}.`,
  );
}

/** A socket's path may not be longer than some 100 bytes, so it does not go below a deep project folder. */
function socketFolder(home) {
  if (home.length < 80) return home;
  const short = join(tmpdir(), `tether-${PROJECT_KEY}`);
  mkdirSync(short, { recursive: true });
  if (account) chownSync(short, account.uid, account.gid);
  return short;
}

async function createDatabase(programs, home, port) {
  const made = await run(
    join(programs, 'createdb'),
    ['-h', '127.0.0.1', '-p', String(port), '-U', USER, 'tether'],
    { quiet: true, cwd: '/' },
  );
  if (made.code !== 0 && !made.output.includes('already exists')) {
    giveUp(`The database could not be made:\n${made.output}`, `Look at ${home}.`);
  }
}

async function stopCluster(programs, data) {
  const server = runningServer(data);
  if (!server) return;
  await asAccount(join(programs, 'pg_ctl'), ['-D', data, '-m', 'fast', '-w', 'stop']);
  for (let n = 0; n < 50 && isRunning(server.pid) && runningServer(data); n++) await wait(100);
}

async function crashCluster(programs, home, data) {
  const log = join(home, 'postgresql.log');
  // `immediate` writes nothing down first: what was promised is recovered from the log of the database.
  const options = ['-D', data, '-l', log, '-m', 'immediate', '-w', 'restart'];
  const { code, output } = await asAccount(join(programs, 'pg_ctl'), options);
  if (code !== 0) throw new Error(`PostgreSQL did not come back:\n${output}`);
}

function asAccount(program, args) {
  if (!isRoot) return run(program, args, { quiet: true, cwd: '/' });
  if (!account) giveUp('The account “postgres” is missing.', 'Reinstall Debian’s postgresql.');
  return run('runuser', ['-u', 'postgres', '--', program, ...args], { quiet: true, cwd: '/' });
}

/** Keeps the address of the running server, so that other commands find it. */
export function writeServerNote(note) {
  writeFileSync(join(RUN, 'server.json'), JSON.stringify(note));
}

/** The server that `npm start` runs now, or null. */
export function readServerNote() {
  try {
    const note = JSON.parse(readFileSync(join(RUN, 'server.json'), 'utf8'));
    return isRunning(note.pid, 'start.mjs') ? note : null;
  } catch {
    return null;
  }
}

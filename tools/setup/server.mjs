import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { ROOT, RUN } from './paths.mjs';

/** What the server process needs to know. */
export function serverEnvironment({ url, port, sources }) {
  return {
    ...process.env,
    NODE_ENV: 'production',
    DATABASE_URL: url,
    MIGRATIONS: join(ROOT, 'server', 'migrations'),
    WEB_ROOT: join(ROOT, 'web', 'dist'),
    TETHER_SOURCES: sources,
    TETHER_BACKUPS: process.env.TETHER_BACKUPS ?? join(RUN, 'backups'),
    PORT: String(port),
  };
}

/**
 * Starts the built server and resolves once it listens.
 * @returns {Promise<{ port: number, pid: number, stop: () => Promise<void>, ended: Promise<number> }>}
 */
export function startServer(environment, { onLine = console.log } = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(
      process.execPath,
      ['--enable-source-maps', join(ROOT, 'server/dist/main.js')],
      {
        cwd: ROOT,
        env: environment,
        stdio: ['ignore', 'pipe', 'inherit'],
        // Ctrl-C reaches the whole group; the command itself passes it on in the right order.
        detached: true,
      },
    );
    const ended = new Promise((done) => child.on('close', (code) => done(code ?? 1)));
    ended.then((code) =>
      reject(new Error(`The server ended before it listened (exit code ${code}).`)),
    );
    const stop = async () => {
      child.kill('SIGTERM');
      const timer = setTimeout(() => child.kill('SIGKILL'), 10_000);
      await ended;
      clearTimeout(timer);
    };
    createInterface({ input: child.stdout }).on('line', (line) => {
      const port = /^listening (\d+)$/.exec(line)?.[1];
      if (port) resolve({ port: Number(port), pid: child.pid, stop, ended });
      else onLine(line);
    });
  });
}

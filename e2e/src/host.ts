import { type ChildProcess, fork } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { HostAnswer, HostOrder } from '@tether/server/host';
import type { ServeSettings } from '@tether/server/serve';

const at = (path: string) => fileURLToPath(new URL(`../../${path}`, import.meta.url));

/**
 * The process that serves the products of one worker of the tests, one after the other. A process that served some stories
 * already answers several times as fast as one that was just started, and always at the same port, so that browsers know
 * its scripts already.
 */
export class Host {
  private static own: Host | null = null;
  /** 0 until something was served. */
  port = 0;
  private child: ChildProcess | null = null;
  private lines: string[] = [];
  private readonly backups = mkdtempSync(join(tmpdir(), 'tether-e2e-backups-'));

  private constructor() {
    process.once('exit', () => {
      this.child?.kill('SIGKILL');
      rmSync(this.backups, { recursive: true, force: true });
    });
  }

  static ofThisProcess(): Host {
    Host.own ??= new Host();
    return Host.own;
  }

  /** What it said since it serves what it serves. */
  get said(): string {
    return this.lines.join('');
  }

  /** Serves a product instead of what was served before. */
  async serve(
    product: Pick<ServeSettings, 'databaseUrl' | 'sources' | 'office' | 'demo'>,
  ): Promise<void> {
    this.child ??= this.start();
    this.lines = [];
    const answer = await this.ask({
      serve: {
        ...product,
        migrations: at('server/migrations'),
        webRoot: at('web/dist'),
        roots: [],
        port: this.port,
        works: true,
      },
    });
    if ('port' in answer) this.port = answer.port;
  }

  /** Serves nothing until it is told to again. */
  async stop(): Promise<void> {
    if (this.child) await this.ask({ stop: true });
  }

  /** Ends the process as an operator does. */
  async end(): Promise<void> {
    await this.stop();
    const { child } = this;
    this.child = null;
    if (!child) return;
    const ended = new Promise((done) => child.once('exit', done));
    child.disconnect();
    await ended;
  }

  private start(): ChildProcess {
    const child = fork(at('server/dist/host.js'), {
      cwd: at('.'),
      env: { ...process.env, NODE_ENV: 'production', TETHER_BACKUPS: this.backups },
      execArgv: ['--enable-source-maps'],
      stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
    });
    const hear = (piece: Buffer) => this.lines.push(piece.toString());
    child.stdout!.on('data', hear);
    child.stderr!.on('data', hear);
    return child;
  }

  private ask(order: HostOrder): Promise<HostAnswer> {
    const child = this.child!;
    return new Promise((resolve, reject) => {
      const ended = (code: number | null) =>
        reject(new Error(`The server ended (exit code ${code}):\n${this.said}`));
      child.once('exit', ended);
      child.once('message', (answer: HostAnswer) => {
        child.off('exit', ended);
        if ('failed' in answer) reject(new Error(`The server failed: ${answer.failed}`));
        else resolve(answer);
      });
      child.send(order);
    });
  }
}

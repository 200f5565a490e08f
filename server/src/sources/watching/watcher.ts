import type { Dirent } from 'node:fs';
import { readdir, stat } from 'node:fs/promises';
import { join, relative, sep } from 'node:path';
import { SOURCE_ENDINGS } from '@tether/formats';
import chokidar, { type FSWatcher } from 'chokidar';
import type { FolderRow } from '../../db/sources.ts';
import { tell } from '../../tell.ts';

/** What a watched folder reports. Paths are below the folder, with `/` between. */
export interface FolderListener {
  /** Something happened to the file: it appeared, changed or went. */
  onFile(folder: FolderRow, path: string): void;
  /** The folder could not be reached, or can be again. */
  onReachable(folder: FolderRow, isReachable: boolean): void;
  /** Asks for the right to watch the folder, which one process has at a time. */
  mayWatch(folder: FolderRow): Promise<boolean>;
  /** Whether that right is still there. */
  isStillMine(folder: FolderRow): boolean;
  /** The folder is not watched here any more. */
  onLeft(folder: FolderRow): Promise<void>;
  /** Time to compare all files with how they were last seen. */
  onSweep(folder: FolderRow): void;
}

const SOURCE_NAME = new RegExp(`\\.(${SOURCE_ENDINGS.join('|')})$`, 'i');

/** File names that can be sources. Lock and temporary files of office programs (`~$name.xlsx`) are not. */
export function isSourcePath(path: string): boolean {
  const name = path.split('/').at(-1) ?? '';
  return SOURCE_NAME.test(name) && !name.startsWith('~$') && !name.startsWith('.');
}

const CHECK_EVERY_MS = 2_000;
/** A folder that vanishes while its watch begins never says that it is ready. */
const READY_WITHIN_MS = 5_000;

/**
 * Watches one source folder, also while it goes away and comes back. The system's own notices tell of most changes at
 * once; they are known to get lost (links, network folders), so every two seconds the listener is asked to sweep.
 */
export class FolderWatcher {
  private watcher: FSWatcher | null = null;
  private readonly timer: NodeJS.Timeout;
  private isReachable: boolean | null = null;
  private isChecking = false;
  private isStopped = false;

  constructor(
    readonly folder: FolderRow,
    private readonly listener: FolderListener,
  ) {
    this.timer = setInterval(() => void this.check(), CHECK_EVERY_MS);
    this.timer.unref();
  }

  /** Resolves when the folder is watched or known to be offline. */
  start(): Promise<void> {
    return this.check();
  }

  async stop(): Promise<void> {
    this.isStopped = true;
    clearInterval(this.timer);
    await this.unwatch();
    await this.listener.onLeft(this.folder);
  }

  private async check(): Promise<void> {
    if (this.isChecking || this.isStopped) return;
    this.isChecking = true;
    try {
      const isReachable = await stat(this.folder.root).then(
        (found) => found.isDirectory(),
        () => false,
      );
      if (isReachable === this.isReachable && this.listener.isStillMine(this.folder)) {
        if (isReachable) this.listener.onSweep(this.folder);
        return;
      }
      await this.unwatch();
      this.isReachable = null;
      if (!(await this.listener.mayWatch(this.folder))) return;
      this.isReachable = isReachable;
      if (this.isStopped) {
        await this.listener.onLeft(this.folder);
        return;
      }
      // Looking through it does not wait for the system's notices; what changes before they begin is found by a sweep.
      this.listener.onReachable(this.folder, isReachable);
      if (isReachable) await this.watch();
      // Where the folder cannot be reached, another machine may reach it: the right to watch is not kept.
      if (!isReachable) await this.listener.onLeft(this.folder);
    } catch (error) {
      // The database is away: the next check asks again.
      tell(`Watching ${this.folder.name}`, error);
    } finally {
      this.isChecking = false;
    }
  }

  /** Without its root the watch is over, even when a folder of that name comes back at once. */
  private async lost(): Promise<void> {
    this.isReachable = null;
    await this.check();
  }

  private async unwatch(): Promise<void> {
    const { watcher } = this;
    this.watcher = null;
    await watcher?.close();
  }

  private async watch(): Promise<void> {
    const { root } = this.folder;
    const report = (absolute: string) => {
      const path = relative(root, absolute).split(sep).join('/');
      if (isSourcePath(path)) this.listener.onFile(this.folder, path);
    };
    const watcher = chokidar
      // Links are looked at as links: where one leads is decided when it is opened, not by following it here.
      .watch(root, { ignoreInitial: true, followSymlinks: false })
      .on('add', report)
      .on('change', report)
      .on('unlink', report)
      .on('unlinkDir', (gone) => {
        if (gone === root) void this.lost();
      })
      .on('error', (error) => tell(`Watching ${this.folder.name}`, error));
    this.watcher = watcher;
    await new Promise<void>((resolve) => {
      const timer = setTimeout(resolve, READY_WITHIN_MS);
      watcher.once('ready', () => {
        clearTimeout(timer);
        resolve();
      });
    });
  }
}

/**
 * Every file of the folder that can be a source, sorted. A folder in it that cannot be read, or goes meanwhile, is left
 * out: what is known of it is looked at by its own path, and then says so.
 */
export async function listSourceFiles(root: string): Promise<string[]> {
  const found: string[] = [];
  const visit = async (folder: string, isRoot: boolean): Promise<void> => {
    let entries: Dirent[];
    try {
      entries = await readdir(folder, { withFileTypes: true });
    } catch (error) {
      if (isRoot) throw error;
      return;
    }
    for (const entry of entries) {
      const path = join(folder, entry.name);
      if (entry.isDirectory()) await visit(path, false);
      else found.push(relative(root, path).split(sep).join('/'));
    }
  };
  await visit(root, true);
  return found.filter(isSourcePath).sort();
}

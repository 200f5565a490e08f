import {
  type FolderRow,
  findFolder,
  listFolderSources,
  listFolders,
  listUnsettled,
  setFolderState,
  upsertSource,
} from '../db/sources.ts';
import { announce, signal } from '../events/announce.ts';
import type { JobQueue } from '../jobs/queue.ts';
import type { Means } from '../means.ts';
import { tell } from '../tell.ts';
import { recordOffline } from './look.ts';
import { settle } from './settle.ts';
import { stampOf } from './stamp.ts';
import { type FolderListener, FolderWatcher, listSourceFiles } from './watcher.ts';

/**
 * Watches the source folders and asks for a look at each file that changed. Of all processes one watches each folder;
 * when it goes away, another takes over.
 */
export class SourceKeeper implements FolderListener {
  private watchers: FolderWatcher[] = [];
  private readonly waiting = new Set<string>();
  private readonly running = new Set<Promise<unknown>>();
  /** State of each file when a look at it was last asked for, by folder and path. */
  private readonly stamps = new Map<string, string>();
  /** Folders that were looked through since they could be reached, and are not being swept just now. */
  private readonly sweepable = new Set<string>();
  private synchronising: Promise<void> = Promise.resolve();

  constructor(private readonly means: Means & { queue: JobQueue }) {}

  /** Watches every registered folder; resolves when each has been looked through once. */
  async start(): Promise<void> {
    await this.syncFolders();
    await this.settled();
  }

  async stop(): Promise<void> {
    // Who is stopped while starting ends what was begun, as long as there is a queue to ask.
    await this.synchronising.catch(() => undefined);
    await Promise.all(this.watchers.map((watcher) => watcher.stop()));
    this.watchers = [];
    await this.settled();
  }

  /** Resolves when no look is about to be asked for, waiting or running anywhere. */
  async idle(): Promise<void> {
    do {
      await this.settled();
      while (!(await this.means.queue.isIdle())) {
        await new Promise((resolve) => setTimeout(resolve, 20));
      }
    } while (this.running.size > 0);
  }

  /** Watches the folders that are registered now, and no others. */
  syncFolders(): Promise<void> {
    const sync = async () => {
      const folders = await listFolders(this.means.db);
      const isKnown = ({ folder }: FolderWatcher) =>
        folders.some(
          ({ id, name, root }) => id === folder.id && name === folder.name && root === folder.root,
        );
      const gone = this.watchers.filter((watcher) => !isKnown(watcher));
      this.watchers = this.watchers.filter(isKnown);
      await Promise.all(gone.map((watcher) => watcher.stop()));
      for (const { folder } of gone) this.forget(folder);
      const watched = new Set(this.watchers.map(({ folder }) => folder.id));
      const added = folders
        .filter(({ id }) => !watched.has(id))
        .map((folder) => new FolderWatcher(folder, this));
      this.watchers.push(...added);
      await Promise.all(added.map((watcher) => watcher.start()));
    };
    this.synchronising = this.synchronising.then(sync, sync);
    return this.synchronising;
  }

  /** Tells all processes that folders were added, renamed or removed. */
  async foldersChanged(): Promise<void> {
    await this.syncFolders();
    await signal(this.means.db, 'folders');
    await announce(this.means.db, { kind: 'sources' });
  }

  onFile(folder: FolderRow, path: string): void {
    const key = keyOf(folder, path);
    // A look that has not been asked for yet will see this change too.
    if (this.waiting.has(key)) return;
    this.waiting.add(key);
    this.track(
      settle(`${folder.root}/${path}`).then((stamp) => {
        this.waiting.delete(key);
        return this.ask(folder, path, stamp);
      }),
    );
  }

  mayWatch(folder: FolderRow): Promise<boolean> {
    return this.means.locks.take(watchKey(folder));
  }

  isStillMine(folder: FolderRow): boolean {
    return this.means.locks.holds(watchKey(folder));
  }

  async onLeft(folder: FolderRow): Promise<void> {
    await this.means.locks.release(watchKey(folder)).catch(() => undefined);
  }

  onReachable(folder: FolderRow, isReachable: boolean): void {
    this.track(isReachable ? this.lookThrough(folder) : this.markOffline(folder));
  }

  onSweep(folder: FolderRow): void {
    if (this.sweepable.delete(folder.id)) this.track(this.sweep(folder));
  }

  private async settled(): Promise<void> {
    while (this.running.size > 0) await Promise.allSettled([...this.running]);
  }

  private forget(folder: FolderRow): void {
    this.sweepable.delete(folder.id);
    for (const key of [...this.stamps.keys()]) {
      if (key.startsWith(keyOf(folder, ''))) this.stamps.delete(key);
    }
  }

  private track(work: Promise<unknown>): void {
    const tracked = work.catch((error: unknown) => {
      tell('Watching a source folder', error);
    });
    this.running.add(tracked);
    void tracked.then(() => this.running.delete(tracked));
  }

  /** Asks for a look at every file that changed since it was last looked at, by whichever process that was. */
  private async lookThrough(folder: FolderRow): Promise<void> {
    const { db } = this.means;
    const changed = await setFolderState(db, folder.id, 'watched');
    const known = new Map((await listFolderSources(db, folder.id)).map((row) => [row.path, row]));
    const unsettled = await listUnsettled(db, folder.id);
    const there = await listSourceFiles(folder.root);
    for (const path of new Set([...there, ...known.keys()])) {
      const stamp = await stampOf(`${folder.root}/${path}`);
      const source = known.get(path);
      if (source && source.stamp === stamp && !unsettled.has(source.id)) {
        this.stamps.set(keyOf(folder, path), stamp);
      } else await this.ask(folder, path, stamp);
    }
    if (changed) await announce(db, { kind: 'sources' });
    this.sweepable.add(folder.id);
  }

  /** Looks at every file that is not as it was last seen: what the system's notices did not tell of. */
  private async sweep(folder: FolderRow): Promise<void> {
    try {
      const prefix = keyOf(folder, '');
      const known = [...this.stamps.keys()].filter((key) => key.startsWith(prefix));
      const paths = new Set([
        ...(await listSourceFiles(folder.root)),
        ...known.map((key) => key.slice(prefix.length)),
      ]);
      for (const path of paths) {
        const stamp = await stampOf(`${folder.root}/${path}`);
        if (stamp !== this.stamps.get(keyOf(folder, path))) this.onFile(folder, path);
      }
    } finally {
      this.sweepable.add(folder.id);
    }
  }

  private async markOffline(folder: FolderRow): Promise<void> {
    const { db } = this.means;
    this.forget(folder);
    if ((await findFolder(db, folder.id))?.state === 'offline') return;
    await recordOffline(this.means, folder, await listFolderSources(db, folder.id));
    await setFolderState(db, folder.id, 'offline');
    await announce(db, { kind: 'sources' });
  }

  private async ask(folder: FolderRow, path: string, stamp: string): Promise<void> {
    const { db, queue } = this.means;
    this.stamps.set(keyOf(folder, path), stamp);
    try {
      if (await queue.askLookAt(folder.id, path)) return;
      const source = await upsertSource(db, { folderId: folder.id, path, state: 'missing' });
      await queue.askLook(source.id);
    } catch (error) {
      // Nobody was told: the next sweep finds it again.
      this.stamps.delete(keyOf(folder, path));
      throw error;
    }
  }
}

function keyOf(folder: FolderRow, path: string): string {
  return `${folder.id}/${path}`;
}

function watchKey(folder: FolderRow): string {
  return `watch ${folder.id}`;
}

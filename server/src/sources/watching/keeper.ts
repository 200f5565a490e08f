import {
  type FolderRow,
  findFolder,
  listFolderSources,
  listFolders,
  listUnsettled,
  upsertSource,
} from '../../db/sources.ts';
import { announce, signal } from '../../events/announce.ts';
import type { JobQueue } from '../../jobs/queue.ts';
import { tell } from '../../tell.ts';
import type { Means } from '../means.ts';
import { settle } from '../settle.ts';
import { stampOf, stampsBelow } from '../stamp.ts';
import { recordAway, recordBack } from './away.ts';
import { type FolderListener, FolderWatcher, listSourceFiles } from './watcher.ts';

const TRY_AGAIN_MS = 1_000;

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
  /** Whether each folder could be reached when that was last told. */
  private readonly reached = new Map<string, boolean>();
  /** Folders of which it is being recorded that they went or came. */
  private readonly changing = new Set<string>();
  private isStopped = false;
  private synchronising: Promise<void> = Promise.resolve();

  constructor(private readonly means: Means & { queue: JobQueue }) {}

  /** Watches every registered folder; resolves when each has been looked through once. */
  async start(): Promise<void> {
    await this.syncFolders();
    await this.settled();
  }

  async stop(): Promise<void> {
    this.isStopped = true;
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
      settle(`${folder.root}/${path}`).then(async (stamp) => {
        this.waiting.delete(key);
        // With its folder a file did not go for itself: that is told of the folder.
        if (stamp === 'gone' && (await stampOf(folder.root)) === 'gone') return;
        // It may have come back with its folder in between: then it is as it was last seen, or is looked through with all others.
        const now = stamp === 'gone' ? await stampOf(`${folder.root}/${path}`) : stamp;
        const isKnown = now === this.stamps.get(key) || this.changing.has(folder.id);
        if (stamp === 'gone' && now !== 'gone' && isKnown) return;
        await this.ask(folder, path, now);
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
    this.reached.set(folder.id, isReachable);
    // One run for each folder: what is under way goes on with what is told meanwhile.
    if (!this.changing.has(folder.id)) this.track(this.follow(folder));
  }

  /** Records that a folder went or came, one after the other, until what was recorded last is how it is. */
  private async follow(folder: FolderRow): Promise<void> {
    this.changing.add(folder.id);
    try {
      for (;;) {
        const isReachable = this.reached.get(folder.id)!;
        try {
          if (isReachable) await this.lookThrough(folder);
          else await this.markOffline(folder);
          if (this.reached.get(folder.id) === isReachable) return;
        } catch (error) {
          // The folder went while it was looked through, or the database is away: it is tried until it is recorded.
          if (this.isStopped) throw error;
          if (this.reached.get(folder.id) === isReachable) {
            tell(`Looking through ${folder.name}`, error);
            await new Promise((resolve) => setTimeout(resolve, TRY_AGAIN_MS));
          }
          if (!this.watchers.some((watcher) => watcher.folder.id === folder.id)) return;
        }
      }
    } finally {
      this.changing.delete(folder.id);
    }
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
    const known = await listFolderSources(db, folder.id);
    const paths = [...(await listSourceFiles(folder.root)), ...known.map(({ path }) => path)];
    const stamps = await stampsBelow(folder.root, new Set(paths));
    const changed = new Set(await recordBack(db, folder, stamps));
    const unsettled = await listUnsettled(db, folder.id);
    for (const { id, path } of known) if (unsettled.has(id)) changed.add(path);
    const asking: Promise<void>[] = [];
    for (const [path, stamp] of stamps) {
      if (changed.has(path)) asking.push(this.ask(folder, path, stamp));
      else this.stamps.set(keyOf(folder, path), stamp);
    }
    await Promise.all(asking);
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
      const stamps = await stampsBelow(folder.root, paths);
      // A folder that went while it was swept has not lost its files: that is told in another way.
      if (this.reached.get(folder.id) === false) return;
      for (const [path, stamp] of stamps) {
        const key = keyOf(folder, path);
        if (stamp === this.stamps.get(key)) continue;
        // Of thousands some were looked at a while ago, and may have been asked for meanwhile.
        if ((await stampOf(`${folder.root}/${path}`)) !== this.stamps.get(key)) {
          this.onFile(folder, path);
        }
      }
    } finally {
      if (this.reached.get(folder.id) !== false) this.sweepable.add(folder.id);
    }
  }

  private async markOffline(folder: FolderRow): Promise<void> {
    this.forget(folder);
    await recordAway(this.means.db, folder);
  }

  private async ask(folder: FolderRow, path: string, stamp: string): Promise<void> {
    const { db, queue } = this.means;
    this.stamps.set(keyOf(folder, path), stamp);
    try {
      if (await queue.askLookAt(folder.id, path)) return;
      const source = await upsertSource(db, { folderId: folder.id, path, state: 'new' });
      await queue.askLook(source.id);
    } catch (error) {
      // Nobody was told: the next sweep finds it again.
      this.stamps.delete(keyOf(folder, path));
      // A folder that was given up meanwhile has no files that anybody asks for.
      if (await findFolder(db, folder.id)) throw error;
    }
  }
}

function keyOf(folder: FolderRow, path: string): string {
  return `${folder.id}/${path}`;
}

function watchKey(folder: FolderRow): string {
  return `watch ${folder.id}`;
}

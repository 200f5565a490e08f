import { stat } from 'node:fs/promises';
import { type Fault, fault, type Reach } from '@tether/core';
import type { Database } from '../db/database.ts';
import {
  type FolderRow,
  findSource,
  hasMarks,
  listFolderSources,
  listFolders,
  type SourceRow,
  setFolderState,
  storeMarks,
  upsertSource,
} from '../db/sources.ts';
import { listSourceTethers, type TetherRow } from '../db/tethers.ts';
import type { EventHub } from '../events/hub.ts';
import { followSource, reachesOf, takenBy } from '../tethers/follow.ts';
import { locate } from './locate.ts';
import type { SourceReader } from './reader.ts';
import type { ReadingOutcome } from './reading.ts';
import { Serial } from './serial.ts';
import { settle } from './settle.ts';
import { type FolderListener, FolderWatcher, listSourceFiles } from './watcher.ts';

/** Faults that a save in progress can show for a moment; they are believed only when they last. */
const PASSING: Fault['code'][] = [
  'source-missing',
  'source-empty',
  'source-not-workbook',
  'source-damaged',
  'source-part-missing',
  'source-unreadable',
];
const GRACE_MS = 700;

/**
 * Keeps the database's picture of all source folders true: watches them, and looks at each file that changed: hashes
 * it, reads once what its tethers take, and gives them their standing.
 */
export class SourceKeeper implements FolderListener {
  private watchers: FolderWatcher[] = [];
  private readonly serial = new Serial();
  private readonly waiting = new Set<string>();
  private readonly running = new Set<Promise<unknown>>();
  /** State of each file when it was last looked at, by folder and path. */
  private readonly stamps = new Map<string, string>();
  /** Folders that were looked through since they could be reached, and are not being swept just now. */
  private readonly sweepable = new Set<string>();

  constructor(
    private readonly db: Database,
    private readonly reader: SourceReader,
    private readonly events: EventHub,
  ) {}

  /** Watches every registered folder; resolves when each has been looked through once. */
  async start(): Promise<void> {
    const folders = await listFolders(this.db);
    this.watchers = folders.map((folder) => new FolderWatcher(folder, this));
    await Promise.all(this.watchers.map((watcher) => watcher.start()));
    await this.idle();
  }

  async stop(): Promise<void> {
    await Promise.all(this.watchers.map((watcher) => watcher.stop()));
    this.watchers = [];
    await this.idle();
  }

  /** Resolves when no look is waiting or running. */
  async idle(): Promise<void> {
    while (this.running.size > 0) await Promise.allSettled([...this.running]);
  }

  onFile(folder: FolderRow, path: string): void {
    const key = keyOf(folder, path);
    // A look that has not begun will see this change too.
    if (this.waiting.has(key)) return;
    this.waiting.add(key);
    this.track(
      settle(`${folder.root}/${path}`).then(() => {
        this.waiting.delete(key);
        return this.look(folder, path);
      }),
    );
  }

  onReachable(folder: FolderRow, isReachable: boolean): void {
    this.track(isReachable ? this.lookThrough(folder) : this.markOffline(folder));
  }

  onSweep(folder: FolderRow): void {
    if (this.sweepable.delete(folder.id)) this.track(this.sweep(folder));
  }

  /** Runs work that reads or places out of a source, with no look at the same source in between. */
  exclusively<T>(sourceId: string, work: () => Promise<T>): Promise<T> {
    return this.serial.run(sourceId, work);
  }

  /** Looks at these sources again when their files are not as they were last seen, and waits for it. */
  async catchUp(sourceIds: Iterable<string>): Promise<void> {
    for (const id of new Set(sourceIds)) {
      const found = await findSource(this.db, id);
      if (!found) continue;
      const path = `${found.folder.root}/${found.source.path}`;
      if ((await stampOf(path)) === this.stamps.get(keyOf(found.folder, found.source.path)))
        continue;
      await settle(path);
      await this.look(found.folder, found.source.path);
    }
  }

  /** Begins to watch a folder; resolves when it has been looked through once. */
  async addFolder(folder: FolderRow): Promise<void> {
    const watcher = new FolderWatcher(folder, this);
    this.watchers.push(watcher);
    await watcher.start();
  }

  /** Stops watching a folder that is forgotten or has another name now. */
  async removeFolder(folderId: string): Promise<void> {
    const gone = this.watchers.filter(({ folder }) => folder.id === folderId);
    this.watchers = this.watchers.filter(({ folder }) => folder.id !== folderId);
    this.sweepable.delete(folderId);
    await Promise.all(gone.map((watcher) => watcher.stop()));
    for (const key of [...this.stamps.keys()]) {
      if (key.startsWith(`${folderId}/`)) this.stamps.delete(key);
    }
  }

  /** Reads a source anew although its file is the same, since it is to be read otherwise. */
  async readAnew(sourceId: string): Promise<void> {
    const found = await findSource(this.db, sourceId);
    if (!found) return;
    await this.serial.run(sourceId, () => this.lookAlone(found.folder, sourceId, true));
  }

  private track(work: Promise<unknown>): void {
    const tracked = work.catch((error: unknown) => {
      console.error('Looking at a source failed:', error);
    });
    this.running.add(tracked);
    void tracked.then(() => this.running.delete(tracked));
  }

  private async lookThrough(folder: FolderRow): Promise<void> {
    const changed = await setFolderState(this.db, folder.id, 'watched');
    const known = await listFolderSources(this.db, folder.id);
    const there = await listSourceFiles(folder.root);
    const paths = new Set([...there, ...known.map(({ path }) => path)]);
    for (const path of paths) await this.look(folder, path);
    if (changed) this.events.publish({ kind: 'sources' });
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
    this.sweepable.delete(folder.id);
    await setFolderState(this.db, folder.id, 'offline');
    for (const source of await listFolderSources(this.db, folder.id)) {
      this.stamps.delete(keyOf(folder, source.path));
      await this.serial.run(source.id, () =>
        this.record(folder, source, { fault: fault('folder-offline', { folder: folder.name }) }),
      );
    }
    this.events.publish({ kind: 'sources' });
  }

  /** Looks at one file and follows with its tethers. */
  private async look(folder: FolderRow, path: string): Promise<void> {
    const known = (await listFolderSources(this.db, folder.id)).find((row) => row.path === path);
    const source =
      known ??
      // The first look at a file makes its row, so that the rest can be done under its id.
      (await upsertSource(this.db, { folderId: folder.id, path, state: 'missing' }));
    await this.serial.run(source.id, () => this.lookAlone(folder, source.id));
  }

  private async lookAlone(folder: FolderRow, sourceId: string, isForced = false): Promise<void> {
    const found = await findSource(this.db, sourceId);
    if (!found) return;
    const tethers = await listSourceTethers(this.db, sourceId);
    const reaches = reachesOf(tethers);
    let outcome = await this.readSource(found, tethers, reaches, isForced);
    if (!outcome.ok && PASSING.includes(outcome.fault.code) && found.source.hash !== null) {
      await new Promise((resolve) => setTimeout(resolve, GRACE_MS));
      await settle(`${folder.root}/${found.source.path}`);
      outcome = await this.readSource(found, tethers, reaches);
    }
    if (outcome.ok && outcome.value.isSame) return;
    await this.record(folder, found.source, { outcome, reaches });
  }

  private async readSource(
    { folder, source }: { folder: FolderRow; source: SourceRow },
    tethers: readonly TetherRow[],
    reaches: Reach[],
    isForced = false,
  ): Promise<ReadingOutcome> {
    const stamp = await stampOf(`${folder.root}/${source.path}`);
    this.stamps.set(keyOf(folder, source.path), stamp);
    const located = await locate(folder, source.path);
    if (!located.ok) return { ...located, hash: null, bytes: 0 };
    const isSettled =
      !isForced &&
      source.state === 'present' &&
      tethers.every((row) => row.standing !== 'adrift') &&
      (await hasMarks(this.db, source.id));
    return this.reader.read({
      path: located.value,
      shownPath: source.path,
      reaches,
      reading: source.reading,
      withHeadings: true,
      withMarks: true,
      ...(isSettled && source.hash ? { unlessHash: source.hash } : {}),
    });
  }

  private async record(
    folder: FolderRow,
    source: SourceRow,
    seen: { fault: Fault } | { outcome: ReadingOutcome; reaches: Reach[] },
  ): Promise<void> {
    const changed = await this.db.transaction(async (tx) => {
      if ('fault' in seen) return followSource(tx, shown(folder, source), seen);
      const { outcome, reaches } = seen;
      const hash = outcome.ok ? outcome.value.hash : outcome.hash;
      await upsertSource(tx, {
        folderId: source.folderId,
        path: source.path,
        state: outcome.ok
          ? 'present'
          : outcome.fault.code === 'source-missing'
            ? 'missing'
            : 'unreadable',
        fault: outcome.ok ? null : outcome.fault,
        hash,
        bytes: outcome.ok ? outcome.value.bytes : outcome.bytes,
        ...(outcome.ok
          ? {
              sheets: outcome.value.sheets.map(({ name, state }) => ({ name, state })),
              headings: outcome.value.headings,
            }
          : {}),
        ...(hash === source.hash ? {} : { changedAt: new Date() }),
      });
      if (outcome.ok) await storeMarks(tx, source.id, outcome.value.marks);
      return followSource(
        tx,
        shown(folder, source),
        outcome.ok ? takenBy(outcome.value, reaches) : { fault: outcome.fault },
      );
    });
    this.announce(changed);
    this.events.publish({ kind: 'sources' });
  }

  private announce(changed: readonly TetherRow[]): void {
    const byDocument = new Map<string, string[]>();
    for (const { documentId, id } of changed) {
      byDocument.set(documentId, [...(byDocument.get(documentId) ?? []), id]);
    }
    for (const [documentId, ids] of byDocument) {
      this.events.publish({ kind: 'tethers', documentId, ids });
    }
    if (changed.length > 0) this.events.publish({ kind: 'log' });
  }
}

function keyOf(folder: FolderRow, path: string): string {
  return `${folder.id}/${path}`;
}

function shown(folder: FolderRow, source: SourceRow) {
  return { id: source.id, shownPath: `${folder.name}/${source.path}` };
}

async function stampOf(path: string): Promise<string> {
  try {
    const { ino, size, mtimeMs } = await stat(path);
    return `${ino}.${size}.${mtimeMs}`;
  } catch {
    return 'gone';
  }
}

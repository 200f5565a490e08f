import { fetchUpdates, IndexeddbPersistence } from 'y-indexeddb';
import type * as Y from 'yjs';

/**
 * What was written in this browser, kept until the server has it. All windows of one person keep a document in one place, so
 * that it is emptied only by the last of them.
 */
export class KeptHere {
  private readonly data: IndexeddbPersistence;
  private readonly leave: () => void;
  /** Resolves when this window has left it. */
  private readonly left: Promise<unknown>;
  private isClosed = false;

  constructor(
    private readonly name: string,
    doc: Y.Doc,
  ) {
    this.data = new IndexeddbPersistence(name, doc);
    let leave = () => {};
    const stays = new Promise<void>((resolve) => {
      leave = resolve;
    });
    this.leave = leave;
    // Only where the page came over a line that nobody listens to does the browser have locks.
    this.left = navigator.locks?.request(name, { mode: 'shared' }, () => stays) ?? stays;
  }

  /**
   * Takes out what the server has, as long as the document is open: each opening adds the whole document as it comes from
   * the server, and a window that is closed or loaded anew has no time for it. `isAllSent` is asked after all was read that
   * other windows of this person kept; where it says no, everything stays.
   */
  async tidy(isAllSent: () => boolean): Promise<void> {
    const { db } = await this.data.whenSynced;
    if (this.isClosed || !db) return;
    await fetchUpdates(this.data);
    if (this.isClosed || !isAllSent()) return;
    const read = IDBKeyRange.upperBound(this.data._dbref, true);
    db.transaction('updates', 'readwrite').objectStore('updates').delete(read);
  }

  /** Ends keeping. What the server has need not lie in the browser, where nobody else uses it. */
  async close(isAllSent: boolean): Promise<void> {
    this.isClosed = true;
    await this.data.destroy();
    this.leave();
    await this.left;
    if (!isAllSent || !navigator.locks) return;
    await navigator.locks.request(this.name, { ifAvailable: true }, async (lock) => {
      if (lock) await emptied(this.name);
    });
  }
}

/** Takes a database out of the browser; one that another window opens meanwhile stays. */
function emptied(name: string): Promise<void> {
  return new Promise((resolve) => {
    const asked = indexedDB.deleteDatabase(name);
    asked.onsuccess = () => resolve();
    asked.onerror = () => resolve();
    asked.onblocked = () => resolve();
  });
}

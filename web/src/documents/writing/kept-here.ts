import { IndexeddbPersistence, storeState } from 'y-indexeddb';
import type * as Y from 'yjs';

/** As many entries are read at once with the document; more of them are made one. */
const MOST_ENTRIES = 6;

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
   * Makes one entry of many. Each opening can add the whole document, as it comes from the server, and a window that is
   * closed or loaded anew has no time to take it out: the next opening would read all of them.
   */
  async tidy(): Promise<void> {
    const { db } = await this.data.whenSynced;
    if (this.isClosed || !db) return;
    const count = db.transaction('updates').objectStore('updates').count();
    await new Promise((resolve) => {
      count.onsuccess = resolve;
      // It is counted anew at the next opening.
      count.onerror = resolve;
    });
    if (!this.isClosed && count.result > MOST_ENTRIES) await storeState(this.data);
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

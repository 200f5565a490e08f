import { IndexeddbPersistence } from 'y-indexeddb';
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

  /** Ends keeping. What the server has need not lie in the browser, where nobody else uses it. */
  async close(isAllSent: boolean): Promise<void> {
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

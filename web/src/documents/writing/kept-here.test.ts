import { afterAll, describe, expect, test } from '@jest/globals';
import { IDBKeyRange, indexedDB } from 'fake-indexeddb';
import * as Y from 'yjs';
import { KeptHere } from './kept-here.ts';

/** Locks like those of a browser, as far as they are asked for: shared ones, and one alone where nobody holds any. */
const holders = new Map<string, number>();
const locks = {
  async request(name: string, { ifAvailable = false }, use: (lock: object | null) => unknown) {
    const held = holders.get(name) ?? 0;
    if (ifAvailable && held > 0) return use(null);
    holders.set(name, held + 1);
    try {
      return await use({ name });
    } finally {
      holders.set(name, holders.get(name)! - 1);
    }
  },
};
const OF_BROWSERS = { indexedDB, IDBKeyRange, navigator: { locks } };
for (const [name, value] of Object.entries(OF_BROWSERS)) {
  Object.defineProperty(globalThis, name, { value, configurable: true });
}
afterAll(() => {
  for (const name of Object.keys(OF_BROWSERS)) Reflect.deleteProperty(globalThis, name);
});

/** How many entries a database has. */
async function entries(name: string): Promise<number> {
  const asked = <T>(request: IDBRequest<T>): Promise<T> =>
    new Promise((resolve, reject) => {
      request.onsuccess = () => resolve(request.result);
      request.onerror = () => reject(request.error);
    });
  const database = await asked(indexedDB.open(name));
  const count = await asked(database.transaction('updates').objectStore('updates').count());
  database.close();
  return count;
}

/** A window that opens a document, has it from the server, and is closed before anything could be taken out. */
async function windowOn(name: string, served: Y.Doc): Promise<{ doc: Y.Doc; kept: KeptHere }> {
  const doc = new Y.Doc();
  const kept = new KeptHere(name, doc);
  Y.applyUpdate(doc, Y.encodeStateAsUpdate(served), 'server');
  await kept.tidy();
  return { doc, kept };
}

describe('what is kept in the browser', () => {
  test('stays small, however often a document is opened', async () => {
    const served = new Y.Doc();
    served.getText('text').insert(0, 'Counted at low water.');
    const name = 'tether-ines-often';
    const counts: number[] = [];
    for (let nth = 0; nth < 30; nth++) {
      const { kept } = await windowOn(name, served);
      await kept.close(false);
      counts.push(await entries(name));
    }
    expect(Math.max(...counts)).toBeLessThan(10);
  });

  test('keeps what was written and not sent, through every making of one', async () => {
    const served = new Y.Doc();
    served.getText('text').insert(0, 'Counted. ');
    const name = 'tether-ines-unsent';
    for (let nth = 0; nth < 20; nth++) {
      const { doc, kept } = await windowOn(name, served);
      const text = doc.getText('text');
      text.insert(text.length, `${nth} `);
      await kept.close(false);
    }
    const last = new Y.Doc();
    const kept = new KeptHere(name, last);
    await kept.tidy();
    const words = Array.from({ length: 20 }, (_, nth) => `${nth}`);
    expect(last.getText('text').toString().split(' ').filter(Boolean).sort()).toEqual(
      ['Counted.', ...words].sort(),
    );
    await kept.close(true);
  });

  test('of another window of the same person stays when one makes one of it', async () => {
    const served = new Y.Doc();
    const name = 'tether-ines-two';
    const here = await windowOn(name, served);
    const there = await windowOn(name, served);
    for (let nth = 0; nth < 10; nth++) {
      here.doc.getText('text').insert(0, `h${nth} `);
      there.doc.getText('text').insert(0, `t${nth} `);
    }
    await there.kept.tidy();
    await here.kept.close(false);
    await there.kept.close(false);
    const { doc, kept } = await windowOn(name, served);
    const words = doc.getText('text').toString().split(' ').filter(Boolean);
    expect(words).toHaveLength(20);
    await kept.close(true);
  });

  test('is nothing once the server has all of it and nobody else uses it', async () => {
    const name = 'tether-ines-done';
    const { kept } = await windowOn(name, new Y.Doc());
    await kept.close(true);
    const known = (await indexedDB.databases()).map((each) => each.name);
    expect(known).not.toContain(name);
  });
});

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

const isSame = (one: Y.Doc, other: Y.Doc) =>
  Buffer.from(Y.encodeStateVector(one)).equals(Buffer.from(Y.encodeStateVector(other)));

/** A window that opens a document and has it from the server; what it writes reaches the server only where it `sends`. */
async function windowOn(name: string, served: Y.Doc, sends = true) {
  const doc = new Y.Doc();
  const kept = new KeptHere(name, doc);
  Y.applyUpdate(doc, Y.encodeStateAsUpdate(served), 'server');
  const tidy = () =>
    kept.tidy(() => {
      if (sends) Y.applyUpdate(served, Y.encodeStateAsUpdate(doc));
      return isSame(doc, served);
    });
  await tidy();
  return { doc, kept, tidy };
}
const wordsOf = (doc: Y.Doc) => doc.getText('text').toString().split(' ').filter(Boolean).sort();

describe('what is kept in the browser', () => {
  test('stays small, however often a document is opened', async () => {
    const served = new Y.Doc();
    served.getText('text').insert(0, 'Counted at low water.');
    const name = 'tether-ines-often';
    const counts: number[] = [];
    for (let nth = 0; nth < 20; nth++) {
      const { kept } = await windowOn(name, served);
      // Closed as by the browser: what is kept stays.
      await kept.close(false);
      counts.push(await entries(name));
    }
    expect(Math.max(...counts)).toBeLessThanOrEqual(1);
  });

  test('keeps what was written and not sent, and is emptied once it is', async () => {
    const served = new Y.Doc();
    const name = 'tether-ines-unsent';
    for (let nth = 0; nth < 12; nth++) {
      const { doc, kept, tidy } = await windowOn(name, served, false);
      doc.getText('text').insert(0, `w${nth} `);
      await tidy();
      await kept.close(false);
    }
    const words = Array.from({ length: 12 }, (_, nth) => `w${nth}`).sort();
    expect(wordsOf(served)).toEqual([]);
    const last = await windowOn(name, served);
    expect(wordsOf(last.doc)).toEqual(words);
    expect(wordsOf(served)).toEqual(words);
    await last.kept.close(false);
    expect(await entries(name)).toBe(0);
  });

  test('of another window of the same person is sent before it is taken out', async () => {
    const served = new Y.Doc();
    const name = 'tether-ines-two';
    const here = await windowOn(name, served);
    const away = await windowOn(name, served, false);
    away.doc.getText('text').insert(0, 'away ');
    here.doc.getText('text').insert(0, 'here ');
    await away.tidy();
    expect(wordsOf(served)).toEqual([]);
    await here.tidy();
    expect(wordsOf(served)).toEqual(['away', 'here']);
    // What is written on top of what was taken out is kept as before.
    away.doc.getText('text').insert(0, 'later ');
    await here.kept.close(false);
    await away.kept.close(false);
    const { doc, kept } = await windowOn(name, served, false);
    expect(wordsOf(doc)).toEqual(['away', 'here', 'later']);
    await kept.close(false);
  });

  test('is nothing once the server has all of it and nobody else uses it', async () => {
    const name = 'tether-ines-done';
    const { kept } = await windowOn(name, new Y.Doc());
    await kept.close(true);
    const known = (await indexedDB.databases()).map((each) => each.name);
    expect(known).not.toContain(name);
  });
});

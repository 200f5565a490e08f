import { describe, expect, test } from '@jest/globals';
import * as Y from 'yjs';
import { LeftBehind } from './left-behind.ts';

/** A store like that of a browser, for as much as `most` letters. */
function storeOf(most = 10_000_000) {
  const kept = new Map<string, string>();
  return {
    kept,
    get length() {
      return kept.size;
    },
    key: (at: number) => [...kept.keys()][at] ?? null,
    getItem: (key: string) => kept.get(key) ?? null,
    removeItem: (key: string) => void kept.delete(key),
    setItem: (key: string, value: string) => {
      if (value.length > most) throw new Error('full');
      kept.set(key, value);
    },
  };
}

/** A document as the server has it. */
function served(words: string): Y.Doc {
  const doc = new Y.Doc();
  doc.getText('text').insert(0, words);
  return doc;
}
const opened = (server: Y.Doc) => {
  const doc = new Y.Doc();
  Y.applyUpdate(doc, Y.encodeStateAsUpdate(server));
  return doc;
};

describe('what was written in the last moment', () => {
  test('is there when the page is opened again, before anything comes from the server', () => {
    const server = served('Counted. ');
    const store = storeOf();
    const doc = opened(server);
    const first = new LeftBehind('tether-ines-report', doc, store);
    first.agree();
    doc.getText('text').insert(9, 'Written offline.');
    first.leave();
    expect(store.kept.size).toBe(1);

    const again = new Y.Doc();
    new LeftBehind('tether-ines-report', again, store);
    Y.applyUpdate(again, Y.encodeStateAsUpdate(server));
    expect(again.getText('text').toString()).toBe('Counted. Written offline.');
    expect(store.kept.size).toBe(0);
  });

  test('of several windows comes together, of another document or person not', () => {
    const server = served('');
    const store = storeOf();
    for (const [name, words] of [
      ['tether-ines-report', 'one'],
      ['tether-ines-report', 'two'],
      ['tether-tam-report', 'not hers'],
      ['tether-ines-other', 'another'],
    ] as const) {
      const doc = opened(server);
      const left = new LeftBehind(`${name}`, doc, { ...store, length: 0 });
      left.agree();
      doc.getText('text').insert(0, words);
      left.leave();
    }
    const again = opened(server);
    new LeftBehind('tether-ines-report', again, store);
    expect(again.getText('text').toString()).toMatch(/^(onetwo|twoone)$/);
    expect(store.kept.size).toBe(2);
  });

  test('is let go of once the server has it', () => {
    const store = storeOf();
    const doc = served('Counted.');
    const left = new LeftBehind('a', doc, store);
    left.leave();
    expect(store.kept.size).toBe(1);
    left.agree();
    expect(store.kept.size).toBe(0);
  });

  test('breaks nothing where there is no room, or what lies there makes no sense', () => {
    const store = storeOf(5);
    store.kept.set('a-left-1', '%%%');
    const doc = served('Counted.');
    const left = new LeftBehind('a', doc, store);
    expect(() => left.leave()).not.toThrow();
    expect(doc.getText('text').toString()).toBe('Counted.');
    expect(store.kept.size).toBe(0);
  });
});

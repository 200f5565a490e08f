import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import { type SourceReader, startReader } from './reader.ts';

/** A worker that does what the name of a file says, instead of reading it. */
const WORKER = `
export default async function read({ path }) {
  if (path === 'memory') {
    const held = [];
    for (;;) held.push(new Array(1e6).fill(held.length));
  }
  if (path.startsWith('forever')) for (;;);
  if (path === 'bug') throw new TypeError('undefined is not a sheet');
  if (path.startsWith('while')) await new Promise((done) => setTimeout(done, 400));
  return { ok: true, value: { path } };
}`;

let home: string;
let worker: string;
let readers: SourceReader[] = [];
beforeAll(async () => {
  home = await mkdtemp(join(tmpdir(), 'tether-reader-'));
  worker = join(home, 'worker.mjs');
  await writeFile(worker, WORKER);
});
afterAll(async () => {
  await Promise.all(readers.map((reader) => reader.close()));
  await rm(home, { recursive: true, force: true });
});

function start(timeLimit = 4_000): SourceReader {
  const reader = startReader({ worker, timeLimit, memory: 64 });
  readers = [...readers, reader];
  return reader;
}
const file = (path: string) => ({ path, root: home, shownPath: path, reaches: [] });

describe('the reading threads', () => {
  test('tell of a file that takes too long, and go on with others meanwhile', async () => {
    const reader = start();
    const slow = ['forever 1', 'forever 2', 'forever 3', 'forever 4'].map((path) =>
      reader.read(file(path), 'following'),
    );
    // Somebody who looks at another file is not kept waiting by them, and they are not by people.
    expect(await reader.read(file('quick'), 'people')).toMatchObject({ ok: true });
    expect(await reader.read(file('quick too'), 'people')).toMatchObject({ ok: true });
    for (const each of await Promise.all(slow)) {
      expect(each).toMatchObject({ ok: false, fault: { code: 'source-slow' } });
    }
    // The waiting of those behind them was nothing that they did.
    expect(await reader.read(file('quick'), 'following')).toMatchObject({ ok: true });
  });

  test('count the time of a file from when it is begun', async () => {
    const reader = start(4_000);
    // Thirty times 400 ms over two threads: the last ones wait for longer than they may take.
    const all = await Promise.all(
      Array.from({ length: 30 }, (_, at) => reader.read(file(`while ${at}`), 'following')),
    );
    expect(all.filter(({ ok }) => !ok)).toEqual([]);
  });

  test('that use up their memory are a fault of that file alone', async () => {
    const reader = start(20_000);
    const [spoilt, other] = await Promise.all([
      reader.read(file('memory'), 'following'),
      reader.read(file('quick'), 'people'),
    ]);
    expect(spoilt).toMatchObject({ ok: false, fault: { code: 'source-too-large' } });
    expect(other).toMatchObject({ ok: true });
    expect(await reader.read(file('quick'), 'following')).toMatchObject({ ok: true });
  });

  test('whose own mistakes are told as ours, with where they happened in the log', async () => {
    const said = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    try {
      const outcome = await start(20_000).read(file('bug'), 'people');
      expect(outcome).toMatchObject({ ok: false, fault: { code: 'unexpected' } });
      expect(String(said.mock.calls[0])).toMatch(/Reading bug: undefined is not a sheet\n {4}at /);
    } finally {
      said.mockRestore();
    }
  });

  test('are given to people and to following in turn', async () => {
    const reader = start(20_000);
    const order: string[] = [];
    const read = (path: string, by: 'people' | 'following') =>
      reader.read(file(path), by).then(() => order.push(by));
    await Promise.all([
      ...Array.from({ length: 9 }, (_, at) => read(`while p${at}`, 'people')),
      ...Array.from({ length: 9 }, (_, at) => read(`while f${at}`, 'following')),
    ]);
    // Neither is done with all of its own before the other has had a third of its own.
    const third = (by: string) => order.findIndex((each, at) => each === by && at >= 2);
    expect(third('following')).toBeLessThan(9);
    expect(third('people')).toBeLessThan(9);
  });
});

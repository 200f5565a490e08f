import { describe, expect, test } from '@jest/globals';
import { together } from './together.ts';

/** Work that remembers with which keys it was called. */
function counted() {
  const calls: number[][] = [];
  const work = async (keys: readonly number[]) => {
    calls.push([...keys]);
    return keys.map((key) => (key < 0 ? new Error(`no ${key}`) : key * 10));
  };
  return { calls, work };
}

describe('what is asked for at about the same time', () => {
  test('is one call, and each gets its own answer', async () => {
    const { calls, work } = counted();
    const ask = together(work);
    const answers = await Promise.all([
      ask(1),
      ask(1),
      Promise.resolve().then(() => ask(2)),
      new Promise<number>((resolve) => {
        process.nextTick(() => resolve(ask(3)));
      }),
    ]);
    expect(answers).toEqual([10, 10, 20, 30]);
    expect(calls).toEqual([[1, 1, 2, 3]]);
  });

  test('is asked anew the next time, with no answer remembered', async () => {
    const { calls, work } = counted();
    const ask = together(work);
    await ask(1);
    await ask(1);
    expect(calls).toEqual([[1], [1]]);
  });

  test('fails for whom it fails', async () => {
    const ask = together(counted().work);
    const answers = await Promise.allSettled([ask(1), ask(-2), ask(3)]);
    expect(answers.map(({ status }) => status)).toEqual(['fulfilled', 'rejected', 'fulfilled']);
  });

  test('fails for all when it fails as a whole, and works again', async () => {
    let isAway = true;
    const ask = together(async (keys: readonly number[]) => {
      if (isAway) throw new Error('away');
      return keys;
    });
    const answers = await Promise.allSettled([ask(1), ask(2)]);
    expect(answers.map(({ status }) => status)).toEqual(['rejected', 'rejected']);
    isAway = false;
    expect(await ask(3)).toBe(3);
  });

  test('is no more at once than said', async () => {
    const { calls, work } = counted();
    const ask = together(work, { most: 2 });
    await Promise.all([1, 2, 3, 4, 5].map(ask));
    expect(calls).toEqual([[1, 2], [3, 4], [5]]);
  });

  test('waits for what it is told to wait for', async () => {
    const { calls, work } = counted();
    let go = () => {};
    const ask = together(work, {
      until: () =>
        new Promise<void>((resolve) => {
          go = resolve;
        }),
    });
    const first = ask(1);
    await new Promise((resolve) => setImmediate(resolve));
    const second = ask(2);
    expect(calls).toEqual([]);
    go();
    expect(await Promise.all([first, second])).toEqual([10, 20]);
    expect(calls).toEqual([[1, 2]]);
  });
});

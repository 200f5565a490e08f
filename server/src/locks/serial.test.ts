import { expect, test } from '@jest/globals';
import { Serial } from './serial.ts';

/** Work that ends when it is told to. */
function held() {
  let release = () => {};
  const gate = new Promise<void>((resolve) => {
    release = resolve;
  });
  return { gate, release: () => release() };
}

test('work on one key waits for the work before, on another it does not', async () => {
  const serial = new Serial();
  const order: string[] = [];
  const first = held();
  const one = serial.run('a', async () => {
    await first.gate;
    order.push('a1');
  });
  const two = serial.run('a', async () => {
    order.push('a2');
  });
  await serial.run('b', async () => {
    order.push('b');
  });
  expect(order).toEqual(['b']);
  first.release();
  await Promise.all([one, two]);
  expect(order).toEqual(['b', 'a1', 'a2']);
});

test('work that fails lets the next go on, and tells its own caller', async () => {
  const serial = new Serial();
  const failing = serial.run('a', () => Promise.reject(new Error('no')));
  const next = serial.run('a', () => Promise.resolve('yes'));
  await expect(failing).rejects.toThrow('no');
  await expect(next).resolves.toBe('yes');
});

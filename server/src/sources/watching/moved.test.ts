import { expect, test } from '@jest/globals';
import { clearOnes } from './moved.ts';

test('which of several files went where is clear by their names, or by there being one', () => {
  const move = (from: string, to: string) => ({ from, fromPath: from, to, toPath: to });
  expect(clearOnes([move('a/x', 'b/y')])).toHaveLength(1);
  expect(clearOnes([move('a/x', 'b/x'), move('a/x', 'b/y')])).toEqual([move('a/x', 'b/x')]);
  // Two that were the same went, each to its name; the third of them nowhere.
  const moves = ['a/x', 'a/y'].flatMap((from) => ['b/x', 'b/y'].map((to) => move(from, to)));
  expect(clearOnes(moves)).toEqual([move('a/x', 'b/x'), move('a/y', 'b/y')]);
  expect(clearOnes([move('a/x', 'b/1'), move('a/x', 'b/2')])).toEqual([]);
  expect(clearOnes([move('a/x', 'b/1'), move('a/y', 'b/1')])).toEqual([]);
});

import { expect, test } from '@jest/globals';
import type { Reach } from '@tether/core';
import { isUnlocked, whyNotWritable } from './writable.ts';

const block: Reach = {
  kind: 'block',
  sheet: 'Counts',
  area: { top: 3, left: 1, bottom: 9, right: 4 },
};
const columns = { kind: 'picked columns', sheet: 'Counts' } as Reach;

test('only tables of cells as they stand take corrections', () => {
  expect(whyNotWritable({ reach: block, form: 'table' })).toBeNull();
  for (const form of ['facsimile', 'value', 'tag'] as const) {
    expect(whyNotWritable({ reach: block, form })).toContain('in tables');
  }
  expect(whyNotWritable({ reach: block, form: 'chart' })).toContain('a chart draws');
  expect(whyNotWritable({ reach: columns, form: 'table' })).toContain('picked columns');
});

test('a cell is unlocked with all of them, or within an area', () => {
  const at = (row: number, column: number) => ({ row, column });
  expect(isUnlocked(null, at(3, 1))).toBe(false);
  expect(isUnlocked('all', at(3, 1))).toBe(true);
  const areas = [
    { top: 3, left: 1, bottom: 4, right: 2 },
    { top: 8, left: 4, bottom: 8, right: 4 },
  ];
  const open = [at(3, 1), at(4, 2), at(8, 4)];
  const locked = [at(2, 1), at(5, 1), at(3, 3), at(8, 3), at(9, 4)];
  expect(open.map((each) => isUnlocked(areas, each))).toEqual([true, true, true]);
  expect(locked.some((each) => isUnlocked(areas, each))).toBe(false);
});

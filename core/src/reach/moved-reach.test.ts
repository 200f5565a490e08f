import { describe, expect, test } from '@jest/globals';
import type { LineChange } from '../sheet/line-change.ts';
import { movedReach } from './moved-reach.ts';
import type { Reach } from './reach.ts';

const rows: LineChange = { sheet: 'Counts', kind: 'put in', axis: 'rows', at: 3, count: 2 };
const columns: LineChange = { ...rows, axis: 'columns', count: 1 };
const out: LineChange = { ...columns, kind: 'take out' };
const block: Reach = {
  kind: 'block',
  sheet: 'Counts',
  area: { top: 2, left: 2, bottom: 5, right: 4 },
};
const growing: Reach = {
  kind: 'growing block',
  sheet: 'counts',
  header: { row: 4, left: 2, right: 4 },
  words: ['Plot', 'Planted', 'Surviving'],
};
const picked: Reach = {
  kind: 'picked columns',
  sheet: 'Counts',
  headerRow: 4,
  columns: ['Planted'],
};

describe('a reach follows rows and columns', () => {
  test('a block grows with what is put in within it', () => {
    expect(movedReach(block, rows)).toMatchObject({ area: { top: 2, bottom: 7 } });
    expect(movedReach(block, { ...rows, sheet: 'Notes' })).toBe(block);
    expect(movedReach(block, { ...rows, kind: 'take out', at: 1, count: 9 })).toBe(block);
  });

  test('a header goes along, and keeps its words by column', () => {
    expect(movedReach(growing, rows)).toMatchObject({ header: { row: 6, left: 2, right: 4 } });
    expect(movedReach(growing, columns)).toMatchObject({
      header: { left: 2, right: 5 },
      words: ['Plot', '', 'Planted', 'Surviving'],
    });
    expect(movedReach(growing, out)).toMatchObject({ words: ['Plot', 'Surviving'] });
    expect(movedReach(picked, rows)).toMatchObject({ headerRow: 6 });
  });
});

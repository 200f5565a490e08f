import { describe, expect, test } from '@jest/globals';
import { snapshotOf } from '../sheet/snapshot.fixture.ts';
import { emptyWords, smallWords } from './said-in-place.ts';

describe('what an object says of itself in place', () => {
  test('empty cells are said to be so', () => {
    expect(emptyWords(snapshotOf([[null, null]]))).toContain('empty');
    expect(emptyWords(snapshotOf([['Plot', 'Planted']]))).toBeNull();
  });

  test('nothing but errors under a header are said, one error among figures is not', () => {
    const bad = snapshotOf([
      ['Plot', 'Planted', 'Share'],
      ['SC-01', { error: '#REF!' }, { error: '#DIV/0!' }],
    ]);
    expect(emptyWords(bad)).toBe('All of its 2 figures are errors in the source: #REF!, #DIV/0!.');
    expect(emptyWords(snapshotOf([['SC-01', { error: '#REF!' }, 3]]))).toBeNull();
    expect(emptyWords(snapshotOf([[{ error: '#N/A' }]]))).toContain('only figure');
  });

  test('letters too small to read are said with their size', () => {
    const wide = snapshotOf([['Plot', 3]]);
    expect(smallWords(wide, 1)).toBeNull();
    expect(smallWords(wide, 0.3)).toMatch(/^Its letters are 3\.\d pt/);
    expect(smallWords(snapshotOf([[null]]), 0.1)).toBeNull();
  });
});

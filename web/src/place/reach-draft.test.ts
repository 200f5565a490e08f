import { describe, expect, test } from '@jest/globals';
import type { Reach } from '@tether/core';
import { draftOf, nextStep, type ReachDraft, reachOf } from './reach-draft.ts';

const area = { top: 4, left: 1, bottom: 17, right: 6 };
const draft: ReachDraft = {
  kind: 'block',
  sheet: 'Counts',
  area,
  columns: [],
  name: null,
  chart: null,
  withHidden: false,
  headed: null,
};

const reaches: Reach[] = [
  { kind: 'block', sheet: 'Counts', area },
  { kind: 'growing block', sheet: 'Counts', header: { row: 4, left: 1, right: 6 } },
  { kind: 'whole sheet', sheet: 'Counts', hidden: 'in' },
  { kind: 'name', name: 'Plots', sheet: null },
  {
    kind: 'picked columns',
    sheet: 'Counts',
    headerRow: 4,
    columns: ['Plot', { text: 'Cover', nth: 2 }],
  },
  { kind: 'block', sheet: 'Counts', area, headed: { title: 1, rows: 2 } },
];

describe('choosing a reach', () => {
  test.each(reaches)('can go on from where it was: %j', (reach) => {
    expect(reachOf(draftOf(reach, area, 'Counts'))).toEqual(reach);
  });

  test.each(['block', 'growing block', 'name', 'picked columns'] as const)(
    'a %s waits for what it needs and says so',
    (kind) => {
      const empty = { ...draft, kind, area: null };
      expect(reachOf(empty)).toBeNull();
      expect(nextStep(empty)).not.toBe('');
    },
  );

  test('a whole sheet needs nothing more', () => {
    expect(reachOf({ ...draft, kind: 'whole sheet', area: null })).toEqual({
      kind: 'whole sheet',
      sheet: 'Counts',
    });
  });

  test('a growing block begins with the first row that was taken', () => {
    expect(reachOf({ ...draft, kind: 'growing block' })).toMatchObject({
      header: { row: 4, left: 1, right: 6 },
    });
  });
});

import { describe, expect, test } from '@jest/globals';
import { fail, ok } from './fault.ts';
import type { Snapshot } from './sheet.ts';
import { standingOf } from './standing.ts';

function showing(value: number): Snapshot {
  return {
    sheet: 'Counts',
    area: { top: 1, left: 1, bottom: 1, right: 1 },
    cells: [{ row: 1, column: 1, type: 'number', value, text: String(value) }],
    merges: [],
    columns: [],
    rows: [],
    dresses: [],
    defaults: { columnWidth: 9, rowHeight: 15, digitWidth: 7 },
  };
}

describe('the standing of an object', () => {
  test('is in step when the source holds what it shows', () => {
    expect(standingOf(showing(5), ok(showing(5)))).toEqual({ name: 'in step' });
  });

  test('is behind when the source holds something else, with the slip', () => {
    const standing = standingOf(showing(5), ok(showing(8)));
    expect(standing).toMatchObject({ name: 'behind', slip: { counts: { cells: 1 } } });
  });

  test('is adrift when the source cannot be followed, with the reason', () => {
    const standing = standingOf(showing(5), fail('source-missing', { path: 'counts.xlsx' }));
    expect(standing).toMatchObject({ name: 'adrift', reason: { code: 'source-missing' } });
  });
});

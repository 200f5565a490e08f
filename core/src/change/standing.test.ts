import { describe, expect, test } from '@jest/globals';
import type { Snapshot } from '../sheet/sheet.ts';
import { changeOf } from './standing.ts';

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

describe('what puts an object behind', () => {
  test('is nothing when the source holds what it shows', () => {
    expect(changeOf(showing(5), showing(5))).toBeNull();
  });

  test('is told in few words when the source holds something else', () => {
    expect(changeOf(showing(5), showing(8))).toEqual({
      summary: '1 cell changed',
      behindBy: 1,
      danger: { grave: null, changed: 0 },
    });
  });

  test('is told with the harm that it may do', () => {
    const gone = { ...showing(5), cells: [] };
    expect(changeOf(showing(5), gone)).toMatchObject({
      danger: { grave: { code: 'waits-empty' } },
    });
  });
});

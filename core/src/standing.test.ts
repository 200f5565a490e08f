import { describe, expect, test } from '@jest/globals';
import { fail, ok } from './fault.ts';
import { resolveReach } from './reach.ts';
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

describe('resolving a block', () => {
  const area = { top: 1, left: 1, bottom: 3, right: 3 };
  const sheets = [{ name: 'Counts', state: 'visible' as const }];

  test('finds the sheet without regard to case', () => {
    const resolved = resolveReach({ kind: 'block', sheet: 'COUNTS', area }, sheets);
    expect(resolved).toEqual({ ok: true, value: { sheet: 'Counts', area } });
  });

  test('says which sheets there are when its own is gone', () => {
    const resolved = resolveReach({ kind: 'block', sheet: 'Plots', area }, sheets);
    expect(resolved).toMatchObject({ ok: false, fault: { code: 'sheet-missing' } });
    if (!resolved.ok) expect(resolved.fault.hint).toContain('Counts');
  });

  test('refuses more cells than one object can show', () => {
    const whole = { top: 1, left: 1, bottom: 1_048_576, right: 26 };
    const resolved = resolveReach({ kind: 'block', sheet: 'Counts', area: whole }, sheets);
    expect(resolved).toMatchObject({ ok: false, fault: { code: 'reach-too-large' } });
  });
});

import { describe, expect, test } from '@jest/globals';
import type { Cell, Validation } from '../sheet/sheet.ts';
import { parseEntry, refusedBy, type Writing } from './entry.ts';

const british: Writing = { decimal: '.', dates: 'day first' };
const german: Writing = { decimal: ',', dates: 'day first' };
const american: Writing = { decimal: '.', dates: 'month first' };

function entered(typed: string, cell?: Pick<Cell, 'type' | 'format'>, writing = british) {
  const result = parseEntry(typed, cell, writing);
  return result.ok ? result.value : result.fault.code;
}

describe('what is typed into a cell', () => {
  test.each<[string, Writing, unknown]>([
    ['41', british, 41],
    ['-1,234.5', british, -1234.5],
    ['1.234,5', german, 1234.5],
    ['1 234,5', german, 1234.5],
    ['£1,200', british, 1200],
    ['(30)', british, -30],
    ['−3', british, -3],
    ['12%', british, 0.12],
    ['1e3', british, 1000],
    ['1.2.3', british, 'entry-not-number'],
    ['many', british, 'entry-not-number'],
    ['1,23', british, 'entry-not-number'],
    ['', british, null],
    ["'0012", british, '0012'],
  ])('%s where a number stands', (typed, writing, value) => {
    expect(entered(typed, { type: 'number' }, writing)).toBe(value);
  });

  test('a share where shares stand', () => {
    expect(entered('62', { type: 'number', format: '0%' })).toBe(0.62);
    expect(entered('62.5%', { type: 'number', format: '0.0%' })).toBe(0.625);
  });

  // 2026-10-05 is day 46300 of the 1900 system.
  test.each<[string, Writing, unknown]>([
    ['2026-10-05', british, 46_300],
    ['5/10/2026', british, 46_300],
    ['10/5/2026', american, 46_300],
    ['5.10.2026', german, 46_300],
    ['5 Oct 2026', british, 46_300],
    ['soon', british, 'entry-not-date'],
    ['31/2/2026', british, 'entry-not-date'],
  ])('%s where a day stands', (typed, writing, value) => {
    expect(entered(typed, { type: 'date' }, writing)).toBe(value);
  });

  test('by what stood there before', () => {
    expect(entered('12', { type: 'text' })).toBe('12');
    expect(entered('true', { type: 'boolean' })).toBe(true);
    expect(entered('yes', { type: 'boolean' })).toBe('entry-not-truth');
    expect([entered('12'), entered('2026-10-05'), entered('SC-01'), entered('FALSE')]).toEqual([
      12,
      46_300,
      'SC-01',
      false,
    ]);
  });
});

describe('the checks of a sheet', () => {
  const check = (kind: Validation['kind'], comparison: string, operands: string[]): Validation => ({
    areas: [{ top: 2, left: 1, bottom: 9, right: 1 }],
    kind,
    comparison,
    operands,
    allowsBlank: true,
    message: null,
  });
  const expected = (validation: Validation, value: number | string | null, row = 2) =>
    refusedBy([validation], { row, column: 1 }, value)?.message ?? null;

  test.each<[Validation, number | string | null, boolean]>([
    [check('whole', 'between', ['0', '400']), 240, true],
    [check('whole', 'between', ['0', '400']), 401, false],
    [check('whole', 'between', ['0', '400']), 1.5, false],
    [check('whole', 'between', ['0', '400']), 'x', false],
    [check('decimal', 'greaterThan', ['0']), 0, false],
    [check('list', 'between', ['alive', 'lost']), 'Alive', true],
    [check('list', 'between', ['alive', 'lost']), 'gone', false],
    [check('list', 'between', ['$A$1:$A$9']), 'gone', true],
    [check('textLength', 'lessThanOrEqual', ['5']), 'SC-001', false],
    [check('whole', 'between', ['A1', '400']), 401, true],
    [check('whole', 'between', ['0', '400']), null, true],
  ])('%j takes %j: %s', (validation, value, isTaken) => {
    expect(expected(validation, value) === null).toBe(isTaken);
    expect(expected(validation, value, 20)).toBeNull();
  });

  test('say what they expect', () => {
    expect(expected(check('whole', 'between', ['0', '400']), 401)).toContain(
      'a whole number from 0 to 400',
    );
    expect(
      expected({ ...check('list', 'between', ['a']), message: 'Pick a state.' }, 'x'),
    ).toContain('Pick a state.');
  });
});

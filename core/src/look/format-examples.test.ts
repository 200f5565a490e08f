import { describe, expect, test } from '@jest/globals';
import { snapshotOf } from '../sheet/snapshot.fixture.ts';
import { formatExamples, formatFault, sampleOf } from './format-examples.ts';

describe('number formats to choose from', () => {
  const number = sampleOf(snapshotOf([['Plot', 1234.567]]).cells);
  const date = sampleOf(snapshotOf([['Day', { date: '2026-10-05' }]]).cells);

  test('are shown with a figure of the cells', () => {
    const shown = new Map(formatExamples(number).map((each) => [each.code, each.shown]));
    expect(shown.get('#,##0.00')).toBe('1,234.57');
    expect(shown.get('0%')).toBe('123457%');
    expect(shown.get('+0;-0;0')).toBe('+1235');
    expect(shown.get('General')).toBe('1234.567');
  });

  test('are those of dates for dates', () => {
    const shown = new Map(formatExamples(date).map((each) => [each.code, each.shown]));
    expect(shown.get('d mmmm yyyy')).toBe('5 October 2026');
    expect(shown.get('ddd d mmm')).toBe('Mon 5 Oct');
    expect(formatExamples(null)[0]!.shown).toBe('1235');
  });

  test('a typed code that does not fit is said', () => {
    expect(formatFault('0.00', number)).toBeNull();
    expect(formatFault('#,##0 "m"', number)).toBeNull();
    expect(formatFault('0.00', date)).toContain('these are dates');
    expect(formatFault('yyyy', number)).toContain('these are numbers');
    expect(formatFault('"open', number)).toContain('not understood');
  });

  test('cells without figures have no sample', () => {
    expect(sampleOf(snapshotOf([['a', null]]).cells)).toBeNull();
  });
});

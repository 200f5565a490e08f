import { expect, test } from '@jest/globals';
import { nextPeriods } from './periods.ts';

test.each<[string, string]>([
  ['counts 2026-10', 'counts 2026-11'],
  ['counts_202612', 'counts_202701'],
  ['Counts Q3 2026', 'Counts Q4 2026'],
  ['2026 Q4 counts', '2027 Q1 counts'],
  ['counts-q1', 'counts-q2'],
  ['Planting October', 'Planting November'],
  ['Planting Dec 2026', 'Planting Jan 2027'],
  ['PLANTING SEPTEMBER', 'PLANTING OCTOBER'],
  ['budget 2026', 'budget 2027'],
  ['budget 2026-27', 'budget 2027-28'],
  ['Autumn monitoring report 2026', 'Autumn monitoring report 2027'],
])('after %s comes %s', (name, next) => {
  expect(nextPeriods(name)[0]).toBe(next);
});

test('a year that goes on alone is offered too, and what names no period has none', () => {
  expect(nextPeriods('Counts Q3 2026')).toEqual(['Counts Q4 2026', 'Counts Q3 2027']);
  // Words that only begin like a month, and numbers that are no years.
  for (const name of ['planting-counts', 'marsh', 'decking 3', 'sheet 12026', 'BW-01']) {
    expect(nextPeriods(name)).toEqual([]);
  }
});

import { describe, expect, test } from '@jest/globals';
import { categoriesOf } from './categories.ts';

const dates = (format: string | undefined, ...days: string[]) =>
  days.map((value) => ({
    type: 'date',
    value,
    text: `text of ${value}`,
    ...(format ? { format } : {}),
  }));

describe('what stands along the axis', () => {
  test('texts as the cells show them', () => {
    const cells = ['SC-01', 'SC-02'].map((text) => ({ type: 'text', value: text, text }));
    expect(categoriesOf([...cells, undefined])).toEqual({
      labels: ['SC-01', 'SC-02', ''],
      dates: null,
    });
  });

  test.each([
    ['the first of each month', ['2024-11-01', '2024-12-01', '2025-01-01']],
    ['the last of each month', ['2024-11-30', '2024-12-31', '2025-01-31']],
    ['with a midnight', ['2024-11-01T00:00', '2024-12-01T00:00:00', '2025-01-01T00:00']],
  ])('%s is said by month and year', (_, days) => {
    expect(categoriesOf(dates(undefined, ...days))).toEqual({
      labels: ['Nov 2024', 'Dec 2024', 'Jan 2025'],
      dates: 'mmm yyyy',
    });
  });

  test('a month that is left out is still a step by months', () => {
    expect(categoriesOf(dates('dd/mm/yyyy', '2024-02-01', '2024-04-01')).labels).toEqual([
      'Feb 2024',
      'Apr 2024',
    ]);
  });

  test.each([
    ['days within a month', undefined, ['2024-02-01', '2024-02-02', '2024-02-03']],
    ['a month twice', undefined, ['2024-02-01', '2024-02-01', '2024-03-01']],
    ['hours of the first', undefined, ['2024-02-01T06:00', '2024-03-01T06:00']],
    ['what says no day anyway', 'mmmm yy', ['2024-02-01', '2024-03-01']],
    ['a d that is only a word', '"d" mmm', ['2024-02-01', '2024-03-01']],
    ['one date', 'd mmm yyyy', ['2024-02-01']],
    ['from last to first', 'd mmm yyyy', ['2024-03-01', '2024-02-01']],
  ])('%s stays as the cells show it', (_, format, days) => {
    const { labels } = categoriesOf(dates(format, ...days));
    expect(labels).toEqual(days.map((day) => `text of ${day}`));
  });

  test('the format of dates goes with them, for what comes after', () => {
    expect(categoriesOf(dates('d mmm', '2024-02-02', '2024-02-09')).dates).toBe('d mmm');
    expect(categoriesOf(dates(undefined, '2024-02-02T06:00')).dates).toBe('yyyy-mm-dd hh:mm');
  });

  test('a format that the chart has itself comes first', () => {
    const cells = dates('d mmm', '2024-02-02', '2024-02-09');
    expect(categoriesOf(cells, 'dd.mm.')).toEqual({
      labels: ['02.02.', '09.02.'],
      dates: 'dd.mm.',
    });
  });

  test('a text among dates makes them no dates', () => {
    const cells = [...dates(undefined, '2024-01-01', '2024-02-01')];
    expect(categoriesOf([...cells, { type: 'text', value: 'sum', text: 'sum' }]).dates).toBeNull();
  });
});

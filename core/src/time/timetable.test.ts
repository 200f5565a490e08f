import { describe, expect, test } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import { isTimeZone, nextTime } from './timetable.ts';

const at = (iso: string) => Date.parse(iso);
const iso = (moment: number) => new Date(moment).toISOString();

test('every n minutes counts whole steps of elapsed time', () => {
  expect(iso(nextTime({ every: 15 }, at('2026-10-05T09:07:00Z')))).toBe('2026-10-05T09:15:00.000Z');
  expect(iso(nextTime({ every: 15 }, at('2026-10-05T09:15:00Z')))).toBe('2026-10-05T09:30:00.000Z');
  // The clocks of London go back at 01:00 UTC that night: the steps do not notice.
  expect(iso(nextTime({ every: 60 }, at('2026-10-25T00:30:00Z')))).toBe('2026-10-25T01:00:00.000Z');
});

test('weekdays leave Saturday and Sunday out, by the date of the zone', () => {
  const timetable = { at: '07:30', days: 'weekdays', zone: 'Pacific/Auckland' } as const;
  // Friday 2 October 2026, 07:30 in Auckland is Thursday evening in UTC (NZDT since 27 September, UTC+13).
  expect(iso(nextTime(timetable, at('2026-10-01T12:00:00Z')))).toBe('2026-10-01T18:30:00.000Z');
  expect(iso(nextTime(timetable, at('2026-10-01T18:30:00Z')))).toBe('2026-10-04T18:30:00.000Z');
});

// Changes of clocks as the rules of the IANA Time Zone Database have them: London by Directive 2000/84/EC and the Summer
// Time Order 2002 (last Sundays of March and October, 01:00 UTC), New York by the Energy Policy Act of 2005 (second
// Sunday of March, first of November, 02:00 local), Lord Howe by half an hour.
describe('a clock change', () => {
  test.each([
    ['Europe/London', '01:30', '2026-03-28T12:00:00Z', '2026-03-29T01:30:00.000Z'],
    ['America/New_York', '02:15', '2026-03-07T12:00:00Z', '2026-03-08T07:15:00.000Z'],
    ['Australia/Lord_Howe', '02:10', '2026-10-03T12:00:00Z', '2026-10-03T15:40:00.000Z'],
  ])(
    'that skips the hour in %s takes it with the offset from before',
    (zone, time, after, next) => {
      expect(iso(nextTime({ at: time, days: 'daily', zone }, at(after)))).toBe(next);
    },
  );

  test.each([
    ['Europe/London', '01:30', '2026-10-24T12:00:00Z', '2026-10-25T00:30:00.000Z'],
    ['America/New_York', '01:15', '2026-10-31T12:00:00Z', '2026-11-01T05:15:00.000Z'],
    ['Australia/Lord_Howe', '01:45', '2026-04-04T02:00:00Z', '2026-04-04T14:45:00.000Z'],
  ])('that repeats the hour in %s takes its first occurrence, once', (zone, time, after, next) => {
    const first = nextTime({ at: time, days: 'daily', zone }, at(after));
    expect(iso(first)).toBe(next);
    const second = nextTime({ at: time, days: 'daily', zone }, first);
    expect(second - first).toBeGreaterThan(23 * 3_600_000);
  });
});

test('whatever the zone and moment, the clock there reads the time wanted, a day after the last', () => {
  const zones = ['UTC', 'Europe/London', 'America/St_Johns', 'Asia/Kathmandu', 'Pacific/Apia'];
  fc.assert(
    fc.property(
      fc.constantFrom(...zones),
      fc.integer({ min: at('2012-01-01'), max: at('2035-01-01') }),
      fc.integer({ min: 0, max: 23 }),
      fc.integer({ min: 0, max: 59 }),
      (zone, after, hour, minute) => {
        const time = `${`${hour}`.padStart(2, '0')}:${`${minute}`.padStart(2, '0')}`;
        const next = nextTime({ at: time, days: 'daily', zone }, after);
        expect(next).toBeGreaterThan(after);
        // A day with its hour skipped has up to an hour more on top.
        expect(next - after).toBeLessThanOrEqual(26 * 3_600_000);
        const reads = (moment: number) =>
          new Date(moment).toLocaleTimeString('en-GB', {
            timeZone: zone,
            hour: '2-digit',
            minute: '2-digit',
          });
        if (reads(next) === time) return;
        // Skipped: an hour (or so) earlier or later the clock has another offset.
        const offset = (moment: number) =>
          new Date(moment)
            .toLocaleString('en', { timeZone: zone, timeZoneName: 'longOffset' })
            .split('GMT')[1];
        expect(offset(next - 3_600_000 * 2)).not.toBe(offset(next + 60_000));
      },
    ),
    { numRuns: runs(300) },
  );
});

test('zones that nobody knows are told apart', () => {
  expect(isTimeZone('Europe/London')).toBe(true);
  expect(isTimeZone('Sallow/Creek')).toBe(false);
});

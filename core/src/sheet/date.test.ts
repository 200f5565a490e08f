import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { isoToSerial, serialToIso } from './date.ts';

describe('serial dates', () => {
  // ECMA-376 Part 1, 18.17.4.1 (Date Conversion for Serial Date-Times) and the limits it names; the day that never was
  // and its neighbours by the note there: 59 is 28 February 1900, 60 the non-existent 29th, 61 is 1 March.
  test.each([
    [1, '1900-01-01'],
    [59, '1900-02-28'],
    [60, '1900-02-29'],
    [61, '1900-03-01'],
    [2_958_465, '9999-12-31'],
    // 18.17.4.2 (Serial Dates), examples: 1 January 2008 and 31 December 2008 lie 365 days apart in a leap year.
    [39_448, '2008-01-01'],
    [39_813, '2008-12-31'],
  ])('in the 1900 system %d is %s', (serial, iso) => {
    expect(serialToIso(serial, '1900')).toBe(iso);
    expect(isoToSerial(iso, '1900')).toBe(serial);
  });

  test.each([1e300, -1e300, 2_958_466, Number.MAX_VALUE, Number.POSITIVE_INFINITY, Number.NaN, -1])(
    '%d names no day, and breaks nothing',
    (serial) => {
      expect(serialToIso(serial, '1900')).toBeNull();
      expect(serialToIso(serial, '1904')).toBeNull();
    },
  );

  test.each([
    [0, '1904-01-01'],
    [1, '1904-01-02'],
    [2_957_003, '9999-12-31'],
  ])('in the 1904 system %d is %s', (serial, iso) => {
    expect(serialToIso(serial, '1904')).toBe(iso);
    expect(isoToSerial(iso, '1904')).toBe(serial);
  });

  test('the same day lies 1462 apart in the two systems', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1462, max: 2_958_465 }), (serial) => {
        expect(serialToIso(serial, '1900')).toBe(serialToIso(serial - 1462, '1904'));
      }),
    );
  });

  test('a fraction is the time of day', () => {
    expect(serialToIso(39_448.5, '1900')).toBe('2008-01-01T12:00:00');
    expect(serialToIso(39_448 + 1 / 86_400_000, '1900')).toBe('2008-01-01T00:00:00.001');
    expect(serialToIso(0.75, '1900')).toBe('18:00:00');
    expect(isoToSerial('18:00:00', '1900')).toBe(0.75);
  });

  test('what is no date gives none', () => {
    expect(serialToIso(-1, '1900')).toBeNull();
    expect(serialToIso(2_958_466, '1900')).toBeNull();
    for (const text of ['', 'T', '2008-1-1', 'soon']) expect(isoToSerial(text, '1900')).toBeNaN();
  });

  test('every minute comes back as the serial it was', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1440, max: 2_958_464 * 1440 }),
        fc.constantFrom('1900' as const, '1904' as const),
        (minute, system) => {
          const serial = minute / 1440;
          const iso = serialToIso(serial, system);
          if (iso !== null) expect(isoToSerial(iso, system)).toBeCloseTo(serial, 8);
        },
      ),
    );
  });
});

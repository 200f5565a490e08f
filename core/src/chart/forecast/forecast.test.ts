import { describe, expect, test } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import { isoToSerial, serialToIso } from '../../sheet/date.ts';
import { type ForecastWish, forecastSeries } from './forecast.ts';
import { normalQuantile } from './normal.ts';
import {
  AIRLINE_PASSENGERS,
  CARBON_DIOXIDE,
  NILE_FLOW,
  REFERENCES,
  VISITOR_NIGHTS,
} from './series.fixture.ts';
import { errorSpread, fitSmoothing, goOn } from './smoothing.ts';

const wish = (part: Partial<ForecastWish> = {}): ForecastWish => ({
  periods: 8,
  season: 'found',
  confidence: 95,
  ...part,
});
const plain = (values: readonly (number | null)[]) => ({ name: 'Values', times: null, values });
const done = (result: ReturnType<typeof forecastSeries>) => {
  if (!result.ok) throw new Error(result.fault.message);
  return result.value;
};

// Percentage points of the standard normal distribution as every handbook of statistics tabulates them.
test.each([
  [0.75, 0.6744897501960817],
  [0.9, 1.2815515655446004],
  [0.95, 1.6448536269514722],
  [0.975, 1.959963984540054],
  [0.995, 2.5758293035489004],
  [0.9999999, 5.199337582290661],
])('the quantile of the normal distribution at %d', (probability, expected) => {
  expect(normalQuantile(probability)).toBeCloseTo(expected, 12);
  expect(normalQuantile(1 - probability)).toBeCloseTo(-expected, 7);
});

describe('against an independent statistics package', () => {
  test.each(REFERENCES)('$name: errors as small, the same forecast and bounds', (reference) => {
    const smoothed = fitSmoothing(reference.values, reference.season);
    // It searches with another method: ours must not be worse, and not by much better.
    expect(smoothed.sse).toBeLessThan(reference.sse * 1.0005);
    expect(smoothed.sse).toBeGreaterThan(reference.sse * 0.995);
    const scale = Math.sqrt(reference.sse / reference.values.length);
    // It divides by the number of values, we by what is left of them when what was estimated is taken off.
    const sigma = Math.sqrt(smoothed.sse / reference.values.length);
    goOn(smoothed, reference.mean.length).forEach(({ mean, spread }, at) => {
      // Within a tenth of the standard deviation of a one-step error.
      expect(Math.abs(mean - reference.mean[at]!)).toBeLessThan(0.1 * scale);
      const upper = mean + 1.959964 * sigma * spread;
      expect(Math.abs(upper - reference.upper[at]!)).toBeLessThan(0.1 * scale);
    });
    expect(errorSpread(smoothed)).toBeGreaterThan(sigma);
  });
});

// R. J. Hyndman, G. Athanasopoulos, Forecasting: Principles and Practice, 2nd edition (2018), section 7.3, the additive
// method for visitor nights: alpha 0.306, gamma 0.426, root mean square error 1.763 (from memory). Their search stops a
// little before the smallest error.
test('as good as a published fit of visitor nights in Australia', () => {
  const { parameters, season, error } = done(forecastSeries(plain(VISITOR_NIGHTS), wish()));
  expect(season).toBe(4);
  expect(error).toBeLessThan(1.77);
  expect(error).toBeGreaterThan(1.74);
  expect(parameters.alpha).toBeCloseTo(0.3, 0);
  expect(parameters.beta).toBeLessThan(0.001);
  expect(parameters.gamma).toBeCloseTo(0.43, 1);
});

describe('the season', () => {
  test.each([
    ['months of airline passengers', AIRLINE_PASSENGERS, 12],
    ['quarters of visitor nights', VISITOR_NIGHTS, 4],
    ['months of carbon dioxide', CARBON_DIOXIDE, 12],
    ['years of the river Nile', NILE_FLOW, null],
  ])('%s', (_, values, expected) => {
    expect(done(forecastSeries(plain(values), wish())).season).toBe(expected);
  });

  test('an exact one is carried on exactly', () => {
    const pattern = [3, -1, 4, -6, 0];
    const at = (t: number) => 100 + 2 * t + pattern[t % 5]!;
    const { points, season } = done(
      forecastSeries(plain(Array.from({ length: 30 }, (_, t) => at(t))), wish()),
    );
    expect(season).toBe(5);
    points.forEach(({ value, lower, upper }, index) => {
      expect(value).toBeCloseTo(at(30 + index), 4);
      expect(upper - lower).toBeLessThan(0.01);
    });
  });

  test('one that is asked for needs two of its length', () => {
    const result = forecastSeries(plain(VISITOR_NIGHTS.slice(0, 20)), wish({ season: 12 }));
    expect(result).toMatchObject({ ok: false, fault: { code: 'forecast-too-few' } });
  });
});

describe('the bounds', () => {
  test('widen with the confidence and with every step, around the same mean', () => {
    const at = (confidence: number) =>
      done(forecastSeries(plain(AIRLINE_PASSENGERS), wish({ confidence, season: 12 }))).points;
    const [half, most] = [at(50), at(99)];
    half.forEach((point, index) => {
      expect(point.value).toBe(most[index]!.value);
      // The ratio of the quantiles at 99.5 and 75 per cent.
      const ratio = (most[index]!.upper - point.value) / (point.upper - point.value);
      expect(ratio).toBeCloseTo(2.5758293035 / 0.6744897502, 8);
      if (index > 0) {
        const before = half[index - 1]!;
        expect(point.upper - point.lower).toBeGreaterThan(before.upper - before.lower);
      }
    });
  });

  // The closed form of the same variance, Hyndman and others (2008), table 6.2, for ETS(A,A,A).
  test('grow as the closed formula says', () => {
    const smoothed = fitSmoothing(AIRLINE_PASSENGERS.slice(0, 60), 12);
    const { alpha, beta, gamma } = smoothed.parameters;
    goOn(smoothed, 40).forEach(({ spread }, index) => {
      const h = index + 1;
      const k = Math.floor((h - 1) / 12);
      const expected =
        1 +
        (h - 1) * (alpha ** 2 + alpha * beta * h + (beta ** 2 * h * (2 * h - 1)) / 6) +
        gamma! * k * (2 * alpha + gamma! + beta * 12 * (k + 1));
      expect(spread ** 2).toBeCloseTo(expected, 8);
    });
  });

  test('a series that is moved or stretched moves and stretches its forecast', () => {
    const base = VISITOR_NIGHTS.slice(0, 24);
    const plainPoints = done(forecastSeries(plain(base), wish({ season: 4 }))).points;
    fc.assert(
      fc.property(
        fc.integer({ min: -1000, max: 1000 }),
        fc.integer({ min: 1, max: 50 }),
        (by, times) => {
          const { points } = done(
            forecastSeries(plain(base.map((value) => value * times + by)), wish({ season: 4 })),
          );
          points.forEach(({ value }, index) => {
            const expected = plainPoints[index]!.value * times + by;
            expect(Math.abs(value - expected)).toBeLessThan(0.02 * times);
          });
        },
      ),
      { numRuns: runs(8) },
    );
  });
});

describe('times', () => {
  const day = (iso: string) => isoToSerial(iso, '1900');
  const iso = (serial: number | null) => serialToIso(serial!, '1900');

  test('months go on as months, from the last of a month to the last', () => {
    const ends = [
      '2025-08-31',
      '2025-09-30',
      '2025-10-31',
      '2025-11-30',
      '2025-12-31',
      '2026-01-31',
    ];
    const { points } = done(
      forecastSeries(
        { name: '', times: ends.map(day), values: [1, 2, 3, 4, 5, 6] },
        wish({ periods: 3 }),
      ),
    );
    expect(points.map(({ time }) => iso(time))).toEqual(['2026-02-28', '2026-03-31', '2026-04-30']);
    for (const [index, { value }] of points.entries()) expect(value).toBeCloseTo(7 + index, 4);
  });

  test('hours, quarters and years too', () => {
    const next = (times: string[]) =>
      iso(
        done(
          forecastSeries(
            { name: '', times: times.map(day), values: times.map((_, at) => at) },
            wish({ periods: 1 }),
          ),
        ).points[0]!.time,
      );
    const hours = [20, 21, 22, 23].map((hour) => `2026-10-31T${hour}:00:00`);
    expect(next([...hours, '2026-11-01T00:00:00'])).toBe('2026-11-01T01:00:00');
    const quarters = ['2025-01-01', '2025-04-01', '2025-07-01', '2025-10-01', '2026-01-01'];
    expect(next(quarters)).toBe('2026-04-01');
    expect(next([2020, 2021, 2022, 2023, 2024].map((year) => `${year}-03-01`))).toBe('2025-03-01');
  });

  test('missing ones lie between their neighbours, double ones are a mean, and both are said', () => {
    const days = [1, 2, 2, 3, 5, 6, 7, 8];
    const { points, notes } = done(
      forecastSeries(
        { name: '', times: days.map((at) => 46000 + at), values: [1, 1, 3, 3, 5, 6, 7, 8] },
        wish({ periods: 2 }),
      ),
    );
    for (const [index, { value }] of points.entries()) expect(value).toBeCloseTo(9 + index, 4);
    expect(notes).toEqual([
      '1 value has the time of another: their mean is taken.',
      '1 value missing: set on the line between its neighbours.',
    ]);
  });

  test('out of order they are put in order', () => {
    const { points, notes } = done(
      forecastSeries(
        { name: '', times: [5, 4, 3, 2, 1].map((at) => 46000 + at), values: [5, 4, 3, 2, 1] },
        wish({ periods: 1 }),
      ),
    );
    expect(points[0]!.value).toBeCloseTo(6, 4);
    expect(notes).toEqual(['The times were put in order.']);
  });

  test('uneven ones, too few values or none are refused', () => {
    const code = (times: number[] | null, values: (number | null)[]) => {
      const result = forecastSeries({ name: '', times, values }, wish());
      return result.ok ? null : result.fault.code;
    };
    expect(code([1, 2, 4.5, 5, 8.2, 9], [1, 2, 3, 4, 5, 6])).toBe('forecast-irregular');
    expect(code([1, 2, 3, 20, 21, 22], [1, 2, 3, 4, 5, 6])).toBe('forecast-irregular');
    expect(code(null, [1, 2, 3, 4])).toBe('forecast-too-few');
    expect(code(null, [null, null])).toBe('forecast-no-numbers');
    expect(code(null, [])).toBe('forecast-no-numbers');
  });

  test('any numbers give a finite forecast', () => {
    const series = fc.array(fc.double({ min: -1e6, max: 1e6, noNaN: true }), {
      minLength: 5,
      maxLength: 60,
    });
    fc.assert(
      fc.property(series, (values) => {
        const { points } = done(forecastSeries(plain(values), wish({ periods: 3 })));
        return points.every(
          ({ value, lower, upper }) =>
            [value, lower, upper].every(Number.isFinite) && lower <= upper,
        );
      }),
      { numRuns: runs(40) },
    );
  });
});

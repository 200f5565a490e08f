import { fail, ok, type Result } from '../../fault.ts';
import { normalQuantile } from './normal.ts';
import { likelySeasons } from './season.ts';
import {
  criterion,
  errorSpread,
  fitSmoothing,
  goOn,
  leastValues,
  type Smoothed,
  type SmoothingParameters,
} from './smoothing.ts';
import { makeTimeline } from './timeline.ts';

/** How a series is to be carried on. */
export interface ForecastWish {
  /** How many steps ahead. */
  periods: number;
  /** Steps of a season, found in the values, or none. */
  season: number | 'found' | 'none';
  /** Per cent of what may come that lies between the bounds. */
  confidence: number;
}

/** A series to carry on: serials in days where it has times. */
export interface SeriesInput {
  name: string;
  times: readonly (number | null)[] | null;
  values: readonly (number | null)[];
}

/** One step ahead. */
export interface ForecastPoint {
  /** Serial; null for a series without times. */
  time: number | null;
  value: number;
  lower: number;
  upper: number;
}

/** What comes after a series. */
export interface SeriesForecast {
  points: ForecastPoint[];
  parameters: SmoothingParameters;
  /** Steps of the season; null for none. */
  season: number | null;
  /** Root mean square of the one-step errors. */
  error: number;
  /** What was done to the values, for the person to know. */
  notes: string[];
}

export const USUAL_FORECAST: ForecastWish = { periods: 12, season: 'found', confidence: 95 };
/** Only the last of very many values are fitted. */
export const MOST_FITTED = 2_000;

/**
 * Carries a series on by exponential smoothing with additive error, trend and season. A season that is to be found is the
 * one of the likely ones, or none, with the smallest corrected information criterion. The bounds hold for errors that are
 * normally distributed. Faults: `forecast-no-numbers`, `forecast-irregular`, `forecast-too-few`.
 */
export function forecastSeries(input: SeriesInput, wish: ForecastWish): Result<SeriesForecast> {
  const timeline = makeTimeline(input.times, input.values);
  if (!timeline.ok) return timeline;
  const { values, timeAt } = timeline.value;
  const notes = [...timeline.value.notes];
  const fitted = values.slice(-MOST_FITTED);
  if (fitted.length < values.length) {
    notes.push(`Only the last ${MOST_FITTED.toLocaleString('en')} values are fitted.`);
  }
  const asked = wish.season === 'found' || wish.season === 'none' ? 1 : wish.season;
  const needed = leastValues(asked);
  if (fitted.length < needed) {
    return fail('forecast-too-few', { values: String(fitted.length), needed: String(needed) });
  }
  const smoothed = wish.season === 'found' ? bestSeason(fitted) : fitSmoothing(fitted, asked);
  const sigma = errorSpread(smoothed);
  const reach = normalQuantile(0.5 + wish.confidence / 200);
  return ok({
    points: goOn(smoothed, wish.periods).map(({ mean, spread }, index) => ({
      time: timeAt(values.length + index),
      value: mean,
      lower: mean - reach * sigma * spread,
      upper: mean + reach * sigma * spread,
    })),
    parameters: smoothed.parameters,
    season: smoothed.season > 1 ? smoothed.season : null,
    error: Math.sqrt(smoothed.sse / smoothed.count),
    notes,
  });
}

function bestSeason(values: readonly number[]): Smoothed {
  const seasons = likelySeasons(values).filter((season) => values.length >= leastValues(season));
  return [1, ...seasons]
    .map((season) => fitSmoothing(values, season))
    .reduce((best, each) => (criterion(each) < criterion(best) ? each : best));
}

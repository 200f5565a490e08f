import { minimise } from './minimise.ts';

/**
 * Exponential smoothing with additive error, trend and season in its innovations form (R. J. Hyndman, A. B. Koehler,
 * J. K. Ord, R. D. Snyder, Forecasting with Exponential Smoothing, 2008, chapter 2; ETS(A,A,A), without a season
 * ETS(A,A,N)):
 *
 *   y(t) = l(t-1) + b(t-1) + s(t-m) + e(t),  l(t) = l(t-1) + b(t-1) + alpha e(t),
 *   b(t) = b(t-1) + beta e(t),  s(t) = s(t-m) + gamma e(t)
 */
export interface SmoothingParameters {
  /** How fast the level follows, 0 to 1. */
  alpha: number;
  /** How fast the trend follows, 0 to alpha. */
  beta: number;
  /** How fast the season follows, 0 to 1 - alpha; null without a season. */
  gamma: number | null;
}

/** Where the smoothing stands: level, trend, and the season's last `m` terms from the oldest. */
interface State {
  level: number;
  trend: number;
  season: Float64Array;
}

/** Smoothing fitted to a series. */
export interface Smoothed {
  parameters: SmoothingParameters;
  /** Length of the season; 1 for none. */
  season: number;
  /** Sum of the squared one-step errors. */
  sse: number;
  /** How many values were fitted, and how many numbers were estimated for that. */
  count: number;
  estimated: number;
  end: State;
}

/** The parameters stay so far from the ends of their ranges. */
const MARGIN = 1e-4;
/** Beyond so much work for one fit the first states are averages of the first seasons instead of the best ones. */
const MOST_WORK = 4_000_000;

/** How many values a fit needs: two whole seasons, and one more than is estimated. */
export function leastValues(season: number): number {
  return season > 1 ? Math.max(2 * season, season + 5) : 5;
}

/**
 * Fits the smoothing to evenly spaced values: the parameters and first states with the smallest sum of squared one-step
 * errors. For given parameters the errors are linear in the first states (J. K. Ord, A. B. Koehler, R. D. Snyder, JASA 92
 * (1997)), so that these are a least-squares solution; the parameters are searched with the simplex method.
 */
export function fitSmoothing(values: readonly number[], season: number): Smoothed {
  const y = Float64Array.from(values);
  const hasSeason = season > 1;
  const unknowns = hasSeason ? season + 1 : 2;
  const isLarge = y.length * unknowns * unknowns > MOST_WORK;
  const guessed = isLarge ? guessStart(y, season) : null;
  const at = (point: readonly number[]) => {
    const parameters = parametersAt(point, hasSeason);
    const start = guessed ?? bestStart(y, season, parameters);
    return { parameters, start, sse: run(y, season, parameters, copy(start), null) };
  };
  const starts = [0.1, 0.3, 0.7]
    .flatMap((alpha) => [0.01, 0.2].map((trend) => [alpha, trend]))
    .flatMap((pair) => (hasSeason ? [0.1, 0.6].map((own) => [...pair, own]) : [pair]))
    .map((shares) => ({ point: shares.map(toFree), sse: 0 }));
  for (const each of starts) each.sse = at(each.point).sse;
  starts.sort((a, b) => a.sse - b.sse);
  const found = starts
    .slice(0, 3)
    .map(({ point }) => minimise((each) => at(each).sse, point))
    .sort((a, b) => a.value - b.value)[0]!;
  const { parameters, start, sse } = at(found.point);
  const end = copy(start);
  run(y, season, parameters, end, null);
  return {
    parameters,
    season,
    sse,
    count: y.length,
    estimated: unknowns + (hasSeason ? 3 : 2),
    end,
  };
}

/** Any number to a share between the margins, and back. */
function toShare(free: number): number {
  return MARGIN + (1 - 2 * MARGIN) / (1 + Math.exp(-free));
}
function toFree(share: number): number {
  const inside = (share - MARGIN) / (1 - 2 * MARGIN);
  return Math.log(inside / (1 - inside));
}

function parametersAt(point: readonly number[], hasSeason: boolean): SmoothingParameters {
  const alpha = toShare(point[0]!);
  return {
    alpha,
    beta: alpha * toShare(point[1]!),
    gamma: hasSeason ? (1 - alpha) * toShare(point[2]!) : null,
  };
}

function copy({ level, trend, season }: State): State {
  return { level, trend, season: season.slice() };
}

/**
 * Goes through the values from a first state, which becomes the last; gives the sum of squared errors. The season is kept
 * as a ring while running and put in order at the end. `errors` takes the single ones.
 */
function run(
  y: Float64Array | null,
  season: number,
  { alpha, beta, gamma }: SmoothingParameters,
  state: State,
  errors: Float64Array | null,
): number {
  const ring = state.season;
  const length = y?.length ?? errors!.length;
  let { level, trend } = state;
  let sum = 0;
  let place = 0;
  for (let t = 0; t < length; t++) {
    const seasonal = gamma === null ? 0 : ring[place]!;
    const error = (y ? y[t]! : 0) - level - trend - seasonal;
    level += trend + alpha * error;
    trend += beta * error;
    if (gamma !== null) {
      ring[place] = seasonal + gamma * error;
      place = place + 1 === season ? 0 : place + 1;
    }
    if (errors) errors[t] = error;
    sum += error * error;
  }
  state.level = level;
  state.trend = trend;
  if (place > 0) state.season = Float64Array.from(ring, (_, at) => ring[(at + place) % season]!);
  return sum;
}

/** The first state with the smallest sum of squared errors for these parameters. */
function bestStart(y: Float64Array, season: number, parameters: SmoothingParameters): State {
  const n = y.length;
  const terms = parameters.gamma === null ? 0 : season - 1;
  const size = 2 + terms;
  const stateOf = (x: ArrayLike<number>): State => {
    const own = new Float64Array(parameters.gamma === null ? 0 : season);
    let rest = 0;
    for (let at = 0; at < terms; at++) {
      own[at] = x[2 + at]!;
      rest += x[2 + at]!;
    }
    // The terms of a season add up to nothing, or they could not be told from the level.
    if (terms > 0) own[season - 1] = -rest;
    return { level: x[0]!, trend: x[1]!, season: own };
  };
  const zero = new Float64Array(size);
  const base = new Float64Array(n);
  run(y, season, parameters, stateOf(zero), base);
  // What each unknown adds to the errors.
  const columns = Array.from({ length: size }, (_, at) => {
    const unit = new Float64Array(size);
    unit[at] = 1;
    const column = new Float64Array(n);
    run(null, season, parameters, stateOf(unit), column);
    return column;
  });
  const matrix = columns.map((a, row) =>
    Float64Array.from({ length: row + 1 }, (_, column) => dot(a, columns[column]!)),
  );
  const right = columns.map((column) => -dot(column, base));
  return stateOf(solve(matrix, right));
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let at = 0; at < a.length; at++) sum += a[at]! * b[at]!;
  return sum;
}

/** Solves a symmetric positive system, given by its lower half, after Cholesky; a hair is added where it is all but singular. */
function solve(lower: Float64Array[], right: readonly number[]): number[] {
  const size = right.length;
  for (let i = 0; i < size; i++) {
    for (let j = 0; j <= i; j++) {
      let sum = lower[i]![j]!;
      for (let k = 0; k < j; k++) sum -= lower[i]![k]! * lower[j]![k]!;
      if (i === j) lower[i]![i] = Math.sqrt(Math.max(sum, 1e-12 * Math.max(1, lower[i]![i]!)));
      else lower[i]![j] = sum / lower[j]![j]!;
    }
  }
  const x = [...right];
  for (let i = 0; i < size; i++) {
    for (let k = 0; k < i; k++) x[i]! -= lower[i]![k]! * x[k]!;
    x[i]! /= lower[i]![i]!;
  }
  for (let i = size - 1; i >= 0; i--) {
    for (let k = i + 1; k < size; k++) x[i]! -= lower[k]![i]! * x[k]!;
    x[i]! /= lower[i]![i]!;
  }
  return x;
}

/** A first state from the first seasons: their mean, how it goes on, and what each place of a season differs by. */
function guessStart(y: Float64Array, season: number): State {
  const mean = (from: number) => {
    const part = y.subarray(from, from + season);
    return part.reduce((sum, value) => sum + value, 0) / part.length;
  };
  const seasons = Math.min(4, Math.floor(y.length / season));
  const trend = (mean(season * (seasons - 1)) - mean(0)) / (season * (seasons - 1));
  const level = mean(0) - (trend * (season + 1)) / 2;
  const terms = new Float64Array(season);
  for (let t = 0; t < season * seasons; t++) {
    terms[t % season]! += (y[t]! - level - trend * (t + 1)) / seasons;
  }
  return { level, trend, season: terms };
}

/**
 * What comes after the fitted values: the mean, and how many standard deviations of a one-step error it may be off, for
 * each of the next steps. The variance grows by c(j)^2 with c(j) = alpha + beta j + gamma where m divides j (Hyndman and
 * others, 2008, table 6.1, class 1).
 */
export function goOn(smoothed: Smoothed, steps: number): { mean: number; spread: number }[] {
  const { parameters, season, end } = smoothed;
  const { alpha, beta, gamma } = parameters;
  let variance = 1;
  return Array.from({ length: steps }, (_, index) => {
    const step = index + 1;
    const seasonal = gamma === null ? 0 : end.season[index % season]!;
    const point = { mean: end.level + step * end.trend + seasonal, spread: Math.sqrt(variance) };
    const c = alpha + beta * step + (gamma !== null && step % season === 0 ? gamma : 0);
    variance += c * c;
    return point;
  });
}

/** Standard deviation of the one-step errors, for as many as are left when what was estimated is taken off. */
export function errorSpread({ sse, count, estimated }: Smoothed): number {
  return Math.sqrt(sse / Math.max(1, count - estimated));
}

/** Akaike's information criterion, corrected for few values: the smaller the better. Infinite where there are too few. */
export function criterion({ sse, count, estimated }: Smoothed): number {
  // The variance of the errors is estimated too.
  const k = estimated + 1;
  if (count - k - 1 <= 0) return Number.POSITIVE_INFINITY;
  // Figures that follow their season to the last digit leave no error to take the logarithm of.
  const mean = Math.max(sse / count, Number.MIN_VALUE);
  return count * Math.log(mean) + 2 * k + (2 * k * (k + 1)) / (count - k - 1);
}

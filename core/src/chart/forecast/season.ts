/** A season is found where values are so much alike to those one season before. */
const LEAST_LIKENESS = 0.25;
const MOST_CANDIDATES = 3;
const LONGEST = 400;

/**
 * Lengths of a season that values may have, the likeliest first: lags at which the autocorrelation of what is left beside
 * a straight trend has a peak that stands out of chance (two standard errors, 2/sqrt(n)) and is high enough. Of a length
 * and its multiples the shortest comes first.
 */
export function likelySeasons(values: readonly number[]): number[] {
  const n = values.length;
  const rest = withoutTrend(values);
  const power = rest.reduce((sum, value) => sum + value * value, 0);
  if (power === 0) return [];
  const longest = Math.min(LONGEST, Math.floor(n / 2));
  const likeness = Array.from({ length: longest + 2 }, (_, lag) => {
    let sum = 0;
    for (let t = lag; t < n; t++) sum += rest[t]! * rest[t - lag]!;
    // For as many pairs as there are at this lag, so that long seasons are not held back.
    return (sum / power) * (n / Math.max(1, n - lag));
  });
  const least = Math.max(LEAST_LIKENESS, 2 / Math.sqrt(n));
  const peaks: number[] = [];
  for (let lag = 2; lag <= longest; lag++) {
    const here = likeness[lag]!;
    if (here >= least && here > likeness[lag - 1]! && here >= likeness[lag + 1]!) peaks.push(lag);
  }
  const highest = Math.max(0, ...peaks.map((lag) => likeness[lag]!));
  return peaks
    .filter((lag) => likeness[lag]! >= highest * 0.8)
    .sort((a, b) => a - b)
    .slice(0, MOST_CANDIDATES);
}

function withoutTrend(values: readonly number[]): number[] {
  const n = values.length;
  const meanT = (n - 1) / 2;
  const mean = values.reduce((sum, value) => sum + value, 0) / n;
  let [above, below] = [0, 0];
  values.forEach((value, t) => {
    above += (t - meanT) * (value - mean);
    below += (t - meanT) ** 2;
  });
  const slope = below === 0 ? 0 : above / below;
  return values.map((value, t) => value - mean - slope * (t - meanT));
}

import {
  BAD_NUMBER,
  BAD_VALUE,
  DIVIDED_BY_ZERO,
  FormulaError,
  isMatrix,
  isRange,
  type Matrix,
  NOT_AVAILABLE,
  type Scalar,
  type Value,
} from '../value.ts';
import {
  type CallContext,
  columnsOf,
  type Fn,
  type Functions,
  finite,
  isMany,
  number,
  numbers,
  numbersOfAll,
  ofNumbers,
  pairs,
  raise,
  rowsOf,
  sum,
  truth,
  valuesOf,
  whole,
  wholeAt,
} from './call.ts';

type Work = (all: number[]) => number | FormulaError;

const mean: Work = (all) => (all.length === 0 ? DIVIDED_BY_ZERO : middle(all));

/** The mean in two passes: what the first loses in large figures, the second finds. */
function middle(all: readonly number[]): number {
  const first = sum(all) / all.length;
  return first + sum(all.map((each) => each - first)) / all.length;
}

const squares = (all: readonly number[]) => {
  const m = middle(all);
  return sum(all.map((each) => (each - m) ** 2));
};

const variance =
  (freedom: 0 | 1): Work =>
  (all) =>
    all.length - freedom < 1 ? DIVIDED_BY_ZERO : squares(all) / (all.length - freedom);

const root =
  (work: Work): Work =>
  (all) => {
    const value = work(all);
    return value instanceof FormulaError ? value : Math.sqrt(value);
  };

const greatest: Work = (all) => all.reduce((a, b) => Math.max(a, b), all[0] ?? 0);
const least: Work = (all) => all.reduce((a, b) => Math.min(a, b), all[0] ?? 0);

/** The value `share` (0 to 1) of the way through the sorted numbers, between neighbours in proportion. */
export function percentile(all: readonly number[], share: number): number | FormulaError {
  if (all.length === 0 || !(share >= 0 && share <= 1)) return BAD_NUMBER;
  return at(sortedOf(all), share * (all.length - 1));
}

/** The same with the ends left out: of n numbers the k-th stands at k/(n+1). */
function percentileInside(all: readonly number[], share: number): number | FormulaError {
  const place = share * (all.length + 1) - 1;
  if (all.length === 0 || place < 0 || place > all.length - 1) return BAD_NUMBER;
  return at(sortedOf(all), place);
}

const sortedOf = (all: readonly number[]) => Float64Array.from(all).sort();

function at(sorted: Float64Array, place: number): number {
  const [low, high] = [sorted[Math.floor(place)]!, sorted[Math.ceil(place)]!];
  return low + (high - low) * (place - Math.floor(place));
}

const ofShare = (work: (all: readonly number[], share: number) => number | FormulaError) =>
  wholeAt([0], ([range, share], context) =>
    work(numbers([range ?? null], context), number(share, context)),
  );

const ofQuarter = (
  work: (all: readonly number[], share: number) => number | FormulaError,
  ends: boolean,
) =>
  wholeAt([0], ([range, quarter], context) => {
    const which = Math.trunc(number(quarter, context));
    if (which < (ends ? 0 : 1) || which > (ends ? 4 : 3)) return BAD_NUMBER;
    return work(numbers([range ?? null], context), which / 4);
  });

const ranked = (pick: (sorted: Float64Array, k: number) => number | undefined) =>
  wholeAt([0], ([range, k], context) => {
    const sorted = sortedOf(numbers([range ?? null], context));
    const place = Math.ceil(number(k, context));
    return place < 1 ? BAD_NUMBER : (pick(sorted, place) ?? BAD_NUMBER);
  });

const rank = (isMean: boolean) =>
  wholeAt([1], ([value, range, isRising], context) => {
    const x = number(value, context);
    const all = numbers([range ?? null], context);
    const same = all.filter((each) => each === x).length;
    if (same === 0) return NOT_AVAILABLE;
    const isUp = isRising != null && number(isRising, context) !== 0;
    const before = all.filter((each) => (isUp ? each < x : each > x)).length;
    return before + 1 + (isMean ? (same - 1) / 2 : 0);
  });

function percentRank(ends: boolean) {
  return wholeAt([0], ([range, value, digits], context) => {
    const sorted = sortedOf(numbers([range ?? null], context));
    const x = number(value, context);
    const places = Math.trunc(number(digits, context, 3));
    if (sorted.length === 0 || places < 1) return BAD_NUMBER;
    if (x < sorted[0]! || x > sorted.at(-1)!) return NOT_AVAILABLE;
    let below = 0;
    while (sorted[below]! < x) below++;
    const within =
      sorted[below] === x
        ? below
        : below - 1 + (x - sorted[below - 1]!) / (sorted[below]! - sorted[below - 1]!);
    const share = ends
      ? sorted.length === 1
        ? 1
        : within / (sorted.length - 1)
      : (within + 1) / (sorted.length + 1);
    return Math.floor(Number((share * 10 ** places).toPrecision(15))) / 10 ** places;
  });
}

/** Numbers that stand most often, in the order in which they first come. */
function modes(all: readonly number[]): number[] {
  const counts = new Map<number, number>();
  for (const each of all) counts.set(each, (counts.get(each) ?? 0) + 1);
  const most = Math.max(0, ...counts.values());
  if (most < 2) return raise(NOT_AVAILABLE);
  return [...counts].filter(([, count]) => count === most).map(([value]) => value);
}

interface Moments {
  all: { x: number; y: number }[];
  n: number;
  x: number;
  y: number;
  xx: number;
  yy: number;
  xy: number;
}

/** Means and sums of squares of pairs, about their means. */
function moments(
  first: Value | undefined,
  second: Value | undefined,
  context: CallContext,
): Moments {
  const all = pairs(first, second, context);
  const [xs, ys] = [all.map(({ x }) => x), all.map(({ y }) => y)];
  if (all.length === 0) return raise(DIVIDED_BY_ZERO);
  const [x, y] = [middle(xs), middle(ys)];
  return {
    all,
    n: all.length,
    x,
    y,
    xx: sum(xs.map((each) => (each - x) ** 2)),
    yy: sum(ys.map((each) => (each - y) ** 2)),
    xy: sum(all.map((each) => (each.x - x) * (each.y - y))),
  };
}

const overPairs = (work: (m: Moments) => number | FormulaError) =>
  whole(([a, b], context) => work(moments(a, b, context)));

/** The same, where the dependent values come first. */
const fitted = (work: (m: Moments) => number | FormulaError) =>
  whole(([ys, xs], context) => work(moments(xs, ys, context)));

const over = (a: number, b: number) => (b === 0 ? DIVIDED_BY_ZERO : a / b);
const correlation = ({ xx, yy, xy }: Moments) => over(xy, Math.sqrt(xx * yy));

const forecast = wholeAt([1, 2], ([x, ys, xs], context) => {
  const m = moments(xs, ys, context);
  if (m.xx === 0) return DIVIDED_BY_ZERO;
  return m.y + (m.xy / m.xx) * (number(x, context) - m.x);
});

/** Least squares by Householder's reflections, which lose less than sums of squares: coefficients, and what is known of them. */
interface Fit {
  coefficients: number[];
  /** Standard errors, null without any freedom. */
  errors: (number | null)[];
  residual: number;
  total: number;
  freedom: number;
}

function leastSquares(xs: readonly number[][], ys: readonly number[], hasConstant: boolean): Fit {
  const rows = ys.length;
  // With a constant everything is measured from the means, which keeps the figures small.
  const centre = hasConstant ? xs.map(middle) : xs.map(() => 0);
  const level = hasConstant ? middle(ys) : 0;
  const a = ys.map((_, row) => xs.map((column, at) => column[row]! - centre[at]!));
  const b = ys.map((each) => each - level);
  const total = sum(b.map((each) => each * each));
  const n = xs.length;
  const isKept = Array.from({ length: n }, () => true);
  const diagonal: number[] = [];
  for (let column = 0; column < n; column++) {
    const tail = a.slice(column);
    const norm = Math.sqrt(sum(tail.map((row) => row[column]! ** 2)));
    const whole = Math.sqrt(sum(a.map((row) => row[column]! ** 2)));
    if (norm <= 1e-12 * (whole || 1) || column >= rows) {
      isKept[column] = false;
      diagonal.push(0);
      continue;
    }
    const alpha = a[column]![column]! > 0 ? -norm : norm;
    const v = tail.map((row) => row[column]!);
    v[0]! -= alpha;
    const length = sum(v.map((each) => each * each));
    const reflect = (get: (row: number) => number, set: (row: number, value: number) => void) => {
      const factor = (2 * sum(v.map((each, at) => each * get(column + at)))) / length;
      for (const [at, each] of v.entries()) set(column + at, get(column + at) - factor * each);
    };
    for (let other = column; other < n; other++) {
      reflect(
        (row) => a[row]![other]!,
        (row, value) => {
          a[row]![other] = value;
        },
      );
    }
    reflect(
      (row) => b[row]!,
      (row, value) => {
        b[row] = value;
      },
    );
    diagonal.push(alpha);
  }
  const coefficients = new Array<number>(n).fill(0);
  for (let column = n - 1; column >= 0; column--) {
    if (!isKept[column]) continue;
    let rest = b[column]!;
    for (let other = column + 1; other < n; other++)
      rest -= a[column]![other]! * coefficients[other]!;
    coefficients[column] = rest / diagonal[column]!;
  }
  const fittedOf = (row: number) =>
    sum(xs.map((column, at) => (column[row]! - centre[at]!) * coefficients[at]!));
  const residual = sum(ys.map((each, row) => (each - level - fittedOf(row)) ** 2));
  const used = isKept.filter(Boolean).length;
  const freedom = rows - used - (hasConstant ? 1 : 0);
  const constant = level - sum(coefficients.map((each, at) => each * centre[at]!));
  const spread = freedom > 0 ? residual / freedom : null;
  // The rows of R's inverse give the errors.
  const inverse = Array.from({ length: n }, () => new Array<number>(n).fill(0));
  for (let column = 0; column < n; column++) {
    if (!isKept[column]) continue;
    inverse[column]![column] = 1 / diagonal[column]!;
    for (let row = column - 1; row >= 0; row--) {
      if (!isKept[row]) continue;
      let rest = 0;
      for (let k = row + 1; k <= column; k++) rest -= a[row]![k]! * inverse[k]![column]!;
      inverse[row]![column] = rest / diagonal[row]!;
    }
  }
  const covariance = (i: number, j: number) =>
    sum(inverse[i]!.map((each, k) => each * inverse[j]![k]!));
  const errors = coefficients.map((_, i) =>
    spread === null ? null : Math.sqrt(spread * covariance(i, i)),
  );
  if (hasConstant) {
    const about = sum(
      centre.map((each, i) => each * sum(centre.map((other, j) => other * covariance(i, j)))),
    );
    errors.push(spread === null ? null : Math.sqrt(spread * (1 / rows + about)));
  } else errors.push(null);
  return { coefficients: [...coefficients, constant], errors, residual, total, freedom };
}

/** Known values in columns: of xs as wide as ys they are one variable, else each column or row beside ys is one. */
function variables(
  ys: Value | undefined,
  xs: Value | undefined,
  context: CallContext,
): { y: number[]; x: number[][]; isAcross: boolean } {
  const known = context.matrix(ys ?? null);
  const y = plain(known.flat());
  const isAcross = known.length === 1 && (known[0]?.length ?? 0) > 1;
  if (xs == null) return { y, x: [y.map((_, at) => at + 1)], isAcross };
  const given = context.matrix(xs);
  const x = columnsIn(given, y.length, isAcross);
  return { y, x, isAcross };
}

function columnsIn(given: Matrix, length: number, isAcross: boolean): number[][] {
  const flat = given.flat();
  if (flat.length === length) return [plain(flat)];
  if (isAcross && given[0]?.length === length) return given.map((row) => plain(row));
  if (!isAcross && given.length === length) {
    return given[0]!.map((_, column) => plain(given.map((row) => row[column]!)));
  }
  return raise(new FormulaError('#REF!'));
}

const plain = (values: readonly Scalar[]): number[] =>
  values.map((value) =>
    value instanceof FormulaError
      ? raise(value)
      : typeof value === 'number'
        ? value
        : raise(BAD_VALUE),
  );

function estimate(isGrowth: boolean): Fn {
  return ([ys, xs, wanted, constant], context) => {
    const { y, x, isAcross } = variables(ys, xs, context);
    if (isGrowth && y.some((each) => each <= 0)) return BAD_NUMBER;
    const target = isGrowth ? y.map(Math.log) : y;
    const fit = leastSquares(x, target, truth(constant, context, true));
    const shape = wanted != null ? wanted : (xs ?? ys!);
    const given: Matrix =
      wanted == null && xs == null ? shapeLike(context.matrix(ys!)) : context.matrix(shape);
    const at = (values: readonly number[]) => {
      const value =
        sum(values.map((each, n) => each * fit.coefficients[n]!)) + fit.coefficients.at(-1)!;
      return finite(isGrowth ? Math.exp(value) : value);
    };
    if (x.length === 1) return given.map((row) => plain(row).map((each) => at([each])));
    return isAcross
      ? [given[0]!.map((_, column) => at(plain(given.map((row) => row[column]!))))]
      : given.map((row) => [at(plain(row))]);
  };
}

/** 1, 2, 3 … in the shape of a matrix. */
function shapeLike(matrix: Matrix): Matrix {
  let n = 0;
  return matrix.map((row) => row.map(() => ++n));
}

function line(isGrowth: boolean): Fn {
  return ([ys, xs, constant, withMore], context) => {
    const { y, x } = variables(ys, xs, context);
    if (isGrowth && y.some((each) => each <= 0)) return BAD_NUMBER;
    const fit = leastSquares(x, isGrowth ? y.map(Math.log) : y, truth(constant, context, true));
    const shown = isGrowth ? fit.coefficients.map(Math.exp) : fit.coefficients;
    // The last variable comes first, the constant last.
    const order = [...x.keys()].reverse().concat(x.length);
    const first: Scalar[] = order.map((n) => shown[n]!);
    if (!truth(withMore, context)) return [first];
    const pad = (row: Scalar[]) =>
      Array.from({ length: order.length }, (_, at) => row[at] ?? NOT_AVAILABLE);
    const { freedom, residual, total } = fit;
    const explained = total - residual;
    const f = freedom > 0 ? explained / x.length / (residual / freedom) : NOT_AVAILABLE;
    return [
      first,
      order.map((n) => fit.errors[n] ?? NOT_AVAILABLE),
      pad([total === 0 ? 1 : explained / total, freedom > 0 ? Math.sqrt(residual / freedom) : 0]),
      pad([f, freedom]),
      pad([explained, residual]),
    ];
  };
}

function skewness(freedom: 0 | 1): Work {
  return (all) => {
    const n = all.length;
    if (n < 3) return DIVIDED_BY_ZERO;
    const m = middle(all);
    const spread = Math.sqrt(squares(all) / (n - freedom));
    if (spread === 0) return DIVIDED_BY_ZERO;
    const cubes = sum(all.map((each) => ((each - m) / spread) ** 3));
    return freedom === 0 ? cubes / n : (cubes * n) / ((n - 1) * (n - 2));
  };
}

function kurtosis(all: number[]): number | FormulaError {
  const n = all.length;
  if (n < 4) return DIVIDED_BY_ZERO;
  const m = middle(all);
  const spread = squares(all) / (n - 1);
  if (spread === 0) return DIVIDED_BY_ZERO;
  const fourth = sum(all.map((each) => (each - m) ** 4)) / spread ** 2;
  return (
    (fourth * n * (n + 1)) / ((n - 1) * (n - 2) * (n - 3)) -
    (3 * (n - 1) ** 2) / ((n - 2) * (n - 3))
  );
}

const positives = (all: readonly number[]) =>
  all.length === 0 || all.some((each) => each <= 0) ? raise(BAD_NUMBER) : all;

const ofAll = (work: Work) => whole((args, context) => work(numbersOfAll(args, context)));

/** How many cells the arguments have, empty ones included. */
function cellsIn(args: readonly Value[], context: CallContext): number {
  return args.reduce<number>((total, arg) => {
    if (isRange(arg)) return total + rowsOf(arg.area) * columnsOf(arg.area);
    return total + (isMatrix(arg) ? context.matrix(arg).flat().length : 1);
  }, 0);
}

function counted(args: readonly Value[], context: CallContext): number {
  let count = 0;
  for (const arg of args) {
    if (isMany(arg)) {
      context.each(arg, (value) => {
        if (typeof value === 'number') count++;
      });
    } else if (typeof arg === 'number' || typeof arg === 'boolean') count++;
    else if (typeof arg === 'string' && arg.trim() !== '' && Number.isFinite(Number(arg))) count++;
  }
  return count;
}

/** Statistics: counts, means, spreads, ranks, fits. Sums of squares in two passes, about the mean. */
export const STATISTICS: Functions = {
  AVERAGE: ofNumbers(mean),
  AVERAGEA: ofAll(mean),
  MIN: ofNumbers(least),
  MAX: ofNumbers(greatest),
  MINA: ofAll(least),
  MAXA: ofAll(greatest),
  MEDIAN: ofNumbers((all) => percentile(all, 0.5)),
  COUNT: whole(counted),
  COUNTA: whole(
    (args, context) => valuesOf(args, context).filter((value) => value !== null).length,
  ),
  COUNTBLANK: whole((args, context) => {
    const filled = valuesOf(args, context).filter((value) => value !== null && value !== '').length;
    return cellsIn(args, context) - filled;
  }),
  'STDEV.S': ofNumbers(root(variance(1))),
  'STDEV.P': ofNumbers(root(variance(0))),
  'VAR.S': ofNumbers(variance(1)),
  'VAR.P': ofNumbers(variance(0)),
  STDEVA: ofAll(root(variance(1))),
  STDEVPA: ofAll(root(variance(0))),
  VARA: ofAll(variance(1)),
  VARPA: ofAll(variance(0)),
  AVEDEV: ofNumbers((all) =>
    all.length === 0
      ? BAD_NUMBER
      : sum(all.map((each) => Math.abs(each - middle(all)))) / all.length,
  ),
  DEVSQ: ofNumbers((all) => (all.length === 0 ? BAD_NUMBER : squares(all))),
  GEOMEAN: ofNumbers((all) => Math.exp(sum(positives(all).map(Math.log)) / all.length)),
  HARMEAN: ofNumbers((all) => all.length / sum(positives(all).map((each) => 1 / each))),
  TRIMMEAN: wholeAt([0], ([range, share], context) => {
    const sorted = sortedOf(numbers([range ?? null], context));
    const part = number(share, context);
    if (!(part >= 0 && part < 1) || sorted.length === 0) return BAD_NUMBER;
    const cut = Math.floor(Number(((sorted.length * part) / 2).toPrecision(15)));
    return mean([...sorted.subarray(cut, sorted.length - cut)]);
  }),
  SKEW: ofNumbers(skewness(1)),
  'SKEW.P': ofNumbers(skewness(0)),
  KURT: ofNumbers(kurtosis),
  'MODE.SNGL': ofNumbers((all) => modes(all)[0]!),
  'MODE.MULT': whole((args, context) => modes(numbers(args, context)).map((each) => [each])),
  LARGE: ranked((sorted, k) => sorted.at(-k)),
  SMALL: ranked((sorted, k) => sorted[k - 1]),
  'PERCENTILE.INC': ofShare(percentile),
  'PERCENTILE.EXC': ofShare(percentileInside),
  'QUARTILE.INC': ofQuarter(percentile, true),
  'QUARTILE.EXC': ofQuarter(percentileInside, false),
  'PERCENTRANK.INC': percentRank(true),
  'PERCENTRANK.EXC': percentRank(false),
  'RANK.EQ': rank(false),
  'RANK.AVG': rank(true),
  CORREL: overPairs(correlation),
  'COVARIANCE.P': overPairs(({ xy, n }) => xy / n),
  'COVARIANCE.S': overPairs(({ xy, n }) => over(xy, n - 1)),
  SLOPE: fitted(({ xy, xx }) => over(xy, xx)),
  INTERCEPT: fitted(({ x, y, xy, xx }) => (xx === 0 ? DIVIDED_BY_ZERO : y - (xy / xx) * x)),
  RSQ: fitted((m) => {
    const r = correlation(m);
    return r instanceof FormulaError ? r : r * r;
  }),
  STEYX: fitted(({ all, n, x, y, xx, xy }) => {
    if (n < 3 || xx === 0) return DIVIDED_BY_ZERO;
    const slope = xy / xx;
    return Math.sqrt(sum(all.map((each) => (each.y - y - slope * (each.x - x)) ** 2)) / (n - 2));
  }),
  'FORECAST.LINEAR': forecast,
  TREND: whole(estimate(false)),
  GROWTH: whole(estimate(true)),
  LINEST: whole(line(false)),
  LOGEST: whole(line(true)),
  FREQUENCY: whole(([range, bounds], context) => {
    const all = numbers([range ?? null], context);
    const ends = numbers([bounds ?? null], context);
    const sorted = [...ends].sort((a, b) => a - b);
    const inEach = (from: number, to: number) =>
      all.filter((each) => each > from && each <= to).length;
    const counts = ends.map((end) => {
      const n = sorted.indexOf(end);
      return [inEach(n === 0 ? Number.NEGATIVE_INFINITY : sorted[n - 1]!, end)];
    });
    counts.push([inEach(sorted.at(-1) ?? Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY)]);
    return counts;
  }),
  PROB: wholeAt([0, 1], ([values, chances, from, to], context) => {
    const all = pairs(values, chances, context);
    const low = number(from, context);
    const high = to == null ? low : number(to, context);
    return sum(all.filter(({ x }) => x >= low && x <= high).map(({ y }) => y));
  }),
};

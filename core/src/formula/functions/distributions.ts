import { BAD_NUMBER, type FormulaError } from '../value.ts';
import {
  type Functions,
  finite,
  number,
  numbers,
  raise,
  single,
  truth,
  whole,
  whole32,
  wholeAt,
} from './call.ts';

/** The logarithm of the gamma function (Lanczos' approximation with g = 607/128 and 15 terms). */
function logGamma(x: number): number {
  if (x < 0.5) return Math.log(Math.PI / Math.abs(Math.sin(Math.PI * x))) - logGamma(1 - x);
  const terms = [
    0.9999999999999971, 57.15623566586292, -59.59796035547549, 14.136097974741746,
    -0.4919138160976202, 0.00003399464998481189, 0.00004652362892704858, -0.00009837447530487956,
    0.0001580887032249125, -0.00021026444172410488, 0.00021743961811521265, -0.0001643181065367639,
    0.00008441822398385275, -0.000026190838401581408, 0.0000036899182659531625,
  ];
  let total = terms[0]!;
  for (let at = 1; at < terms.length; at++) total += terms[at]! / (x - 1 + at);
  const base = x - 1 + 607 / 128 + 0.5;
  return (x - 0.5) * Math.log(base) - base + Math.log(Math.sqrt(2 * Math.PI) * total);
}

function gamma(x: number): number | FormulaError {
  if (x === 0 || (x < 0 && Number.isInteger(x))) return BAD_NUMBER;
  if (Number.isInteger(x) && x < 171) {
    let product = 1;
    for (let each = 2; each < x; each++) product *= each;
    return product;
  }
  const sign = x < 0 && Math.floor(x) % 2 !== 0 ? -1 : 1;
  return finite(sign * Math.exp(logGamma(x)));
}

const TINY = 1e-300;

/** The regularised lower incomplete gamma function: by its series, or above by its continued fraction. */
function gammaShare(a: number, x: number): number {
  if (x <= 0) return 0;
  const front = Math.exp(a * Math.log(x) - x - logGamma(a));
  if (x < a + 1) {
    let term = 1 / a;
    let total = term;
    for (let at = 1; at < 10_000; at++) {
      term *= x / (a + at);
      total += term;
      if (Math.abs(term) < Math.abs(total) * 1e-17) break;
    }
    return front * total;
  }
  return 1 - front * gammaFraction(a, x);
}

function gammaFraction(a: number, x: number): number {
  let b = x + 1 - a;
  let c = 1 / TINY;
  let d = 1 / b;
  let h = d;
  for (let at = 1; at < 10_000; at++) {
    const an = -at * (at - a);
    b += 2;
    d = an * d + b;
    if (Math.abs(d) < TINY) d = TINY;
    c = b + an / c;
    if (Math.abs(c) < TINY) c = TINY;
    d = 1 / d;
    const step = d * c;
    h *= step;
    if (Math.abs(step - 1) < 1e-16) break;
  }
  return h;
}

/** The upper share of the same, exact far out where 1 minus the lower one is 0. */
function gammaRest(a: number, x: number): number {
  if (x <= 0) return 1;
  if (x < a + 1) return 1 - gammaShare(a, x);
  return Math.exp(a * Math.log(x) - x - logGamma(a)) * gammaFraction(a, x);
}

const errorFunction = (x: number) => (x < 0 ? -1 : 1) * gammaShare(0.5, x * x);
const errorRest = (x: number) => (x >= 0 ? gammaRest(0.5, x * x) : 1 + gammaShare(0.5, x * x));

/** The regularised incomplete beta function by its continued fraction (Lentz). */
function betaShare(x: number, a: number, b: number): number {
  if (x <= 0) return 0;
  if (x >= 1) return 1;
  if (x > (a + 1) / (a + b + 2)) return 1 - betaShare(1 - x, b, a);
  const front = Math.exp(
    logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log1p(-x),
  );
  let c = 1;
  let d = 1 - ((a + b) * x) / (a + 1);
  d = 1 / (Math.abs(d) < TINY ? TINY : d);
  let h = d;
  for (let m = 1; m < 10_000; m++) {
    const even = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m));
    d = 1 + even * d;
    d = 1 / (Math.abs(d) < TINY ? TINY : d);
    c = 1 + even / c;
    if (Math.abs(c) < TINY) c = TINY;
    h *= d * c;
    const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1));
    d = 1 + odd * d;
    d = 1 / (Math.abs(d) < TINY ? TINY : d);
    c = 1 + odd / c;
    if (Math.abs(c) < TINY) c = TINY;
    const step = d * c;
    h *= step;
    if (Math.abs(step - 1) < 1e-16) break;
  }
  return (front * h) / a;
}

const normalDensity = (z: number) => Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI);
const normalShare = (z: number) => errorRest(-z / Math.SQRT2) / 2;

/** Where a rising share reaches `wanted`, by halving between two ends and ending with the numbers' own steps. */
function inverseOf(share: (x: number) => number, wanted: number, from: number, to: number): number {
  let [low, high] = [from, to];
  for (let at = 0; at < 2_000; at++) {
    const middle = low + (high - low) / 2;
    if (middle === low || middle === high) break;
    if (share(middle) < wanted) low = middle;
    else high = middle;
  }
  return high;
}

/** Widens an upper end until the share there is above what is wanted. */
function upTo(share: (x: number) => number, wanted: number, from = 1): number {
  let end = from;
  while (share(end) < wanted && end < 1e300) end *= 2;
  return end;
}

function normalInverse(p: number): number {
  if (!(p > 0 && p < 1)) return raise(BAD_NUMBER);
  if (p === 0.5) return 0;
  return p < 0.5
    ? -inverseOf((z) => -normalShare(-z), -p, 0, 40)
    : inverseOf(normalShare, p, 0, 40);
}

const studentTail = (t: number, freedom: number) =>
  betaShare(freedom / (freedom + t * t), freedom / 2, 0.5) / 2;
const studentShare = (t: number, freedom: number) =>
  t < 0 ? studentTail(t, freedom) : 1 - studentTail(t, freedom);
const studentDensity = (t: number, n: number) =>
  Math.exp(logGamma((n + 1) / 2) - logGamma(n / 2)) /
  Math.sqrt(n * Math.PI) /
  (1 + (t * t) / n) ** ((n + 1) / 2);
/** The t above which `tail` of the distribution lies. */
function studentInverse(tail: number, freedom: number): number {
  const below = (t: number) => -studentTail(t, freedom);
  return inverseOf(below, -tail, 0, upTo(below, -tail));
}
const chiShare = (x: number, freedom: number) => gammaShare(freedom / 2, x / 2);
const chiRest = (x: number, freedom: number) => gammaRest(freedom / 2, x / 2);
const fisherShare = (x: number, a: number, b: number) =>
  betaShare((a * x) / (a * x + b), a / 2, b / 2);
const fisherRest = (x: number, a: number, b: number) => betaShare(b / (a * x + b), b / 2, a / 2);

function binomial(k: number, n: number, p: number): number {
  if (p === 0) return Number(k === 0);
  if (p === 1) return Number(k === n);
  // Small ones by whole steps, so that they come out as on paper.
  if (n <= 60) {
    let result = 1;
    for (let at = 1; at <= k; at++) result = (result * (n - k + at)) / at;
    return result * p ** k * (1 - p) ** (n - k);
  }
  return Math.exp(
    logGamma(n + 1) -
      logGamma(k + 1) -
      logGamma(n - k + 1) +
      k * Math.log(p) +
      (n - k) * Math.log1p(-p),
  );
}

const upward = (k: number, each: (at: number) => number) => {
  let total = 0;
  for (let at = 0; at <= k; at++) total += each(at);
  return Math.min(1, total);
};
const poisson = (k: number, mean: number) => Math.exp(k * Math.log(mean) - mean - logGamma(k + 1));

const positive = (x: number) => (x > 0 ? x : raise(BAD_NUMBER));
const share = (p: number) => (p >= 0 && p <= 1 ? p : raise(BAD_NUMBER));
const inner = (p: number) => (p > 0 && p < 1 ? p : raise(BAD_NUMBER));
const freedomOf = (n: number) => (Math.trunc(n) >= 1 ? Math.trunc(n) : raise(BAD_NUMBER));

/** Distributions and the functions they rest on. */
export const DISTRIBUTIONS: Functions = {
  GAMMA: single(([x], context) => gamma(number(x, context))),
  GAMMALN: single(([x], context) => finite(logGamma(positive(number(x, context))))),
  ERF: single(([from, to], context) => {
    const low = errorFunction(number(from, context));
    return to == null ? low : errorFunction(number(to, context)) - low;
  }),
  ERFC: single(([x], context) => errorRest(number(x, context))),
  PHI: single(([x], context) => normalDensity(number(x, context))),
  GAUSS: single(([x], context) => errorFunction(number(x, context) / Math.SQRT2) / 2),
  STANDARDIZE: single(
    ([x, mean, spread], context) =>
      (number(x, context) - number(mean, context)) / positive(number(spread, context)),
  ),

  'NORM.DIST': single(([x, mean, spread, isShare], context) => {
    const width = positive(number(spread, context));
    const z = (number(x, context) - number(mean, context)) / width;
    return truth(isShare, context) ? normalShare(z) : normalDensity(z) / width;
  }),
  'NORM.S.DIST': single(([z, isShare], context) =>
    truth(isShare, context, true)
      ? normalShare(number(z, context))
      : normalDensity(number(z, context)),
  ),
  NORMSDIST: single(([z], context) => normalShare(number(z, context))),
  'NORM.INV': single(
    ([p, mean, spread], context) =>
      number(mean, context) + positive(number(spread, context)) * normalInverse(number(p, context)),
  ),
  'NORM.S.INV': single(([p], context) => normalInverse(number(p, context))),
  'LOGNORM.DIST': single(([x, mean, spread, isShare], context) => {
    const [at, width] = [positive(number(x, context)), positive(number(spread, context))];
    const z = (Math.log(at) - number(mean, context)) / width;
    return truth(isShare, context) ? normalShare(z) : normalDensity(z) / width / at;
  }),
  'LOGNORM.INV': single(([p, mean, spread], context) =>
    Math.exp(
      number(mean, context) + positive(number(spread, context)) * normalInverse(number(p, context)),
    ),
  ),
  'CONFIDENCE.NORM': single(
    ([alpha, spread, size], context) =>
      (normalInverse(1 - inner(number(alpha, context)) / 2) * positive(number(spread, context))) /
      Math.sqrt(freedomOf(number(size, context))),
  ),
  'CONFIDENCE.T': single(([alpha, spread, size], context) => {
    const n = freedomOf(number(size, context));
    return (
      (studentInverse(inner(number(alpha, context)) / 2, n - 1) *
        positive(number(spread, context))) /
      Math.sqrt(n)
    );
  }),

  'T.DIST': single(([t, freedom, isShare], context) => {
    const [x, n] = [number(t, context), freedomOf(number(freedom, context))];
    return truth(isShare, context) ? studentShare(x, n) : studentDensity(x, n);
  }),
  'T.DIST.RT': single(
    ([t, freedom], context) =>
      1 - studentShare(number(t, context), freedomOf(number(freedom, context))),
  ),
  'T.DIST.2T': single(([t, freedom], context) => {
    const x = number(t, context);
    return x < 0 ? BAD_NUMBER : 2 * studentTail(x, freedomOf(number(freedom, context)));
  }),
  TDIST: single(([t, freedom, tails], context) => {
    const x = number(t, context);
    if (x < 0) return BAD_NUMBER;
    return whole32(tails, context) * studentTail(x, freedomOf(number(freedom, context)));
  }),
  'T.INV': single(([p, freedom], context) => {
    const [below, n] = [inner(number(p, context)), freedomOf(number(freedom, context))];
    return below < 0.5 ? -studentInverse(below, n) : studentInverse(1 - below, n);
  }),
  'T.INV.2T': single(([p, freedom], context) =>
    studentInverse(inner(number(p, context)) / 2, freedomOf(number(freedom, context))),
  ),
  'CHISQ.DIST': single(([x, freedom, isShare], context) => {
    const [at, n] = [number(x, context), freedomOf(number(freedom, context))];
    if (at < 0) return BAD_NUMBER;
    if (truth(isShare, context)) return chiShare(at, n);
    return Math.exp((n / 2 - 1) * Math.log(at) - at / 2 - (n / 2) * Math.LN2 - logGamma(n / 2));
  }),
  'CHISQ.DIST.RT': single(([x, freedom], context) =>
    chiRest(number(x, context), freedomOf(number(freedom, context))),
  ),
  'CHISQ.INV': single(([p, freedom], context) => {
    const n = freedomOf(number(freedom, context));
    const of = (x: number) => chiShare(x, n);
    const wanted = share(number(p, context));
    return inverseOf(of, wanted, 0, upTo(of, wanted, n));
  }),
  'CHISQ.INV.RT': single(([p, freedom], context) => {
    const n = freedomOf(number(freedom, context));
    const of = (x: number) => -chiRest(x, n);
    const wanted = -inner(number(p, context));
    return inverseOf(of, wanted, 0, upTo(of, wanted, n));
  }),
  'F.DIST': single(([x, a, b, isShare], context) => {
    const [at, n, m] = [
      number(x, context),
      freedomOf(number(a, context)),
      freedomOf(number(b, context)),
    ];
    if (at < 0) return BAD_NUMBER;
    if (truth(isShare, context)) return fisherShare(at, n, m);
    const logBeta = logGamma(n / 2) + logGamma(m / 2) - logGamma((n + m) / 2);
    return Math.exp(
      (n / 2) * Math.log(n / m) +
        (n / 2 - 1) * Math.log(at) -
        ((n + m) / 2) * Math.log1p((n * at) / m) -
        logBeta,
    );
  }),
  'F.DIST.RT': single(([x, a, b], context) =>
    fisherRest(number(x, context), freedomOf(number(a, context)), freedomOf(number(b, context))),
  ),
  'F.INV.RT': single(([p, a, b], context) => {
    const [n, m] = [freedomOf(number(a, context)), freedomOf(number(b, context))];
    const of = (x: number) => -fisherRest(x, n, m);
    const wanted = -inner(number(p, context));
    return inverseOf(of, wanted, 0, upTo(of, wanted));
  }),
  'F.INV': single(([p, a, b], context) => {
    const [n, m] = [freedomOf(number(a, context)), freedomOf(number(b, context))];
    const of = (x: number) => fisherShare(x, n, m);
    const wanted = share(number(p, context));
    return inverseOf(of, wanted, 0, upTo(of, wanted));
  }),
  'BETA.DIST': single(([x, a, b, isShare, from, to], context) => {
    const [low, high] = [number(from, context, 0), number(to, context, 1)];
    const [p, q] = [positive(number(a, context)), positive(number(b, context))];
    const at = (number(x, context) - low) / (high - low);
    if (!(at >= 0 && at <= 1)) return BAD_NUMBER;
    if (truth(isShare, context)) return betaShare(at, p, q);
    const logBeta = logGamma(p) + logGamma(q) - logGamma(p + q);
    return finite(
      Math.exp((p - 1) * Math.log(at) + (q - 1) * Math.log1p(-at) - logBeta) / (high - low),
    );
  }),
  'GAMMA.DIST': single(([x, a, b, isShare], context) => {
    const [at, shape, scale] = [
      number(x, context),
      positive(number(a, context)),
      positive(number(b, context)),
    ];
    if (at < 0) return BAD_NUMBER;
    if (truth(isShare, context)) return gammaShare(shape, at / scale);
    return finite(
      Math.exp((shape - 1) * Math.log(at / scale) - at / scale - logGamma(shape)) / scale,
    );
  }),
  'EXPON.DIST': single(([x, rate, isShare], context) => {
    const [at, lambda] = [number(x, context), positive(number(rate, context))];
    if (at < 0) return BAD_NUMBER;
    return truth(isShare, context) ? -Math.expm1(-lambda * at) : lambda * Math.exp(-lambda * at);
  }),
  'WEIBULL.DIST': single(([x, a, b, isShare], context) => {
    const [at, shape, scale] = [
      number(x, context),
      positive(number(a, context)),
      positive(number(b, context)),
    ];
    if (at < 0) return BAD_NUMBER;
    const power = (at / scale) ** shape;
    if (truth(isShare, context)) return -Math.expm1(-power);
    return (shape / scale) * (at / scale) ** (shape - 1) * Math.exp(-power);
  }),
  'BINOM.DIST': single(([k, n, p, isUpTo], context) => {
    const [hits, trials, chance] = [
      whole32(k, context),
      whole32(n, context),
      share(number(p, context)),
    ];
    if (hits < 0 || hits > trials) return BAD_NUMBER;
    return truth(isUpTo, context)
      ? upward(hits, (at) => binomial(at, trials, chance))
      : binomial(hits, trials, chance);
  }),
  'BINOM.INV': single(([n, p, alpha], context) => {
    const [trials, chance, wanted] = [
      whole32(n, context),
      share(number(p, context)),
      share(number(alpha, context)),
    ];
    let total = 0;
    for (let at = 0; at <= trials; at++) {
      total += binomial(at, trials, chance);
      if (total >= wanted) return at;
    }
    return trials;
  }),
  'POISSON.DIST': single(([k, mean, isUpTo], context) => {
    const [events, middle] = [whole32(k, context), number(mean, context)];
    if (events < 0 || middle < 0) return BAD_NUMBER;
    if (middle === 0) return Number(events === 0 || truth(isUpTo, context));
    return truth(isUpTo, context) ? gammaRest(events + 1, middle) : poisson(events, middle);
  }),
  'NEGBINOM.DIST': single(([f, s, p, isUpTo], context) => {
    const [fails, hits, chance] = [
      whole32(f, context),
      whole32(s, context),
      share(number(p, context)),
    ];
    if (fails < 0 || hits < 1) return BAD_NUMBER;
    const each = (at: number) =>
      Math.exp(logGamma(at + hits) - logGamma(at + 1) - logGamma(hits)) *
      chance ** hits *
      (1 - chance) ** at;
    return truth(isUpTo, context) ? upward(fails, each) : each(fails);
  }),
  'HYPGEOM.DIST': single(([k, n, all, size, isUpTo], context) => {
    const [hits, sample, good, total] = [
      whole32(k, context),
      whole32(n, context),
      whole32(all, context),
      whole32(size, context),
    ];
    if (hits < 0 || hits > Math.min(sample, good) || sample > total || good > total)
      return BAD_NUMBER;
    const logChoose = (a: number, b: number) =>
      b < 0 || b > a
        ? Number.NEGATIVE_INFINITY
        : logGamma(a + 1) - logGamma(b + 1) - logGamma(a - b + 1);
    const each = (at: number) =>
      Math.exp(
        logChoose(good, at) + logChoose(total - good, sample - at) - logChoose(total, sample),
      );
    return truth(isUpTo, context) ? upward(hits, each) : each(hits);
  }),
  FISHER: single(([x], context) => {
    const value = number(x, context);
    return value > -1 && value < 1 ? Math.atanh(value) : BAD_NUMBER;
  }),
  FISHERINV: single(([x], context) => Math.tanh(number(x, context))),
  'CHISQ.TEST': whole(([seen, expected], context) => {
    const [a, b] = [context.matrix(seen ?? null), context.matrix(expected ?? null)];
    const [height, width] = [a.length, a[0]?.length ?? 0];
    if (b.length !== height || (b[0]?.length ?? 0) !== width) return raise(BAD_NUMBER);
    const freedom =
      height > 1 && width > 1 ? (height - 1) * (width - 1) : Math.max(height, width) - 1;
    if (freedom < 1) return BAD_NUMBER;
    let chi = 0;
    for (const [row, line] of a.entries()) {
      for (const [column, value] of line.entries()) {
        const wanted = Number(b[row]![column]);
        chi += (Number(value) - wanted) ** 2 / wanted;
      }
    }
    return chiRest(chi, freedom);
  }),
  'Z.TEST': wholeAt([0], ([values, x, spread], context) => {
    const all = numbers([values ?? null], context);
    const mean = all.reduce((a, b) => a + b, 0) / all.length;
    const width =
      spread == null
        ? Math.sqrt(all.reduce((a, b) => a + (b - mean) ** 2, 0) / (all.length - 1))
        : number(spread, context);
    return 1 - normalShare((mean - number(x, context)) / (width / Math.sqrt(all.length)));
  }),
};

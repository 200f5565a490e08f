import { BAD_NUMBER, BAD_VALUE, DIVIDED_BY_ZERO, type FormulaError, type Value } from '../value.ts';
import {
  type CallContext,
  type Functions,
  finite,
  number,
  numberOr,
  numbers,
  raise,
  single,
  sum,
  whole,
  whole32,
  wholeAt,
} from './call.ts';

/**
 * Payments at a steady rate hang together by one equation (OpenFormula, ODF 1.3 Part 4, 6.12):
 * present·(1+r)^n + payment·(1+r·due)·((1+r)^n − 1)/r + future = 0; without interest, present + payment·n + future = 0.
 */
interface Loan {
  rate: number;
  periods: number;
  payment: number;
  present: number;
  future: number;
  /** 1 where payments are due at the beginning of a period. */
  due: number;
}

/** (1+r)^n − 1, exact for small rates. */
const growth = (rate: number, periods: number) => Math.expm1(periods * Math.log1p(rate));

function payment({ rate, periods, present, future, due }: Omit<Loan, 'payment'>): number {
  if (periods === 0) return raise(BAD_NUMBER);
  if (rate === 0) return -(present + future) / periods;
  const grown = growth(rate, periods);
  return (-(present * (grown + 1) + future) * rate) / ((1 + rate * due) * grown);
}

function future({ rate, periods, payment: paid, present, due }: Omit<Loan, 'future'>): number {
  if (rate === 0) return -(present + paid * periods);
  const grown = growth(rate, periods);
  return -(present * (grown + 1) + (paid * (1 + rate * due) * grown) / rate);
}

function present({
  rate,
  periods,
  payment: paid,
  future: end,
  due,
}: Omit<Loan, 'present'>): number {
  if (rate === 0) return -(end + paid * periods);
  const grown = growth(rate, periods);
  return -(end + (paid * (1 + rate * due) * grown) / rate) / (grown + 1);
}

function periods({
  rate,
  payment: paid,
  present: start,
  future: end,
  due,
}: Omit<Loan, 'periods'>): number {
  if (rate === 0) return paid === 0 ? raise(BAD_NUMBER) : -(start + end) / paid;
  const steady = (paid * (1 + rate * due)) / rate;
  const ratio = (steady - end) / (steady + start);
  return ratio > 0 ? Math.log(ratio) / Math.log1p(rate) : raise(BAD_NUMBER);
}

/** The part of a payment that is interest. */
function interest(loan: Loan, period: number): number {
  const { rate, due } = loan;
  if (period === 1 && due === 1) return 0;
  const left = future({ ...loan, periods: period - 1, due });
  const owed = rate * left;
  return due === 1 ? owed / (1 + rate) : owed;
}

function loanFrom([rate, n, start, end, due]: (Value | undefined)[], context: CallContext): Loan {
  const loan = {
    rate: number(rate, context),
    periods: number(n, context),
    present: number(start, context),
    future: numberOr(end, context, 0),
    due: dueOf(due, context),
  };
  return { ...loan, payment: payment(loan) };
}

const dueOf = (value: Value | undefined, context: CallContext) =>
  numberOr(value, context, 0) === 0 ? 0 : 1;

/**
 * Where a function is 0: by secants from a guess, and where they go astray by halving between the first two ends of a widening
 * net at which its sign differs.
 */
function rootOf(of: (x: number) => number, guess: number): number {
  let [a, b] = [guess, guess + (guess === 0 ? 0.01 : Math.abs(guess) * 0.05)];
  let [fa, fb] = [of(a), of(b)];
  for (let at = 0; at < 60; at++) {
    if (fb === fa) break;
    const next = b - (fb * (b - a)) / (fb - fa);
    if (!(next > -1) || !Number.isFinite(next)) break;
    [a, fa] = [b, fb];
    [b, fb] = [next, of(next)];
    if (!Number.isFinite(fb)) break;
    if (fb === 0 || Math.abs(b - a) <= Math.abs(b) * 1e-15) return b;
  }
  const known = Math.abs(b - a) < 1e-10 && Number.isFinite(fb) ? b : null;
  const net = [
    -0.99, -0.9, -0.7, -0.5, -0.3, -0.1, -0.01, 0, 0.01, 0.05, 0.1, 0.2, 0.4, 0.8, 1.6, 3.2, 10,
    100,
  ];
  for (let at = 1; at < net.length; at++) {
    let [low, high] = [net[at - 1]!, net[at]!];
    const below = of(low) < 0;
    if (of(high) < 0 === below) continue;
    for (let turn = 0; turn < 200; turn++) {
      const middle = (low + high) / 2;
      if (middle === low || middle === high) return middle;
      if (of(middle) < 0 === below) low = middle;
      else high = middle;
    }
    return high;
  }
  return known ?? raise(BAD_NUMBER);
}

const worthAt = (flows: readonly number[], rate: number) =>
  sum(flows.map((flow, at) => flow / (1 + rate) ** at));

const hasBothSigns = (flows: readonly number[]) =>
  flows.some((flow) => flow > 0) && flows.some((flow) => flow < 0);

function dated(
  values: Value | undefined,
  dates: Value | undefined,
  context: CallContext,
): { flow: number; years: number }[] {
  const flows = numbers([values ?? null], context);
  const days = numbers([dates ?? null], context).map(Math.trunc);
  if (flows.length !== days.length || flows.length === 0) return raise(BAD_NUMBER);
  return flows.map((flow, at) => ({ flow, years: (days[at]! - days[0]!) / 365 }));
}

const datedWorth = (flows: readonly { flow: number; years: number }[], rate: number) =>
  sum(flows.map(({ flow, years }) => flow / (1 + rate) ** years));

/** What a thing loses in a period, when each takes a share of what is left and nothing goes below its rest. */
function declining(
  cost: number,
  rest: number,
  life: number,
  period: number,
  factor: number,
): number {
  const share = Math.min(1, factor / life);
  const before = cost * (1 - share) ** (period - 1);
  const after = cost * (1 - share) ** period;
  return Math.max(0, before - Math.max(after, rest));
}

function overSum(which: 'interest' | 'principal') {
  return single(([rate, n, start, from, to, due], context) => {
    const loan = loanFrom([rate, n, start, 0, due], context);
    const [first, last] = [whole32(from, context), whole32(to, context)];
    if (first < 1 || last < first || last > loan.periods || loan.rate <= 0) return BAD_NUMBER;
    let total = 0;
    for (let period = first; period <= last; period++) {
      const part = interest(loan, period);
      total += which === 'interest' ? part : loan.payment - part;
    }
    return total;
  });
}

/** Loans, cash flows and what things lose in worth. */
export const FINANCE: Functions = {
  PMT: single(([rate, n, start, end, due], context) =>
    finite(loanFrom([rate, n, start, end, due], context).payment),
  ),
  FV: single(([rate, n, paid, start, due], context) =>
    finite(
      future({
        rate: number(rate, context),
        periods: number(n, context),
        payment: numberOr(paid, context, 0),
        present: numberOr(start, context, 0),
        due: dueOf(due, context),
      }),
    ),
  ),
  PV: single(([rate, n, paid, end, due], context) =>
    finite(
      present({
        rate: number(rate, context),
        periods: number(n, context),
        payment: numberOr(paid, context, 0),
        future: numberOr(end, context, 0),
        due: dueOf(due, context),
      }),
    ),
  ),
  NPER: single(([rate, paid, start, end, due], context) =>
    finite(
      periods({
        rate: number(rate, context),
        payment: number(paid, context),
        present: number(start, context),
        future: numberOr(end, context, 0),
        due: dueOf(due, context),
      }),
    ),
  ),
  RATE: single(([n, paid, start, end, due, guess], context) => {
    const loan = {
      periods: number(n, context),
      payment: numberOr(paid, context, 0),
      present: numberOr(start, context, 0),
      due: dueOf(due, context),
    };
    const wanted = numberOr(end, context, 0);
    return rootOf((rate) => future({ ...loan, rate }) - wanted, numberOr(guess, context, 0.1));
  }),
  IPMT: single(([rate, period, n, start, end, due], context) => {
    const loan = loanFrom([rate, n, start, end, due], context);
    const at = number(period, context);
    return at < 1 || at > loan.periods ? BAD_NUMBER : finite(interest(loan, at));
  }),
  PPMT: single(([rate, period, n, start, end, due], context) => {
    const loan = loanFrom([rate, n, start, end, due], context);
    const at = number(period, context);
    return at < 1 || at > loan.periods ? BAD_NUMBER : finite(loan.payment - interest(loan, at));
  }),
  ISPMT: single(([rate, period, n, start], context) => {
    const count = number(n, context);
    return -number(start, context) * number(rate, context) * (1 - number(period, context) / count);
  }),
  CUMIPMT: overSum('interest'),
  CUMPRINC: overSum('principal'),
  NPV: whole(([rate, ...flows], context) => {
    const r = number(rate, context);
    if (r === -1) return DIVIDED_BY_ZERO;
    return finite(worthAt(numbers(flows, context), r) / (1 + r));
  }),
  IRR: wholeAt([0], ([values, guess], context) => {
    const flows = numbers([values ?? null], context);
    if (!hasBothSigns(flows)) return BAD_NUMBER;
    return rootOf((rate) => worthAt(flows, rate), numberOr(guess, context, 0.1));
  }),
  MIRR: wholeAt([0], ([values, cost, gain], context) => {
    const flows = numbers([values ?? null], context);
    if (!hasBothSigns(flows)) return DIVIDED_BY_ZERO;
    const [r, s] = [number(cost, context), number(gain, context)];
    const n = flows.length;
    const paid = worthAt(
      flows.map((flow) => Math.min(0, flow)),
      r,
    );
    const gained =
      worthAt(
        flows.map((flow) => Math.max(0, flow)),
        s,
      ) *
      (1 + s) ** (n - 1);
    return finite((gained / -paid) ** (1 / (n - 1)) - 1);
  }),
  XNPV: wholeAt([1, 2], ([rate, values, dates], context) =>
    finite(datedWorth(dated(values, dates, context), number(rate, context))),
  ),
  XIRR: wholeAt([0, 1], ([values, dates, guess], context) => {
    const flows = dated(values, dates, context);
    if (!hasBothSigns(flows.map(({ flow }) => flow))) return BAD_NUMBER;
    return rootOf((rate) => datedWorth(flows, rate), numberOr(guess, context, 0.1));
  }),
  SLN: single(([cost, rest, life], context) => {
    const years = number(life, context);
    if (years === 0) return DIVIDED_BY_ZERO;
    return (number(cost, context) - number(rest, context)) / years;
  }),
  SYD: single(([cost, rest, life, period], context) => {
    const [years, at] = [number(life, context), number(period, context)];
    if (years <= 0 || at < 1 || at > years) return BAD_NUMBER;
    const share = ((years - at + 1) * 2) / (years * (years + 1));
    return (number(cost, context) - number(rest, context)) * share;
  }),
  DDB: single(([cost, rest, life, period, factor], context) => {
    const [years, at] = [number(life, context), number(period, context)];
    if (years <= 0 || at < 1 || at > years) return BAD_NUMBER;
    const times = numberOr(factor, context, 2);
    return declining(number(cost, context), number(rest, context), years, at, times);
  }),
  DB: single(([cost, rest, life, period, month], context) => {
    const [worth, end, years] = [
      number(cost, context),
      number(rest, context),
      number(life, context),
    ];
    const [at, months] = [Math.trunc(number(period, context)), numberOr(month, context, 12)];
    if (worth <= 0 || years <= 0 || at < 1 || at > years + 1) return BAD_NUMBER;
    // The rate is rounded to three decimals (common practice).
    const rate = Math.round((1 - (end / worth) ** (1 / years)) * 1_000) / 1_000;
    let [lost, last] = [0, 0];
    for (let year = 1; year <= at; year++) {
      last =
        year === 1
          ? (worth * rate * months) / 12
          : (worth - lost) * rate * (year > years ? (12 - months) / 12 : 1);
      lost += last;
    }
    return last;
  }),
  EFFECT: single(([nominal, times], context) => {
    const [rate, n] = [number(nominal, context), whole32(times, context)];
    return rate <= 0 || n < 1 ? BAD_NUMBER : growth(rate / n, n);
  }),
  NOMINAL: single(([effective, times], context) => {
    const [rate, n] = [number(effective, context), whole32(times, context)];
    return rate <= 0 || n < 1 ? BAD_NUMBER : n * growth(rate, 1 / n);
  }),
  RRI: single(([n, from, to], context) => {
    const count = number(n, context);
    return finite((number(to, context) / number(from, context)) ** (1 / count) - 1);
  }),
  PDURATION: single(([rate, from, to], context) => {
    const r = number(rate, context);
    if (r <= 0) return BAD_NUMBER;
    return finite(Math.log(number(to, context) / number(from, context)) / Math.log1p(r));
  }),
  DOLLARDE: single(([price, parts], context) => fraction(price, parts, context, true)),
  DOLLARFR: single(([price, parts], context) => fraction(price, parts, context, false)),
  FVSCHEDULE: wholeAt([1], ([start, rates], context) =>
    finite(
      numbers([rates ?? null], context).reduce(
        (worth, rate) => worth * (1 + rate),
        number(start, context),
      ),
    ),
  ),
};

/** A price in parts (eighths, thirty-seconds) behind the point as a decimal one, or back. */
function fraction(
  price: Value | undefined,
  parts: Value | undefined,
  context: CallContext,
  isToDecimal: boolean,
): number | FormulaError {
  const [value, n] = [number(price, context), whole32(parts, context)];
  if (n < 0) return BAD_NUMBER;
  if (n === 0) return isToDecimal ? DIVIDED_BY_ZERO : BAD_VALUE;
  const scale = 10 ** Math.ceil(Math.log10(n));
  const whole = Math.trunc(value);
  return whole + (isToDecimal ? ((value - whole) * scale) / n : ((value - whole) * n) / scale);
}

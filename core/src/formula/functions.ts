import { isoToSerial, serialToIso } from '../sheet/date.ts';
import { showNumber, showText } from '../sheet/number-format.ts';
import {
  BAD_NUMBER,
  BAD_REFERENCE,
  BAD_VALUE,
  compareScalars,
  DIVIDED_BY_ZERO,
  FormulaError,
  isMatrix,
  isRange,
  type Matrix,
  NOT_AVAILABLE,
  type Scalar,
  toNumber,
  toText,
  toTruth,
  type Value,
} from './value.ts';
import { wildcardSearch, wildcardTest } from './wildcard.ts';

/** What a function may ask of the evaluation it is called in. */
export interface CallContext {
  /** The cell that the formula stands in. */
  row: number;
  column: number;
  /** Serial number of this moment. */
  now: number;
  /** The one value of an argument: the first of several. */
  scalar(value: Value): Scalar;
  /** All values of an argument as rows. */
  matrix(value: Value): Matrix;
}

type Fn = (args: Value[], context: CallContext) => Value;

/** Thrown within functions and caught where they are called: an error value ends a function at once. */
export class Raised extends Error {
  constructor(readonly error: FormulaError) {
    super(error.code);
  }
}

const raise = (error: FormulaError): never => {
  throw new Raised(error);
};

function must<T>(value: T | FormulaError): T {
  return value instanceof FormulaError ? raise(value) : value;
}

const number = (value: Value | undefined, context: CallContext, absent?: number): number =>
  value === undefined ? (absent ?? raise(BAD_VALUE)) : must(toNumber(context.scalar(value)));
const text = (value: Value | undefined, context: CallContext): string =>
  value === undefined ? raise(BAD_VALUE) : must(toText(context.scalar(value)));

/** Numbers as aggregates see them: within ranges only numbers count, given directly texts and truths do too. */
function numbers(args: Value[], context: CallContext): number[] {
  const found: number[] = [];
  for (const arg of args) {
    if (isRange(arg) || isMatrix(arg)) {
      for (const row of context.matrix(arg)) {
        for (const value of row) {
          if (value instanceof FormulaError) raise(value);
          if (typeof value === 'number') found.push(value);
        }
      }
    } else found.push(must(toNumber(arg)));
  }
  return found;
}

/** All values of the arguments, one after the other. */
const values = (args: Value[], context: CallContext): Scalar[] =>
  args.flatMap((arg) => context.matrix(arg).flat());

function truths(args: Value[], context: CallContext): boolean[] {
  return args.flatMap((arg) =>
    isRange(arg) || isMatrix(arg)
      ? context
          .matrix(arg)
          .flat()
          .filter((value) => value !== null && typeof value !== 'string')
          .map((value) => must(toTruth(value)))
      : [must(toTruth(arg))],
  );
}

const math =
  (work: (x: number) => number): Fn =>
  (args, context) => {
    const result = work(number(args[0], context));
    return Number.isFinite(result) ? result : BAD_NUMBER;
  };
const over =
  (work: (all: number[]) => number | FormulaError): Fn =>
  (args, context) =>
    work(numbers(args, context));
const is =
  (test: (value: Scalar) => boolean): Fn =>
  ([value], context) =>
    test(context.scalar(value ?? null));

const sum = (all: readonly number[]) => all.reduce((total, each) => total + each, 0);
const mean = (all: readonly number[]) =>
  all.length === 0 ? DIVIDED_BY_ZERO : sum(all) / all.length;

function variance(all: readonly number[], freedom: number): number | FormulaError {
  if (all.length - freedom < 1) return DIVIDED_BY_ZERO;
  const middle = sum(all) / all.length;
  return sum(all.map((each) => (each - middle) ** 2)) / (all.length - freedom);
}

const root = (value: number | FormulaError) =>
  value instanceof FormulaError ? value : Math.sqrt(value);

/** Rounds half away from zero at `digits` decimals; decimal, so that 1.005 rounds to 1.01 (common practice). */
function round(x: number, digits: number, how: (x: number) => number): number {
  const scale = 10 ** Math.trunc(digits);
  const scaled = Number((Math.abs(x) * scale).toPrecision(15));
  return (Math.sign(x) * how(scaled)) / scale;
}

const rounding =
  (how: (x: number) => number): Fn =>
  ([x, digits], context) =>
    round(number(x, context), number(digits, context, 0), how);

/** The value `share` (0 to 1) of the way through the sorted numbers, between neighbours in proportion. */
export function percentile(all: readonly number[], share: number): number | FormulaError {
  if (all.length === 0 || !(share >= 0 && share <= 1)) return BAD_NUMBER;
  const sorted = [...all].sort((a, b) => a - b);
  const at = share * (sorted.length - 1);
  const [low, high] = [sorted[Math.floor(at)]!, sorted[Math.ceil(at)]!];
  return low + (high - low) * (at - Math.floor(at));
}

/** Turns a criterion (`">=10"`, `"Sea*"`, 5) into a test (OpenFormula, ODF 1.3 Part 4, 4.11.8). */
function criterion(wanted: Scalar): (value: Scalar) => boolean {
  if (typeof wanted !== 'string') {
    return (value) => typeof value === typeof wanted && compareScalars(value, wanted) === 0;
  }
  const [, sign, operand] = /^(<=|>=|<>|<|>|=)?(.*)$/s.exec(wanted)! as unknown as [
    string,
    string | undefined,
    string,
  ];
  const asNumber = operand.trim() === '' ? BAD_VALUE : toNumber(operand);
  if (sign === undefined || sign === '=' || sign === '<>') {
    const isEqual = equalTest(operand, asNumber);
    return sign === '<>' ? (value) => !isEqual(value) : isEqual;
  }
  const bound: Scalar = asNumber instanceof FormulaError ? operand : asNumber;
  return (value) => {
    if (value === null || typeof value !== typeof bound) return false;
    const order = compareScalars(value, bound);
    if (order instanceof FormulaError) return false;
    return sign === '<'
      ? order < 0
      : sign === '<='
        ? order <= 0
        : sign === '>'
          ? order > 0
          : order >= 0;
  };
}

function equalTest(operand: string, asNumber: number | FormulaError): (value: Scalar) => boolean {
  if (operand === '') return (value) => value === null || value === '';
  if (!(asNumber instanceof FormulaError)) {
    return (value) =>
      value === asNumber || (typeof value === 'string' && toNumber(value) === asNumber);
  }
  const isLike = wildcardTest(operand);
  return (value) => typeof value === 'string' && isLike(value);
}

/** The values of the first range whose fellows in the others meet their criteria. */
function chosen(target: Value, pairs: Value[], context: CallContext): Scalar[] {
  const cells = context.matrix(target).flat();
  const tests: { fellows: Scalar[]; test: (value: Scalar) => boolean }[] = [];
  for (let at = 0; at + 1 < pairs.length; at += 2) {
    tests.push({
      fellows: context.matrix(pairs[at]!).flat(),
      test: criterion(context.scalar(pairs[at + 1]!)),
    });
  }
  return cells.filter((_, index) =>
    tests.every(({ fellows, test }) => test(fellows[index] ?? null)),
  );
}

const onlyNumbers = (all: Scalar[]) => all.filter((value) => typeof value === 'number');

function ranked(pick: (sorted: number[], k: number) => number | undefined): Fn {
  return ([range, k], context) => {
    const sorted = numbers([range ?? null], context).sort((a, b) => a - b);
    const place = Math.ceil(number(k, context));
    return place < 1 ? BAD_NUMBER : (pick(sorted, place) ?? BAD_NUMBER);
  };
}

function dayOf(serial: number): Date {
  const iso = serialToIso(Math.floor(serial), '1900');
  if (iso === null) return raise(BAD_NUMBER);
  return new Date(`${iso.slice(0, 10)}T00:00:00Z`);
}

const serialOf = (date: Date): number =>
  Number.isNaN(date.getTime())
    ? raise(BAD_NUMBER)
    : isoToSerial(date.toISOString().slice(0, 10), '1900');

const datePart =
  (part: (date: Date) => number): Fn =>
  ([value], context) =>
    part(dayOf(number(value, context)));

const timePart =
  (unit: number, wrap: number): Fn =>
  ([value], context) => {
    const seconds = Math.round((number(value, context) % 1) * 86_400);
    return Math.floor(seconds / unit) % wrap;
  };

function monthsOn(isEnd: boolean): Fn {
  return ([value, months], context) => {
    const date = dayOf(number(value, context));
    const month = date.getUTCMonth() + Math.trunc(number(months, context));
    const last = new Date(Date.UTC(date.getUTCFullYear(), month + 1, 0)).getUTCDate();
    const day = isEnd ? last : Math.min(date.getUTCDate(), last);
    return serialOf(new Date(Date.UTC(date.getUTCFullYear(), month, day)));
  };
}

function lookUp(isAcross: boolean): Fn {
  return ([wanted, table, index, isSorted], context) => {
    const matrix = context.matrix(table ?? null);
    const key = context.scalar(wanted ?? null);
    const line = isAcross ? (matrix[0] ?? []) : matrix.map((row) => row[0] ?? null);
    const at = place(
      key,
      line,
      isSorted === undefined || must(toTruth(context.scalar(isSorted))) ? 1 : 0,
    );
    const other = Math.trunc(number(index, context)) - 1;
    const row = isAcross ? matrix[other] : matrix[at];
    return row
      ? (row[isAcross ? at : other] ??
          (other < 0 || (!isAcross && other >= row.length) ? BAD_REFERENCE : null))
      : BAD_REFERENCE;
  };
}

/** Where `key` stands in a line: exactly (0), the last not above it in a rising line (1), not below in a falling (-1). */
function place(key: Scalar, line: Scalar[], how: number): number {
  if (key instanceof FormulaError) return raise(key);
  if (how === 0) {
    const test = typeof key === 'string' ? criterion(`=${key}`) : criterion(key);
    const at = line.findIndex(test);
    return at < 0 ? raise(NOT_AVAILABLE) : at;
  }
  let found = -1;
  for (const [at, value] of line.entries()) {
    if (value === null || typeof value !== typeof key) continue;
    const order = must(compareScalars(value, key));
    if (how > 0 ? order > 0 : order < 0) break;
    found = at;
  }
  return found < 0 ? raise(NOT_AVAILABLE) : found;
}

function search(isCaseBound: boolean): Fn {
  return ([wanted, within, from], context) => {
    const [needle, hay] = [text(wanted, context), text(within, context)];
    const start = Math.trunc(number(from, context, 1)) - 1;
    if (start < 0 || start > hay.length) return BAD_VALUE;
    const at = isCaseBound ? hay.indexOf(needle, start) : wildcardSearch(needle, hay, start);
    return at < start ? BAD_VALUE : at + 1;
  };
}

/** The functions that are evaluated here, by name. `IF`, `IFERROR`, `IFNA` and `CHOOSE` are the evaluator's own. */
export const FUNCTIONS: Record<string, Fn> = {
  AND: (args, context) => truths(args, context).every(Boolean),
  OR: (args, context) => truths(args, context).some(Boolean),
  XOR: (args, context) => truths(args, context).filter(Boolean).length % 2 === 1,
  NOT: ([value], context) => !must(toTruth(context.scalar(value ?? null))),
  TRUE: () => true,
  FALSE: () => false,
  NA: () => NOT_AVAILABLE,

  ISBLANK: is((value) => value === null),
  ISNUMBER: is((value) => typeof value === 'number'),
  ISTEXT: is((value) => typeof value === 'string'),
  ISNONTEXT: is((value) => typeof value !== 'string'),
  ISLOGICAL: is((value) => typeof value === 'boolean'),
  ISERROR: is((value) => value instanceof FormulaError),
  ISERR: is((value) => value instanceof FormulaError && value.code !== '#N/A'),
  ISNA: is((value) => value instanceof FormulaError && value.code === '#N/A'),
  ISEVEN: math((x) => Number(Math.trunc(x) % 2 === 0)),
  ISODD: math((x) => Number(Math.trunc(x) % 2 !== 0)),
  N: ([value], context) => {
    const scalar = context.scalar(value ?? null);
    return typeof scalar === 'string' ? 0 : must(toNumber(scalar));
  },

  SUM: over(sum),
  AVERAGE: over(mean),
  MIN: over((all) => (all.length === 0 ? 0 : all.reduce((a, b) => Math.min(a, b)))),
  MAX: over((all) => (all.length === 0 ? 0 : all.reduce((a, b) => Math.max(a, b)))),
  PRODUCT: over((all) => (all.length === 0 ? 0 : all.reduce((a, b) => a * b, 1))),
  MEDIAN: over((all) => percentile(all, 0.5)),
  'STDEV.S': over((all) => root(variance(all, 1))),
  'STDEV.P': over((all) => root(variance(all, 0))),
  'VAR.S': over((all) => variance(all, 1)),
  'VAR.P': over((all) => variance(all, 0)),
  COUNT: (args, context) => onlyNumbers(values(args, context)).length,
  COUNTA: (args, context) => values(args, context).filter((value) => value !== null).length,
  COUNTBLANK: (args, context) =>
    values(args, context).filter((value) => value === null || value === '').length,
  LARGE: ranked((sorted, k) => sorted.at(-k)),
  SMALL: ranked((sorted, k) => sorted[k - 1]),
  PERCENTILE: ([range, share], context) =>
    percentile(numbers([range ?? null], context), number(share, context)),
  RANK: ([value, range, isRising], context) => {
    const x = number(value, context);
    const all = numbers([range ?? null], context);
    if (!all.includes(x)) return NOT_AVAILABLE;
    const before = number(isRising, context, 0) !== 0 ? (y: number) => y < x : (y: number) => y > x;
    return all.filter(before).length + 1;
  },
  SUMIF: ([range, wanted, target], context) =>
    sum(onlyNumbers(chosen(target ?? range ?? null, [range ?? null, wanted ?? null], context))),
  COUNTIF: ([range, wanted], context) =>
    chosen(range ?? null, [range ?? null, wanted ?? null], context).length,
  AVERAGEIF: ([range, wanted, target], context) =>
    mean(onlyNumbers(chosen(target ?? range ?? null, [range ?? null, wanted ?? null], context))),
  SUMIFS: ([target, ...pairs], context) => sum(onlyNumbers(chosen(target ?? null, pairs, context))),
  COUNTIFS: (pairs, context) => chosen(pairs[0] ?? null, pairs, context).length,
  AVERAGEIFS: ([target, ...pairs], context) =>
    mean(onlyNumbers(chosen(target ?? null, pairs, context))),
  SUMPRODUCT: (args, context) => {
    const lists = args.map((arg) => context.matrix(arg).flat());
    const length = lists[0]?.length ?? 0;
    if (lists.some((list) => list.length !== length)) return BAD_VALUE;
    let total = 0;
    for (let at = 0; at < length; at++) {
      total += lists.reduce((product, list) => {
        const value = list[at]!;
        if (value instanceof FormulaError) raise(value);
        return product * (typeof value === 'number' ? value : 0);
      }, 1);
    }
    return total;
  },

  ABS: math(Math.abs),
  SIGN: math(Math.sign),
  INT: math(Math.floor),
  SQRT: math(Math.sqrt),
  EXP: math(Math.exp),
  LN: math(Math.log),
  LOG10: math(Math.log10),
  LOG: ([x, base], context) => {
    const result = Math.log(number(x, context)) / Math.log(number(base, context, 10));
    return Number.isFinite(result) ? result : BAD_NUMBER;
  },
  PI: () => Math.PI,
  POWER: ([x, y], context) => {
    const result = number(x, context) ** number(y, context);
    return Number.isFinite(result) ? result : BAD_NUMBER;
  },
  MOD: ([x, y], context) => {
    const [a, b] = [number(x, context), number(y, context)];
    return b === 0 ? DIVIDED_BY_ZERO : a - b * Math.floor(a / b);
  },
  ROUND: rounding(Math.round),
  ROUNDUP: rounding(Math.ceil),
  ROUNDDOWN: rounding(Math.floor),
  TRUNC: rounding(Math.floor),

  LEN: ([value], context) => text(value, context).length,
  LEFT: ([value, count], context) => text(value, context).slice(0, number(count, context, 1)),
  RIGHT: ([value, count], context) => {
    const all = text(value, context);
    return all.slice(Math.max(0, all.length - number(count, context, 1)));
  },
  MID: ([value, from, count], context) => {
    const start = number(from, context) - 1;
    return start < 0
      ? BAD_VALUE
      : text(value, context).slice(start, start + number(count, context));
  },
  UPPER: ([value], context) => text(value, context).toUpperCase(),
  LOWER: ([value], context) => text(value, context).toLowerCase(),
  TRIM: ([value], context) => text(value, context).replace(/ +/g, ' ').replace(/^ | $/g, ''),
  EXACT: ([a, b], context) => text(a, context) === text(b, context),
  CONCATENATE: (args, context) => args.map((arg) => text(arg, context)).join(''),
  CONCAT: (args, context) =>
    values(args, context)
      .map((value) => must(toText(value)))
      .join(''),
  VALUE: ([value], context) => number(value, context),
  TEXT: ([value, format], context) => {
    const scalar = context.scalar(value ?? null);
    const code = text(format, context);
    if (scalar instanceof FormulaError) return scalar;
    return typeof scalar === 'string' ? showText(scalar, code) : showNumber(Number(scalar), code);
  },
  SUBSTITUTE: ([value, old, now, which], context) => {
    const [all, from, to] = [text(value, context), text(old, context), text(now, context)];
    if (from === '') return all;
    if (which === undefined) return all.replaceAll(from, to);
    let left = number(which, context);
    return all.replaceAll(from, (same) => (--left === 0 ? to : same));
  },
  REPT: ([value, times], context) => {
    const [part, count] = [text(value, context), Math.trunc(number(times, context))];
    return count < 0 || part.length * count > 32_767 ? BAD_VALUE : part.repeat(count);
  },
  FIND: search(true),
  SEARCH: search(false),

  TODAY: (_, { now }) => Math.floor(now),
  NOW: (_, { now }) => now,
  DATE: ([year, month, day], context) => {
    const given = Math.trunc(number(year, context));
    const date = new Date(0);
    // Years below 1900 count from 1900 (common practice).
    date.setUTCFullYear(
      given < 1900 ? given + 1900 : given,
      Math.trunc(number(month, context)) - 1,
      Math.trunc(number(day, context)),
    );
    return serialOf(date);
  },
  YEAR: datePart((date) => date.getUTCFullYear()),
  MONTH: datePart((date) => date.getUTCMonth() + 1),
  DAY: datePart((date) => date.getUTCDate()),
  HOUR: timePart(3_600, 24),
  MINUTE: timePart(60, 60),
  SECOND: timePart(1, 60),
  WEEKDAY: ([value, kind], context) => {
    const day = dayOf(number(value, context)).getUTCDay();
    const from = number(kind, context, 1);
    return from === 2 ? ((day + 6) % 7) + 1 : from === 3 ? (day + 6) % 7 : day + 1;
  },
  EDATE: monthsOn(false),
  EOMONTH: monthsOn(true),

  ROW: ([value], { row }) =>
    value === undefined ? row : isRange(value) ? value.area.top : BAD_VALUE,
  COLUMN: ([value], { column }) =>
    value === undefined ? column : isRange(value) ? value.area.left : BAD_VALUE,
  ROWS: ([value], context) =>
    value !== undefined && isRange(value)
      ? value.area.bottom - value.area.top + 1
      : context.matrix(value ?? null).length,
  COLUMNS: ([value], context) =>
    value !== undefined && isRange(value)
      ? value.area.right - value.area.left + 1
      : (context.matrix(value ?? null)[0]?.length ?? 0),
  INDEX: ([range, row, column], context) => {
    const matrix = context.matrix(range ?? null);
    let [r, c] = [Math.trunc(number(row, context, 0)), Math.trunc(number(column, context, 0))];
    if (column === undefined && matrix.length === 1) [r, c] = [1, r];
    return (
      matrix[Math.max(r, 1) - 1]?.[Math.max(c, 1) - 1] ?? (r > matrix.length ? BAD_REFERENCE : null)
    );
  },
  MATCH: ([wanted, range, how], context) =>
    place(
      context.scalar(wanted ?? null),
      context.matrix(range ?? null).flat(),
      Math.sign(number(how, context, 1)),
    ) + 1,
  VLOOKUP: lookUp(false),
  HLOOKUP: lookUp(true),
};

const ALIASES: Record<string, string> = {
  STDEV: 'STDEV.S',
  STDEVP: 'STDEV.P',
  VAR: 'VAR.S',
  VARP: 'VAR.P',
  'PERCENTILE.INC': 'PERCENTILE',
  'RANK.EQ': 'RANK',
};
for (const [alias, name] of Object.entries(ALIASES)) FUNCTIONS[alias] = FUNCTIONS[name]!;
// Both are truth values, not numbers.
for (const name of ['ISEVEN', 'ISODD']) {
  const count = FUNCTIONS[name]!;
  FUNCTIONS[name] = (args, context) => count(args, context) === 1;
}

import {
  BAD_NUMBER,
  BAD_VALUE,
  DIVIDED_BY_ZERO,
  FormulaError,
  isRange,
  type Matrix,
  type Scalar,
  toNumber,
  type Value,
} from '../value.ts';
import {
  type CallContext,
  type Functions,
  finite,
  isMany,
  must,
  number,
  numbers,
  ofNumber,
  ofNumbers,
  pairs,
  raise,
  single,
  sum,
  text,
  whole,
  whole32,
  wholeAt,
} from './call.ts';
import { STATISTICS } from './statistics.ts';

/** Rounds a figure's size at `digits` decimals; decimal, so that 1.005 rounds to 1.01 (common practice). */
function round(x: number, digits: number, how: (x: number) => number): number {
  const places = Math.trunc(digits);
  if (places > 15) return x;
  const scale = 10 ** places;
  const scaled = Number((Math.abs(x) * scale).toPrecision(15));
  const result = places < 0 ? how(scaled) * 10 ** -places : Number(`${how(scaled)}e${-places}`);
  return Math.sign(x) * (Number.isFinite(result) ? result : how(scaled) / scale);
}

const rounding = (how: (x: number) => number) =>
  single(([x, digits], context) => round(number(x, context), number(digits, context, 0), how));

/** A quotient that a binary fraction keeps from being whole is whole. */
const steps = (x: number, step: number) => Number((x / step).toPrecision(15));

const toMultiple = (how: (x: number) => number, isSameSign: boolean) =>
  single(([x, step], context) => {
    const [a, b] = [number(x, context), number(step, context, 1)];
    if (b === 0) return how === Math.floor && a !== 0 && isSameSign ? DIVIDED_BY_ZERO : 0;
    if (isSameSign && a > 0 && b < 0) return BAD_NUMBER;
    return a === 0 ? 0 : how(steps(a, b)) * b;
  });

/** Rounds up or down to a multiple whose sign does not matter; `mode` turns figures below zero away from it. */
const toMultipleOf = (isUp: boolean) =>
  single(([x, step, mode], context) => {
    const a = number(x, context);
    const b = Math.abs(number(step, context, 1));
    if (b === 0 || a === 0) return 0;
    const isAway = number(mode, context, 0) !== 0 && a < 0;
    const how = isUp !== isAway ? Math.ceil : Math.floor;
    return how(steps(a, b)) * b;
  });

const alwaysUp = (isUp: boolean) =>
  single(([x, step], context) => {
    const [a, b] = [number(x, context), Math.abs(number(step, context, 1))];
    if (b === 0 || a === 0) return 0;
    return (isUp ? Math.ceil : Math.floor)(steps(a, b)) * b;
  });

/** The whole number away from zero of which `rest` is what is left by 2. */
function awayTo(x: number, rest: 0 | 1): number {
  let up = Math.ceil(Math.abs(x));
  if (up % 2 !== rest) up++;
  return x < 0 ? -up : up;
}

function factorial(n: number, step = 1): number | FormulaError {
  const from = Math.trunc(n);
  if (from < 0) return BAD_NUMBER;
  let product = 1;
  for (let each = from; each > 1 && Number.isFinite(product); each -= step) product *= each;
  return finite(product);
}

function combinations(n: number, k: number): number | FormulaError {
  if (n < 0 || k < 0 || k > n) return BAD_NUMBER;
  let result = 1;
  const few = Math.min(k, n - k);
  for (let at = 1; at <= few; at++) result = Math.round((result * (n - few + at)) / at);
  if (Number.isSafeInteger(result)) return result;
  // Too large for whole steps: the nearest number there is.
  result = 1;
  for (let at = 1; at <= few; at++) result = (result * (n - few + at)) / at;
  return finite(result);
}

function permutations(n: number, k: number): number | FormulaError {
  if (n < 0 || k < 0 || k > n) return BAD_NUMBER;
  let result = 1;
  for (let at = 0; at < k; at++) result *= n - at;
  return finite(result);
}

const ofTwo = (work: (x: number, y: number) => number | FormulaError) =>
  single(([x, y], context) => work(whole32(x, context), whole32(y, context)));

function commonDivisor(a: number, b: number): number {
  let [x, y] = [a, b];
  while (y !== 0) [x, y] = [y, x % y];
  return x;
}

const wholes = (all: number[]): number[] =>
  all.map((each) => (each < 0 || each >= 2 ** 53 ? raise(BAD_NUMBER) : Math.trunc(each)));

const ROMAN: [number, string][] = [
  [1000, 'M'],
  [900, 'CM'],
  [500, 'D'],
  [400, 'CD'],
  [100, 'C'],
  [90, 'XC'],
  [50, 'L'],
  [40, 'XL'],
  [10, 'X'],
  [9, 'IX'],
  [5, 'V'],
  [4, 'IV'],
  [1, 'I'],
];

function roman(n: number): string | FormulaError {
  let left = Math.trunc(n);
  if (left < 0 || left > 3999) return BAD_VALUE;
  let said = '';
  for (const [size, letters] of ROMAN) {
    while (left >= size) {
      said += letters;
      left -= size;
    }
  }
  return said;
}

function arabic(said: string): number | FormulaError {
  const letters = said.trim().toUpperCase();
  const isNegative = letters.startsWith('-');
  const sizes = Object.fromEntries(ROMAN.map(([size, letter]) => [letter, size]));
  let total = 0;
  let last = 0;
  for (const letter of [...letters.slice(isNegative ? 1 : 0)].reverse()) {
    const size = sizes[letter];
    if (size === undefined) return BAD_VALUE;
    total += size < last ? -size : size;
    last = Math.max(last, size);
  }
  return isNegative ? -total : total;
}

/** The determinant and, where asked, the inverse of a square of numbers (Gauss and Jordan, with the largest pivots). */
function solved(rows: number[][]): { determinant: number; inverse: number[][] | null } {
  const n = rows.length;
  const work = rows.map((row, at) => [
    ...row,
    ...Array.from({ length: n }, (_, column) => (column === at ? 1 : 0)),
  ]);
  let determinant = 1;
  for (let column = 0; column < n; column++) {
    let pivot = column;
    for (let row = column + 1; row < n; row++) {
      if (Math.abs(work[row]![column]!) > Math.abs(work[pivot]![column]!)) pivot = row;
    }
    const size = work[pivot]![column]!;
    if (size === 0) return { determinant: 0, inverse: null };
    if (pivot !== column) {
      [work[pivot], work[column]] = [work[column]!, work[pivot]!];
      determinant = -determinant;
    }
    determinant *= size;
    work[column] = work[column]!.map((each) => each / size);
    for (let row = 0; row < n; row++) {
      const factor = work[row]![column]!;
      if (row === column || factor === 0) continue;
      const from = work[column]!;
      work[row] = work[row]!.map((each, at) => each - factor * from[at]!);
    }
  }
  return { determinant, inverse: work.map((row) => row.slice(n)) };
}

function square(value: Value | undefined, context: CallContext): number[][] {
  const rows = context.matrix(value ?? null);
  if (rows.some((row) => row.length !== rows.length)) raise(BAD_VALUE);
  return asNumbers(rows);
}

const asNumbers = (rows: Matrix): number[][] =>
  rows.map((row) =>
    row.map((each) =>
      each instanceof FormulaError
        ? raise(each)
        : typeof each === 'number'
          ? each
          : raise(BAD_VALUE),
    ),
  );

/** The functions that a subtotal does, by their number. */
const SUBTOTALS = [
  'AVERAGE',
  'COUNT',
  'COUNTA',
  'MAX',
  'MIN',
  'PRODUCT',
  'STDEV.S',
  'STDEV.P',
  'SUM',
  'VAR.S',
  'VAR.P',
  'MEDIAN',
  'MODE.SNGL',
  'LARGE',
  'SMALL',
  'PERCENTILE.INC',
  'QUARTILE.INC',
  'PERCENTILE.EXC',
  'QUARTILE.EXC',
];

/** What a subtotal is made of: neither other subtotals nor, where asked, what stands in hidden rows or is an error. */
function parted(
  args: readonly Value[],
  context: CallContext,
  skip: { hidden: boolean; errors: boolean; subtotals: boolean },
): Matrix {
  const found: Scalar[] = [];
  for (const arg of args) {
    if (!isMany(arg)) {
      found.push(arg);
      continue;
    }
    const sheet = isRange(arg) ? arg.sheet : null;
    context.each(arg, (value, row, column) => {
      if (value === null || (skip.errors && value instanceof FormulaError)) return;
      if (sheet !== null) {
        if (skip.hidden && context.isRowHidden(sheet, row)) return;
        if (skip.subtotals && context.formulaAt(sheet, row, column)?.isSubtotal) return;
      }
      found.push(value);
    });
  }
  return [found];
}

function subtotal(which: number, parts: Matrix, rest: Value[], context: CallContext): Value {
  const name = SUBTOTALS[which - 1];
  const work = name === undefined ? undefined : (STATISTICS[name] ?? MATHEMATICS[name]);
  return work ? work.run([parts, ...rest], context) : BAD_VALUE;
}

const bits = (work: (a: bigint, b: bigint) => bigint) =>
  single(([x, y], context) => {
    const [a, b] = [number(x, context), number(y, context)];
    const isFit = (n: number) => Number.isInteger(n) && n >= 0 && n < 2 ** 48;
    return isFit(a) && isFit(b) ? Number(work(BigInt(a), BigInt(b))) : BAD_NUMBER;
  });

const shifted = (sign: 1 | -1) =>
  single(([x, by], context) => {
    const [a, b] = [number(x, context), whole32(by, context) * sign];
    if (!Number.isInteger(a) || a < 0 || a >= 2 ** 48 || Math.abs(b) > 53) return BAD_NUMBER;
    const result = b >= 0 ? a * 2 ** b : Math.floor(a / 2 ** -b);
    return result < 2 ** 48 ? result : BAD_NUMBER;
  });

/** A whole number of at most ten digits in another base; figures below zero as their two's complement. */
function fromBase(base: number) {
  return (said: string): number => {
    const digits = said.trim();
    const value = digits === '' ? 0 : Number.parseInt(digits, base);
    const isRight = new RegExp(
      base === 2 ? '^[01]*$' : base === 8 ? '^[0-7]*$' : '^[\\da-f]*$',
      'i',
    );
    if (!isRight.test(digits) || digits.length > 10) return raise(BAD_NUMBER);
    return value >= base ** 10 / 2 ? value - base ** 10 : value;
  };
}

function toBase(base: number) {
  return (value: number, places: number | null): string => {
    const limit = base ** 10 / 2;
    if (value < -limit || value >= limit) return raise(BAD_NUMBER);
    const digits = (value < 0 ? value + base ** 10 : value).toString(base).toUpperCase();
    if (places === null || value < 0) return digits;
    return digits.length > places || places > 10 ? raise(BAD_NUMBER) : digits.padStart(places, '0');
  };
}

const converted = (
  from: (said: string) => number,
  to: (n: number, places: number | null) => Value,
) =>
  single(([value, places], context) =>
    to(from(text(value, context)), places == null ? null : whole32(places, context)),
  );
const decimal = (said: string) => Math.trunc(must(toNumber(said)));
const [FROM_BIN, FROM_OCT, FROM_HEX] = [fromBase(2), fromBase(8), fromBase(16)];
const [TO_BIN, TO_OCT, TO_HEX] = [toBase(2), toBase(8), toBase(16)];
const TO_DEC = (value: number) => value;

const overPairs = (work: (x: number, y: number) => number) =>
  whole(([a, b], context) => sum(pairs(a, b, context).map(({ x, y }) => work(x, y))));

const hyperbolic = {
  SINH: Math.sinh,
  COSH: Math.cosh,
  TANH: Math.tanh,
  ASINH: Math.asinh,
  ACOSH: Math.acosh,
  ATANH: Math.atanh,
};
const circular = {
  SIN: Math.sin,
  COS: Math.cos,
  TAN: Math.tan,
  ASIN: Math.asin,
  ACOS: Math.acos,
  ATAN: Math.atan,
};
const inverse = (work: (x: number) => number) =>
  ofNumber((x) => {
    const below = work(x);
    return below === 0 ? DIVIDED_BY_ZERO : 1 / below;
  });

/** Arithmetic, rounding, angles, whole numbers, matrices, bits and bases. */
export const MATHEMATICS: Functions = {
  SUM: ofNumbers(sum),
  PRODUCT: ofNumbers((all) => (all.length === 0 ? 0 : finite(all.reduce((a, b) => a * b, 1)))),
  SUMSQ: ofNumbers((all) => sum(all.map((each) => each * each))),
  SUMX2MY2: overPairs((x, y) => x * x - y * y),
  SUMX2PY2: overPairs((x, y) => x * x + y * y),
  SUMXMY2: overPairs((x, y) => (x - y) ** 2),
  SUMPRODUCT: whole((args, context) => {
    const lists = args.map((arg) => context.matrix(arg));
    const [height, width] = [
      Math.max(...lists.map((list) => list.length)),
      Math.max(...lists.map((list) => list[0]?.length ?? 0)),
    ];
    const isWhole = (arg: Value) => isRange(arg);
    if (
      lists.some(
        (list, at) =>
          !isWhole(args[at]!) && (list.length !== height || (list[0]?.length ?? 0) !== width),
      )
    )
      return BAD_VALUE;
    const areas = args.flatMap((arg) => (isRange(arg) ? [arg.area] : []));
    const [first] = areas;
    if (
      first &&
      areas.some(
        (area) =>
          area.bottom - area.top !== first.bottom - first.top ||
          area.right - area.left !== first.right - first.left,
      )
    )
      return BAD_VALUE;
    const products: number[] = [];
    for (let row = 0; row < height; row++) {
      for (let column = 0; column < width; column++) {
        let product = 1;
        for (const list of lists) {
          const value = list[row]?.[column] ?? null;
          if (value instanceof FormulaError) return value;
          product *= typeof value === 'number' ? value : 0;
        }
        products.push(product);
      }
    }
    return sum(products);
  }),

  ABS: ofNumber(Math.abs),
  SIGN: ofNumber(Math.sign),
  INT: ofNumber((x) => Math.floor(Number(x.toPrecision(15)) === Math.round(x) ? Math.round(x) : x)),
  SQRT: ofNumber(Math.sqrt),
  SQRTPI: ofNumber((x) => Math.sqrt(x * Math.PI)),
  EXP: ofNumber(Math.exp),
  LN: ofNumber(Math.log),
  LOG10: ofNumber(Math.log10),
  LOG: single(([x, base], context) => {
    const [a, b] = [number(x, context), number(base, context, 10)];
    if (b === 10) return finite(Math.log10(a));
    if (b === 1) return DIVIDED_BY_ZERO;
    return finite(b === 2 ? Math.log2(a) : Math.log(a) / Math.log(b));
  }),
  PI: single(() => Math.PI),
  POWER: single(([x, y], context) => {
    const [a, b] = [number(x, context), number(y, context)];
    if (a === 0 && b === 0) return BAD_NUMBER;
    return a === 0 && b < 0 ? DIVIDED_BY_ZERO : finite(a ** b);
  }),
  MOD: single(([x, y], context) => {
    const [a, b] = [number(x, context), number(y, context)];
    return b === 0 ? DIVIDED_BY_ZERO : a - b * Math.floor(steps(a, b));
  }),
  QUOTIENT: single(([x, y], context) => {
    const [a, b] = [number(x, context), number(y, context)];
    return b === 0 ? DIVIDED_BY_ZERO : Math.trunc(a / b);
  }),
  ROUND: rounding(Math.round),
  ROUNDUP: rounding(Math.ceil),
  ROUNDDOWN: rounding(Math.floor),
  TRUNC: rounding(Math.floor),
  MROUND: single(([x, step], context) => {
    const [a, b] = [number(x, context), number(step, context)];
    if (b === 0) return 0;
    if (a * b < 0) return BAD_NUMBER;
    return Math.sign(a) * Math.round(Math.abs(steps(a, b))) * Math.abs(b);
  }),
  CEILING: toMultiple(Math.ceil, true),
  FLOOR: toMultiple(Math.floor, true),
  'CEILING.MATH': toMultipleOf(true),
  'FLOOR.MATH': toMultipleOf(false),
  'CEILING.PRECISE': alwaysUp(true),
  'FLOOR.PRECISE': alwaysUp(false),
  EVEN: ofNumber((x) => awayTo(x, 0)),
  ODD: ofNumber((x) => awayTo(x, 1)),

  ...Object.fromEntries(
    Object.entries({ ...circular, ...hyperbolic }).map(([name, work]) => [name, ofNumber(work)]),
  ),
  COT: inverse(Math.tan),
  SEC: inverse(Math.cos),
  CSC: inverse(Math.sin),
  COTH: inverse(Math.tanh),
  SECH: inverse(Math.cosh),
  CSCH: inverse(Math.sinh),
  ACOT: ofNumber((x) => Math.PI / 2 - Math.atan(x)),
  ATAN2: single(([x, y], context) => {
    const [a, b] = [number(x, context), number(y, context)];
    return a === 0 && b === 0 ? DIVIDED_BY_ZERO : Math.atan2(b, a);
  }),
  DEGREES: ofNumber((x) => (x * 180) / Math.PI),
  RADIANS: ofNumber((x) => (x * Math.PI) / 180),

  FACT: ofNumber((x) => factorial(x)),
  FACTDOUBLE: ofNumber((x) => (x === -1 ? 1 : factorial(x, 2))),
  COMBIN: ofTwo(combinations),
  COMBINA: ofTwo((n, k) => (n === 0 && k === 0 ? 1 : combinations(n + k - 1, k))),
  PERMUT: ofTwo(permutations),
  PERMUTATIONA: ofTwo((n, k) => (n < 0 || k < 0 ? BAD_NUMBER : finite(n ** k))),
  MULTINOMIAL: ofNumbers((all) => {
    const parts = wholes(all);
    let result = 1;
    let total = 0;
    for (const part of parts) {
      total += part;
      result *= must(combinations(total, part));
    }
    return finite(result);
  }),
  GCD: ofNumbers((all) => wholes(all).reduce(commonDivisor, 0)),
  LCM: ofNumbers((all) =>
    finite(
      wholes(all).reduce((a, b) => (a === 0 || b === 0 ? 0 : (a / commonDivisor(a, b)) * b), 1),
    ),
  ),
  SERIESSUM: wholeAt([3], ([x, n, m, factors], context) => {
    const [base, from, step] = [number(x, context), number(n, context), number(m, context)];
    return finite(
      sum(numbers([factors ?? null], context).map((each, at) => each * base ** (from + at * step))),
    );
  }),
  ROMAN: single(([n], context) => roman(number(n, context))),
  ARABIC: single(([said], context) => arabic(text(said, context))),
  BASE: single(([n, base, length], context) => {
    const [value, radix] = [whole32(n, context), whole32(base, context)];
    if (value < 0 || radix < 2 || radix > 36) return BAD_NUMBER;
    return value
      .toString(radix)
      .toUpperCase()
      .padStart(whole32(length, context, 0), '0');
  }),
  DECIMAL: single(([said, base], context) => {
    const [digits, radix] = [text(said, context).trim().toLowerCase(), whole32(base, context)];
    if (radix < 2 || radix > 36) return BAD_NUMBER;
    const isRight = [...digits].every((digit) => Number.parseInt(digit, 36) < radix);
    return isRight && digits !== '' ? Number.parseInt(digits, radix) : BAD_NUMBER;
  }),

  MMULT: whole(([a, b], context) => {
    const [left, right] = [
      asNumbers(context.matrix(a ?? null)),
      asNumbers(context.matrix(b ?? null)),
    ];
    if (left[0]!.length !== right.length) return BAD_VALUE;
    return left.map((row) =>
      right[0]!.map((_, column) => sum(row.map((each, at) => each * right[at]![column]!))),
    );
  }),
  MDETERM: whole(([a], context) => solved(square(a, context)).determinant),
  MINVERSE: whole(([a], context) => solved(square(a, context)).inverse ?? BAD_NUMBER),
  MUNIT: single(([n], context) => {
    const size = whole32(n, context);
    if (size < 1 || size > 1_000) return BAD_VALUE;
    return Array.from({ length: size }, (_, row) =>
      Array.from({ length: size }, (__, column) => (row === column ? 1 : 0)),
    );
  }),

  SUBTOTAL: wholeAt(
    Array.from({ length: 254 }, (_, at) => at + 1),
    ([which, ...args], context) => {
      const kind = whole32(which, context);
      const isVisible = kind > 100;
      if ((isVisible ? kind - 100 : kind) > 11) return BAD_VALUE;
      const skip = { hidden: isVisible, errors: false, subtotals: true };
      return subtotal(isVisible ? kind - 100 : kind, parted(args, context, skip), [], context);
    },
  ),
  AGGREGATE: wholeAt(
    Array.from({ length: 254 }, (_, at) => at + 2),
    ([which, options, ...args], context) => {
      const [kind, option] = [whole32(which, context), whole32(options, context)];
      const skip = {
        hidden: [1, 3, 5, 7].includes(option),
        errors: [2, 3, 6, 7].includes(option),
        subtotals: option < 4,
      };
      const isOfOne = kind >= 14;
      const parts = parted(isOfOne ? args.slice(0, 1) : args, context, skip);
      return subtotal(kind, parts, isOfOne ? args.slice(1) : [], context);
    },
  ),

  BITAND: bits((a, b) => a & b),
  BITOR: bits((a, b) => a | b),
  BITXOR: bits((a, b) => a ^ b),
  BITLSHIFT: shifted(1),
  BITRSHIFT: shifted(-1),
  BIN2DEC: converted(FROM_BIN, TO_DEC),
  BIN2OCT: converted(FROM_BIN, TO_OCT),
  BIN2HEX: converted(FROM_BIN, TO_HEX),
  OCT2DEC: converted(FROM_OCT, TO_DEC),
  OCT2BIN: converted(FROM_OCT, TO_BIN),
  OCT2HEX: converted(FROM_OCT, TO_HEX),
  HEX2DEC: converted(FROM_HEX, TO_DEC),
  HEX2BIN: converted(FROM_HEX, TO_BIN),
  HEX2OCT: converted(FROM_HEX, TO_OCT),
  DEC2BIN: converted(decimal, TO_BIN),
  DEC2OCT: converted(decimal, TO_OCT),
  DEC2HEX: converted(decimal, TO_HEX),
  DELTA: single(([a, b], context) => Number(number(a, context) === number(b, context, 0))),
  GESTEP: single(([a, b], context) => Number(number(a, context) >= number(b, context, 0))),
};
MATHEMATICS['ISO.CEILING'] = MATHEMATICS['CEILING.PRECISE']!;

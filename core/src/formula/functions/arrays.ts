import {
  BAD_VALUE,
  compareScalars,
  FormulaError,
  type Matrix,
  NOT_AVAILABLE,
  type Scalar,
  toTruth,
  type Value,
} from '../value.ts';
import {
  type CallContext,
  type Functions,
  must,
  number,
  numberOr,
  raise,
  single,
  truth,
  whole,
  whole32,
  wholeAt,
} from './call.ts';
import { turned } from './lookup.ts';

/** What an array without anything in it is. */
const NOTHING = new FormulaError('#CALC!');
const MAX_CELLS = 1_000_000;

/** Values in the order of sorted columns: numbers, texts, truth values, errors, empty cells last. */
function order(a: Scalar, b: Scalar): number {
  if (a === null || b === null) return Number(a === null) - Number(b === null);
  const [x, y] = [a instanceof FormulaError, b instanceof FormulaError];
  if (x || y) return Number(x) - Number(y);
  return compareScalars(a, b) as number;
}

const keyOf = (value: Scalar) =>
  value instanceof FormulaError
    ? `!${value.code}`
    : `${typeof value} ${String(value).toLowerCase()}`;

function by<T>(items: readonly T[], compare: (a: T, b: T) => number): T[] {
  return [...items].sort(compare);
}

const part = (value: Value | undefined, context: CallContext) => context.matrix(value ?? null);

/** `count` from the front, or from the end below 0. */
function some<T>(items: readonly T[], count: number | null, drops: boolean): T[] {
  if (count === null) return [...items];
  const kept = drops
    ? count >= 0
      ? items.slice(count)
      : items.slice(0, count)
    : count >= 0
      ? items.slice(0, count)
      : items.slice(count);
  return kept.length === 0 ? raise(NOTHING) : kept;
}

const taking = (drops: boolean) =>
  wholeAt([0], ([array, rows, columns], context) => {
    const count = (value: Value | undefined) => (value == null ? null : whole32(value, context));
    const kept = some(part(array, context), count(rows), drops);
    return turned(some(turned(kept), count(columns), drops));
  });

const choosing = (isAcross: boolean) =>
  whole(([array, ...places], context) => {
    const lines = isAcross ? turned(part(array, context)) : part(array, context);
    const chosen = places
      .flatMap((each) => context.matrix(each).flat())
      .map((each) => {
        const at = Math.trunc(number(each, context));
        const line = at > 0 ? lines[at - 1] : lines[lines.length + at];
        return at === 0 || !line ? raise(BAD_VALUE) : line;
      });
    return isAcross ? turned(chosen) : chosen;
  });

const stacking = (isAcross: boolean) =>
  whole((args, context) => {
    const parts = args
      .map((arg) => part(arg, context))
      .map((each) => (isAcross ? turned(each) : each));
    const width = Math.max(...parts.map((each) => each[0]?.length ?? 0));
    const rows = parts.flatMap((each) =>
      each.map((row) =>
        Array.from(
          { length: width },
          (_, at): Scalar => (at < row.length ? row[at]! : NOT_AVAILABLE),
        ),
      ),
    );
    return isAcross ? turned(rows) : rows;
  });

const inOneLine = (isAcross: boolean) =>
  wholeAt([0], ([array, ignore, byColumn], context) => {
    const matrix = part(array, context);
    const skips = numberOr(ignore, context, 0);
    const values = (truth(byColumn, context) ? turned(matrix) : matrix).flat().filter((value) => {
      if (skips & 1 && value === null) return false;
      return !(skips & 2 && value instanceof FormulaError);
    });
    if (values.length === 0) return NOTHING;
    return isAcross ? [values] : values.map((value) => [value]);
  });

const wrapping = (isAcross: boolean) =>
  wholeAt([0], ([array, count, pad], context) => {
    const values = part(array, context).flat();
    const width = whole32(count, context);
    if (width < 1) return new FormulaError('#NUM!');
    const filler = pad === undefined ? NOT_AVAILABLE : context.scalar(pad);
    const rows: Matrix = [];
    for (let at = 0; at < values.length; at += width) {
      rows.push(
        Array.from(
          { length: width },
          (_, n): Scalar => (at + n < values.length ? values[at + n]! : filler),
        ),
      );
    }
    return isAcross ? rows : turned(rows);
  });

/** Arrays that make arrays. */
export const ARRAYS: Functions = {
  FILTER: wholeAt([0, 1, 2], ([array, tests, otherwise], context) => {
    const matrix = part(array, context);
    const wanted = part(tests, context);
    const isDown = (wanted[0]?.length ?? 0) === 1 && wanted.length === matrix.length;
    const isAcross = wanted.length === 1 && (wanted[0]?.length ?? 0) === (matrix[0]?.length ?? 0);
    if (!isDown && !isAcross) return BAD_VALUE;
    const isKept = wanted.flat().map((value) => must(toTruth(value)));
    const kept = isDown
      ? matrix.filter((_, row) => isKept[row])
      : matrix.map((row) => row.filter((_, column) => isKept[column]));
    if (kept.length > 0 && (kept[0]?.length ?? 0) > 0) return kept;
    return otherwise ?? NOTHING;
  }),
  SORT: wholeAt([0, 1, 2], ([array, index, direction, byColumn], context) => {
    const isAcross = truth(byColumn, context);
    const matrix = isAcross ? turned(part(array, context)) : part(array, context);
    const columns =
      index == null
        ? [1]
        : context
            .matrix(index)
            .flat()
            .map((each) => number(each, context));
    const ways =
      direction == null
        ? [1]
        : context
            .matrix(direction)
            .flat()
            .map((each) => number(each, context));
    if (columns.some((column) => column < 1 || column > (matrix[0]?.length ?? 0))) return BAD_VALUE;
    const sorted = by(matrix, (a, b) =>
      compared(
        columns.map((column) => [a[column - 1]!, b[column - 1]!]),
        ways,
      ),
    );
    return isAcross ? turned(sorted) : sorted;
  }),
  SORTBY: whole(([array, ...others], context) => {
    const matrix = part(array, context);
    const keys: Scalar[][] = [];
    const ways: number[] = [];
    for (let at = 0; at < others.length; at += 2) {
      keys.push(part(others[at], context).flat());
      ways.push(numberOr(others[at + 1], context, 1));
    }
    const length = keys[0]?.length ?? 0;
    const isAcross = matrix.length !== length && matrix[0]?.length === length;
    const lines = isAcross ? turned(matrix) : matrix;
    if (keys.some((key) => key.length !== lines.length)) return BAD_VALUE;
    const sorted = by([...lines.keys()], (a, b) =>
      compared(
        keys.map((key) => [key[a]!, key[b]!]),
        ways,
      ),
    ).map((at) => lines[at]!);
    return isAcross ? turned(sorted) : sorted;
  }),
  UNIQUE: wholeAt([0], ([array, byColumn, onlyOnce], context) => {
    const isAcross = truth(byColumn, context);
    const matrix = isAcross ? turned(part(array, context)) : part(array, context);
    const counts = new Map<string, { row: Scalar[]; count: number }>();
    for (const row of matrix) {
      const key = row.map(keyOf).join('\n');
      const known = counts.get(key);
      if (known) known.count++;
      else counts.set(key, { row, count: 1 });
    }
    const isOnce = truth(onlyOnce, context);
    const kept = [...counts.values()].filter(({ count }) => !isOnce || count === 1);
    if (kept.length === 0) return NOTHING;
    const rows = kept.map(({ row }) => row);
    return isAcross ? turned(rows) : rows;
  }),
  SEQUENCE: single(([rows, columns, start, step], context) => {
    const [height, width] = [
      Math.trunc(numberOr(rows, context, 1)),
      Math.trunc(numberOr(columns, context, 1)),
    ];
    if (height < 1 || width < 1 || height * width > MAX_CELLS) return BAD_VALUE;
    const [from, by] = [numberOr(start, context, 1), numberOr(step, context, 1)];
    return Array.from({ length: height }, (_, row) =>
      Array.from({ length: width }, (__, column) => from + (row * width + column) * by),
    );
  }),
  TAKE: taking(false),
  DROP: taking(true),
  CHOOSEROWS: choosing(false),
  CHOOSECOLS: choosing(true),
  VSTACK: stacking(false),
  HSTACK: stacking(true),
  TOCOL: inOneLine(false),
  TOROW: inOneLine(true),
  WRAPROWS: wrapping(true),
  WRAPCOLS: wrapping(false),
  EXPAND: wholeAt([0], ([array, rows, columns, pad], context) => {
    const matrix = part(array, context);
    const height = Math.trunc(numberOr(rows, context, matrix.length));
    const width = Math.trunc(numberOr(columns, context, matrix[0]?.length ?? 0));
    if (height < matrix.length || width < (matrix[0]?.length ?? 0) || height * width > MAX_CELLS)
      return BAD_VALUE;
    const filler = pad === undefined ? NOT_AVAILABLE : context.scalar(pad);
    return Array.from({ length: height }, (_, row) =>
      Array.from({ length: width }, (__, column): Scalar => {
        const line = matrix[row];
        return line && column < line.length ? line[column]! : filler;
      }),
    );
  }),
};

function compared(pairs: readonly (readonly [Scalar, Scalar])[], ways: readonly number[]): number {
  for (const [at, [a, b]] of pairs.entries()) {
    const way = ways[at] ?? ways[0] ?? 1;
    const found = order(a, b);
    // Empty cells come last whichever way.
    if (found !== 0) return a === null || b === null ? found : found * way;
  }
  return 0;
}

import type { Area } from '../../sheet/address.ts';
import type { Line } from '../line.ts';
import {
  BAD_NUMBER,
  BAD_VALUE,
  FormulaError,
  isMatrix,
  isRange,
  type Matrix,
  type RangeValue,
  type Scalar,
  toNumber,
  toText,
  toTruth,
  type Value,
} from '../value.ts';

/** What a function may ask of the evaluation it is called in. */
export interface CallContext {
  /** The cell that the formula stands in. */
  sheet: string;
  row: number;
  column: number;
  /** Serial number of this moment. */
  now: number;
  /** The one value of an argument: of a range the one beside the formula, of several the first. */
  scalar(value: Value): Scalar;
  /** All values of an argument as rows. */
  matrix(value: Value): Matrix;
  /** Visits all values of an argument row by row; empty cells behind the last filled one are left out. */
  each(value: Value, visit: (value: Scalar, row: number, column: number) => void): void;
  /** A row or column of an argument in which something is looked up. */
  line(value: Value, index: number, isAcross: boolean): Line;
  /** The range that a text names; null where it names none. */
  rangeNamed(text: string): RangeValue | null;
  /** Whether a cell has a formula, and whether that is a subtotal; nothing where that is not known. */
  formulaAt(
    sheet: string,
    row: number,
    column: number,
  ): { isSubtotal: boolean; text: string } | null;
  isRowHidden(sheet: string, row: number): boolean;
  sheetNames: readonly string[];
}

export type Fn = (args: Value[], context: CallContext) => Value;

/** A function: what it does, and which of its arguments (counted from 0) it takes whole, others being one value each. */
export interface FunctionOf {
  run: Fn;
  ranges: 'all' | readonly number[];
}

export type Functions = Record<string, FunctionOf>;

/** A function whose arguments are one value each. */
export const single = (run: Fn): FunctionOf => ({ run, ranges: [] });
/** A function that takes ranges and arrays whole, in every argument. */
export const whole = (run: Fn): FunctionOf => ({ run, ranges: 'all' });
/** A function that takes ranges and arrays whole in these arguments. */
export const wholeAt = (positions: readonly number[], run: Fn): FunctionOf => ({
  run,
  ranges: positions,
});

/** Thrown within functions and caught where they are called: an error value ends a function at once. */
export class Raised extends Error {
  constructor(readonly error: FormulaError) {
    super(error.code);
  }
}

export const raise = (error: FormulaError): never => {
  throw new Raised(error);
};

export function must<T>(value: T | FormulaError): T {
  return value instanceof FormulaError ? raise(value) : value;
}

/** An argument as a number; `absent` where it is not given. */
export const number = (value: Value | undefined, context: CallContext, absent?: number): number =>
  value === undefined ? (absent ?? raise(BAD_VALUE)) : must(toNumber(context.scalar(value)));

/** The same for an argument that may be left empty between commas, too. */
export const numberOr = (value: Value | undefined, context: CallContext, absent: number): number =>
  value == null ? absent : number(value, context);

export const whole32 = (value: Value | undefined, context: CallContext, absent?: number): number =>
  Math.trunc(number(value, context, absent));

export const text = (value: Value | undefined, context: CallContext, absent?: string): string =>
  value === undefined ? (absent ?? raise(BAD_VALUE)) : must(toText(context.scalar(value)));

export const truth = (value: Value | undefined, context: CallContext, absent = false): boolean =>
  value == null ? absent : must(toTruth(context.scalar(value)));

/** A result that is a number, or the error for one that is none. */
export const finite = (result: number): number | FormulaError =>
  Number.isFinite(result) ? result : BAD_NUMBER;

export const isMany = (value: Value | undefined): value is RangeValue | Matrix =>
  value !== undefined && (isRange(value) || isMatrix(value));

/** Numbers as aggregates see them: within ranges only numbers count, given directly texts and truths do too. */
export function numbers(args: readonly Value[], context: CallContext): number[] {
  const found: number[] = [];
  for (const arg of args) {
    if (isMany(arg)) {
      context.each(arg, (value) => {
        if (typeof value === 'number') found.push(value);
        else if (value instanceof FormulaError) raise(value);
      });
    } else found.push(must(toNumber(arg)));
  }
  return found;
}

/** Numbers of the functions whose names end in A: within ranges truths are 1 and 0 and texts are 0. */
export function numbersOfAll(args: readonly Value[], context: CallContext): number[] {
  const found: number[] = [];
  for (const arg of args) {
    if (!isMany(arg)) {
      found.push(must(toNumber(arg)));
      continue;
    }
    context.each(arg, (value) => {
      if (value instanceof FormulaError) raise(value);
      else if (value !== null) found.push(typeof value === 'string' ? 0 : Number(value));
    });
  }
  return found;
}

/** All values of the arguments, one after the other; empty cells behind the last filled one are left out. */
export function valuesOf(args: readonly Value[], context: CallContext): Scalar[] {
  const found: Scalar[] = [];
  for (const arg of args) {
    if (isMany(arg)) context.each(arg, (value) => void found.push(value));
    else found.push(arg);
  }
  return found;
}

/** Pairs of numbers of two arguments of one size; pairs of which one is no number are left out. */
export function pairs(
  first: Value | undefined,
  second: Value | undefined,
  context: CallContext,
): { x: number; y: number }[] {
  const [a, b] = [context.matrix(first ?? null).flat(), context.matrix(second ?? null).flat()];
  if (a.length !== b.length) raise(new FormulaError('#N/A'));
  return a.flatMap((x, at) => {
    const y = b[at]!;
    if (x instanceof FormulaError) raise(x);
    if (y instanceof FormulaError) raise(y);
    return typeof x === 'number' && typeof y === 'number' ? [{ x, y }] : [];
  });
}

export const rowsOf = ({ top, bottom }: Area) => bottom - top + 1;
export const columnsOf = ({ left, right }: Area) => right - left + 1;

/** A function of one number. */
export const ofNumber = (work: (x: number) => number | FormulaError): FunctionOf =>
  single((args, context) => {
    const result = work(number(args[0], context));
    return result instanceof FormulaError ? result : finite(result);
  });

/** A function of all numbers of its arguments. */
export const ofNumbers = (work: (all: number[]) => number | FormulaError): FunctionOf =>
  whole((args, context) => work(numbers(args, context)));

/** The sum, with what each step loses kept apart (Neumaier's summation), so that long columns add up as on paper. */
export function sum(all: readonly number[]): number {
  let total = 0;
  let lost = 0;
  for (const each of all) {
    const next = total + each;
    lost += Math.abs(total) >= Math.abs(each) ? total - next + each : each - next + total;
    total = next;
  }
  return Number.isFinite(total) ? total + lost : total;
}

import type { Area } from '../sheet/address.ts';
import { dateIn } from './date-text.ts';

/** An error value of a formula, such as `#N/A`. */
export class FormulaError {
  constructor(readonly code: string) {}
}

export const NOT_AVAILABLE = new FormulaError('#N/A');
export const BAD_VALUE = new FormulaError('#VALUE!');
export const DIVIDED_BY_ZERO = new FormulaError('#DIV/0!');
export const BAD_NUMBER = new FormulaError('#NUM!');
export const BAD_REFERENCE = new FormulaError('#REF!');
export const BAD_NAME = new FormulaError('#NAME?');

/** One value; null is an empty cell. Dates are serial numbers of the 1900 system. */
export type Scalar = number | string | boolean | FormulaError | null;

/** A range of cells that has not been looked at yet. */
export interface RangeValue {
  sheet: string;
  area: Area;
}

/** Rows of values. */
export type Matrix = Scalar[][];

/** What an expression gives. */
export type Value = Scalar | RangeValue | Matrix;

/** Where formulas find the values of cells. */
export interface CellValues {
  get(sheet: string, row: number, column: number): Scalar;
  /** The part of `area` outside which the sheet has no values at all, null when nothing of it has. */
  filled(sheet: string, area: Area): Area | null;
  /** Calls back for every cell of `area` that has a value: never for more cells than there are values. */
  each(
    sheet: string,
    area: Area,
    visit: (value: Scalar, row: number, column: number) => void,
  ): void;
}

export function isRange(value: Value): value is RangeValue {
  return typeof value === 'object' && value !== null && 'area' in value;
}

export function isMatrix(value: Value): value is Matrix {
  return Array.isArray(value);
}

/** The value as a number: empty is 0, a text must read as one (OpenFormula, ODF 1.3 Part 4, 6.3.5). */
export function toNumber(value: Scalar): number | FormulaError {
  if (value instanceof FormulaError) return value;
  if (typeof value === 'number') return value;
  if (value === null) return 0;
  if (typeof value === 'boolean') return value ? 1 : 0;
  const text = value.trim();
  if (/^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(text)) return Number(text);
  if (/^[+-]?(\d+\.?\d*|\.\d+)%$/.test(text)) return Number(text.slice(0, -1)) / 100;
  return dateIn(text) ?? BAD_VALUE;
}

/** The value as a text, as joining texts shows it. */
export function toText(value: Scalar): string | FormulaError {
  if (value instanceof FormulaError) return value;
  if (value === null) return '';
  if (typeof value === 'boolean') return value ? 'TRUE' : 'FALSE';
  if (typeof value === 'number') return String(Number(value.toPrecision(15)));
  return value;
}

/** The value as a truth value: any number but 0 is true. */
export function toTruth(value: Scalar): boolean | FormulaError {
  if (value instanceof FormulaError) return value;
  if (typeof value === 'string') {
    if (/^true$/i.test(value)) return true;
    return /^false$/i.test(value) ? false : BAD_VALUE;
  }
  return Boolean(value);
}

const rank = (value: Scalar) =>
  typeof value === 'boolean' ? 2 : typeof value === 'string' ? 1 : 0;

/**
 * How two values stand to each other: below 0, 0, above 0. Numbers come before texts and texts before truth values;
 * letters are compared without case; an empty cell is 0, empty text or false, whatever it meets (common practice).
 */
export function compareScalars(a: Scalar, b: Scalar): number | FormulaError {
  if (a instanceof FormulaError) return a;
  if (b instanceof FormulaError) return b;
  const [x, y] = [a ?? emptyLike(b), b ?? emptyLike(a)];
  if (rank(x) !== rank(y)) return rank(x) - rank(y);
  if (typeof x === 'string' && typeof y === 'string') {
    const [left, right] = [x.toLowerCase(), y.toLowerCase()];
    return left < right ? -1 : left > right ? 1 : 0;
  }
  const [left, right] = [Number(x), Number(y)];
  // Numbers that differ only behind their fifteenth digit are the same (common practice): 0.1+0.2 is 0.3.
  const isNear = left !== right && Math.abs(left - right) < Math.abs(left) * 1e-14;
  return isNear && left.toPrecision(15) === right.toPrecision(15) ? 0 : left - right;
}

function emptyLike(other: Scalar): number | string | boolean {
  return typeof other === 'string' ? '' : typeof other === 'boolean' ? false : 0;
}

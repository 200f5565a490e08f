import { type Area, MAX_COLUMNS, MAX_ROWS } from '../../sheet/address.ts';
import type { Line } from '../line.ts';
import {
  BAD_REFERENCE,
  BAD_VALUE,
  compareScalars,
  FormulaError,
  isRange,
  type Matrix,
  NOT_AVAILABLE,
  type RangeValue,
  type Scalar,
  type Value,
} from '../value.ts';
import { wildcardTest } from '../wildcard.ts';
import {
  type CallContext,
  columnsOf,
  type Functions,
  must,
  number,
  numberOr,
  raise,
  rowsOf,
  single,
  text,
  truth,
  whole,
  whole32,
  wholeAt,
} from './call.ts';

/** A row or column of values. */
function lineOf(value: Value, context: CallContext): Line {
  const { rows, columns } = sizeOf(value, context);
  if (rows > 1 && columns > 1) return raise(NOT_AVAILABLE);
  return context.line(value, 0, columns > 1);
}

const isLike = (a: Scalar, b: Scalar) => typeof a === typeof b && compareScalars(a, b) === 0;

/** Whether a value is the one that is looked for; texts may be patterns. */
function sameAs(key: Scalar, isPattern: boolean): (value: Scalar) => boolean {
  if (typeof key === 'string') {
    if (isPattern && /[*?~]/.test(key)) {
      const test = wildcardTest(key);
      return (value) => typeof value === 'string' && test(value);
    }
    const wanted = key.toLowerCase();
    return (value) => typeof value === 'string' && value.toLowerCase() === wanted;
  }
  const wanted = key ?? 0;
  return (value) => value !== null && isLike(value, wanted);
}

/**
 * Where `key` stands in a line that rises (or falls): the last value not above (not below) it, found by halving; values of
 * another kind are passed over (common practice).
 */
function placeSorted(key: Scalar, line: readonly Scalar[], isFalling: boolean): number {
  const wanted = key ?? 0;
  let [low, high] = [0, line.length - 1];
  let found = -1;
  while (low <= high) {
    let middle = (low + high) >> 1;
    // The next one of the same kind, to the right and else to the left.
    let at = middle;
    while (at <= high && !isKind(line[at]!, wanted)) at++;
    if (at > high) {
      at = middle - 1;
      while (at >= low && !isKind(line[at]!, wanted)) at--;
      if (at < low) break;
      middle = at;
    }
    const order = must(compareScalars(line[at]!, wanted));
    if (isFalling ? order >= 0 : order <= 0) {
      found = at;
      low = at + 1;
    } else high = middle - 1;
  }
  return found < 0 ? raise(NOT_AVAILABLE) : found;
}

const isKind = (value: Scalar, like: Scalar) => value !== null && typeof value === typeof like;

/** Where `key` stands in a line: exactly (0), in a rising line (1), in a falling one (-1). */
function place(key: Scalar, line: Line, how: number): number {
  if (key instanceof FormulaError) return raise(key);
  if (how !== 0) return placeSorted(key, line.values, how < 0);
  const at = firstOf(key ?? 0, line, true);
  return at < 0 ? raise(NOT_AVAILABLE) : at;
}

function firstOf(key: number | string | boolean, line: Line, isPattern: boolean): number {
  const isPlain = !isPattern || typeof key !== 'string' || !/[*?~]/.test(key);
  return isPlain ? line.firstOf(key) : line.values.findIndex(sameAs(key, true));
}

function lookUp(isAcross: boolean) {
  return wholeAt([1], ([wanted, table, index, isSorted], context) => {
    const key = context.scalar(wanted ?? null);
    const other = whole32(index, context) - 1;
    if (other < 0) return BAD_VALUE;
    const size = sizeOf(table ?? null, context);
    if (other >= (isAcross ? size.rows : size.columns)) return BAD_REFERENCE;
    const line = context.line(table ?? null, 0, isAcross);
    const at = place(key, line, truth(isSorted, context, isSorted === undefined) ? 1 : 0);
    return isAcross
      ? pick(table ?? null, other + 1, at + 1, context)
      : pick(table ?? null, at + 1, other + 1, context);
  });
}

function sizeOf(value: Value, context: CallContext): { rows: number; columns: number } {
  if (isRange(value)) return { rows: rowsOf(value.area), columns: columnsOf(value.area) };
  const matrix = context.matrix(value);
  return { rows: matrix.length, columns: matrix[0]?.length ?? 0 };
}

/** Where a value stands, in one of the newer ways: 0 exactly, -1 or the next smaller, 1 or the next larger, 2 by pattern. */
function placeNear(key: Scalar, line: Line, how: number, order: number): number {
  if (key instanceof FormulaError) return raise(key);
  if (![0, -1, 1, 2].includes(how) || ![1, -1, 2, -2].includes(order)) return raise(BAD_VALUE);
  const { values } = line;
  const isSame = key === null ? (value: Scalar) => value === null : sameAs(key, how === 2);
  const exact =
    order === -1
      ? values.findLastIndex(isSame)
      : key === null
        ? values.findIndex(isSame)
        : firstOf(key, line, how === 2);
  if (exact >= 0) return exact;
  if (how !== -1 && how !== 1) return raise(NOT_AVAILABLE);
  let best = -1;
  for (const [at, value] of values.entries()) {
    if (!isKind(value, key)) continue;
    const side = compareScalars(value, key) as number;
    if (how < 0 ? side > 0 : side < 0) continue;
    if (best >= 0) {
      const against = compareScalars(value, values[best]!) as number;
      const isNearer = how < 0 ? against > 0 : against < 0;
      if (!isNearer && !(against === 0 && order < 0)) continue;
    }
    best = at;
  }
  return best < 0 ? raise(NOT_AVAILABLE) : best;
}

const isOn = ({ top, left, bottom, right }: Area) =>
  top >= 1 && left >= 1 && bottom <= MAX_ROWS && right <= MAX_COLUMNS;

/** A row, a column, a cell or all of an array. */
function pick(range: Value, row: number, column: number, context: CallContext): Value {
  if (row < 0 || column < 0) return BAD_VALUE;
  const { rows, columns } = sizeOf(range, context);
  if (row > rows || column > columns) return BAD_REFERENCE;
  if (isRange(range)) {
    const { top, left, bottom, right } = range.area;
    const area: Area = {
      top: row === 0 ? top : top + row - 1,
      bottom: row === 0 ? bottom : top + row - 1,
      left: column === 0 ? left : left + column - 1,
      right: column === 0 ? right : left + column - 1,
    };
    return { sheet: range.sheet, area };
  }
  const matrix = context.matrix(range);
  const lines = row === 0 ? matrix : [matrix[row - 1]!];
  const found = column === 0 ? lines : lines.map((line) => [line[column - 1] ?? null]);
  return found.length === 1 && found[0]!.length === 1 ? found[0]![0]! : found;
}

/** Looking things up, and ranges by their place. `CHOOSE` is the evaluator's own. */
export const LOOK_UP: Functions = {
  VLOOKUP: lookUp(false),
  HLOOKUP: lookUp(true),
  LOOKUP: wholeAt([1, 2], ([wanted, range, target], context) => {
    const key = context.scalar(wanted ?? null);
    const { rows, columns } = sizeOf(range ?? null, context);
    const isAcross = columns > rows;
    const at = place(key, context.line(range ?? null, 0, isAcross), 1);
    if (target !== undefined) return lineOf(target, context).values[at] ?? null;
    return isAcross
      ? pick(range ?? null, rows, at + 1, context)
      : pick(range ?? null, at + 1, columns, context);
  }),
  MATCH: wholeAt([1], ([wanted, range, how], context) => {
    const key = context.scalar(wanted ?? null);
    return place(key, lineOf(range ?? null, context), Math.sign(number(how, context, 1))) + 1;
  }),
  XMATCH: wholeAt([1], ([wanted, range, how, order], context) => {
    const line = lineOf(range ?? null, context);
    return (
      placeNear(
        context.scalar(wanted ?? null),
        line,
        numberOr(how, context, 0),
        numberOr(order, context, 1),
      ) + 1
    );
  }),
  XLOOKUP: wholeAt([1, 2, 3], ([wanted, range, target, otherwise, how, order], context) => {
    const line = lineOf(range ?? null, context);
    const key = context.scalar(wanted ?? null);
    let at: number;
    try {
      at = placeNear(key, line, numberOr(how, context, 0), numberOr(order, context, 1));
    } catch (error) {
      if (otherwise == null) throw error;
      return otherwise;
    }
    const size = sizeOf(range ?? null, context);
    const isAcross = size.rows === 1 && size.columns > 1;
    const found = pick(target ?? null, isAcross ? 0 : at + 1, isAcross ? at + 1 : 0, context);
    return found;
  }),
  INDEX: wholeAt([0], ([range, row, column], context) => {
    const size = sizeOf(range ?? null, context);
    let [r, c] = [Math.trunc(numberOr(row, context, 0)), Math.trunc(numberOr(column, context, 0))];
    if (column === undefined && size.rows === 1) [r, c] = [0, r];
    if (column === undefined && size.rows === 1 && size.columns === 1) [r, c] = [c, 0];
    return pick(range ?? null, r, c, context);
  }),
  OFFSET: wholeAt([0], ([range, rows, columns, height, width], context) => {
    if (range === undefined || !isRange(range)) return BAD_VALUE;
    const { area, sheet } = range;
    const [down, across] = [whole32(rows, context), whole32(columns, context)];
    const [h, w] = [
      Math.trunc(numberOr(height, context, rowsOf(area))),
      Math.trunc(numberOr(width, context, columnsOf(area))),
    ];
    if (h === 0 || w === 0) return BAD_REFERENCE;
    const [top, left] = [
      area.top + down + Math.min(0, h + 1),
      area.left + across + Math.min(0, w + 1),
    ];
    const moved = { top, left, bottom: top + Math.abs(h) - 1, right: left + Math.abs(w) - 1 };
    return isOn(moved) ? { sheet, area: moved } : BAD_REFERENCE;
  }),
  INDIRECT: single(([value, isA1], context) =>
    truth(isA1, context, true)
      ? (context.rangeNamed(text(value, context)) ?? BAD_REFERENCE)
      : BAD_REFERENCE,
  ),
  ROW: wholeAt([0], ([value], { row }) => {
    if (value === undefined) return row;
    if (!isRange(value)) return BAD_VALUE;
    return lineOfPlaces(value, true);
  }),
  COLUMN: wholeAt([0], ([value], { column }) => {
    if (value === undefined) return column;
    if (!isRange(value)) return BAD_VALUE;
    return lineOfPlaces(value, false);
  }),
  ROWS: whole(([value], context) => sizeOf(value ?? null, context).rows),
  COLUMNS: whole(([value], context) => sizeOf(value ?? null, context).columns),
  AREAS: whole(([value]) => (value !== undefined && isRange(value) ? 1 : BAD_VALUE)),
  TRANSPOSE: whole(([value], context) => turned(context.matrix(value ?? null))),
  FORMULATEXT: wholeAt([0], ([value], context) => {
    if (value === undefined || !isRange(value)) return BAD_VALUE;
    const known = context.formulaAt(value.sheet, value.area.top, value.area.left);
    return known ? `=${known.text}` : NOT_AVAILABLE;
  }),
};

function lineOfPlaces({ area }: RangeValue, isDown: boolean): Value {
  const [from, to] = isDown ? [area.top, area.bottom] : [area.left, area.right];
  if (from === to) return from;
  if (to - from > 1_000_000) return raise(BAD_VALUE);
  const places = Array.from({ length: to - from + 1 }, (_, at) => from + at);
  return isDown ? places.map((each) => [each]) : [places];
}

export function turned(matrix: Matrix): Matrix {
  return (matrix[0] ?? []).map((_, column) => matrix.map((row) => row[column] ?? null));
}

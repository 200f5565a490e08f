import { dateIn } from '../date-text.ts';
import {
  BAD_VALUE,
  compareScalars,
  DIVIDED_BY_ZERO,
  FormulaError,
  isRange,
  type Matrix,
  type Scalar,
  toNumber,
  type Value,
} from '../value.ts';
import { wildcardTest } from '../wildcard.ts';
import {
  type CallContext,
  columnsOf,
  type Functions,
  raise,
  rowsOf,
  sum,
  whole,
  wholeAt,
} from './call.ts';

type Test = (value: Scalar) => boolean;

/** Turns a criterion (`">=10"`, `"Sea*"`, 5) into a test (OpenFormula, ODF 1.3 Part 4, 4.11.8). */
function criterion(wanted: Scalar): Test {
  if (wanted instanceof FormulaError) {
    return (value) => value instanceof FormulaError && value.code === wanted.code;
  }
  if (wanted === null) return (value) => value === 0;
  if (typeof wanted !== 'string') {
    return (value) => typeof value === typeof wanted && compareScalars(value, wanted) === 0;
  }
  const [, sign, operand] = /^(<=|>=|<>|<|>|=)?(.*)$/s.exec(wanted)! as unknown as [
    string,
    string | undefined,
    string,
  ];
  const bound = operandOf(operand);
  if (sign === undefined || sign === '=' || sign === '<>') {
    const isEqual = equalTest(operand, bound, sign !== undefined);
    return sign === '<>' ? (value) => !isEqual(value) : isEqual;
  }
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

/** What stands behind the sign: a number, a date, a truth value, or else a text. */
function operandOf(operand: string): number | string | boolean {
  if (operand.trim() === '') return operand;
  const asNumber = toNumber(operand);
  if (!(asNumber instanceof FormulaError)) return asNumber;
  if (/^(true|false)$/i.test(operand)) return operand.toLowerCase() === 'true';
  return dateIn(operand) ?? operand;
}

function equalTest(operand: string, bound: number | string | boolean, isSigned: boolean): Test {
  if (operand === '') {
    // With its sign it means cells that hold nothing, without it also empty texts (common practice).
    return isSigned ? (value) => value === null : (value) => value === null || value === '';
  }
  if (typeof bound === 'number') {
    return (value) => value === bound || (typeof value === 'string' && toNumber(value) === bound);
  }
  if (typeof bound === 'boolean') return (value) => value === bound;
  const isLike = wildcardTest(operand);
  return (value) => typeof value === 'string' && isLike(value);
}

interface Condition {
  range: Value;
  test: Test;
}

function conditionsIn(args: readonly Value[], context: CallContext): Condition[] {
  const found: Condition[] = [];
  for (let at = 0; at < args.length; at += 2) {
    const wanted = context.scalar(args[at + 1] ?? null);
    found.push({ range: args[at] ?? null, test: criterion(wanted) });
  }
  return found;
}

/**
 * Visits the values of `target` whose fellows in the other ranges meet their conditions. A target of another size is taken
 * from its first cell on, as large as the first range.
 */
function eachChosen(
  target: Value | undefined,
  conditions: readonly Condition[],
  context: CallContext,
  isStrict: boolean,
  visit: (value: Scalar) => void,
): void {
  const [first] = conditions;
  if (!first) return void raise(BAD_VALUE);
  const lists: Matrix[] = aligned(
    conditions.map(({ range }) => range),
    context,
  );
  const [shape] = lists;
  const height = shape!.length;
  const width = shape![0]?.length ?? 0;
  for (const list of lists) {
    if (list.length !== height || (list[0]?.length ?? 0) !== width) raise(BAD_VALUE);
  }
  if (isStrict && target !== undefined && isRange(target)) {
    for (const { range } of conditions) {
      const isOther =
        isRange(range) &&
        (rowsOf(range.area) !== rowsOf(target.area) ||
          columnsOf(range.area) !== columnsOf(target.area));
      if (isOther) raise(BAD_VALUE);
    }
  }
  const values = target === undefined ? shape! : fellows(target, height, width, context, isStrict);
  for (let row = 0; row < height; row++) {
    for (let column = 0; column < width; column++) {
      if (conditions.every(({ test }, at) => test(lists[at]![row]![column] ?? null)))
        visit(values[row]?.[column] ?? null);
    }
  }
}

/** Ranges as matrices of one size: of whole columns as much as the longest of them is filled. */
function aligned(ranges: readonly Value[], context: CallContext): Matrix[] {
  const lists = ranges.map((range) => context.matrix(range));
  const areas = ranges.map((range) => (isRange(range) ? range.area : null));
  const [one] = areas;
  const isAlike =
    one != null &&
    areas.every(
      (area) => area && rowsOf(area) === rowsOf(one) && columnsOf(area) === columnsOf(one),
    );
  if (!isAlike) return lists;
  const height = Math.max(...lists.map((list) => list.length));
  const width = Math.max(...lists.map((list) => list[0]?.length ?? 0));
  return lists.map((list) => padded(list, height, width));
}

function padded(list: Matrix, height: number, width: number): Matrix {
  if (list.length === height && (list[0]?.length ?? 0) === width) return list;
  return Array.from({ length: height }, (_, row) =>
    Array.from({ length: width }, (__, column) => list[row]?.[column] ?? null),
  );
}

function fellows(
  target: Value,
  height: number,
  width: number,
  context: CallContext,
  isStrict: boolean,
): Matrix {
  if (!isRange(target)) return context.matrix(target);
  const { top, left } = target.area;
  if (isStrict) return padded(context.matrix(target), height, width);
  const area = { top, left, bottom: top + height - 1, right: left + width - 1 };
  return context.matrix({ sheet: target.sheet, area });
}

/** The numbers of the cells that were chosen. */
function numbersChosen(
  target: Value | undefined,
  conditions: readonly Condition[],
  context: CallContext,
  isStrict: boolean,
): number[] {
  const found: number[] = [];
  eachChosen(target, conditions, context, isStrict, (value) => {
    if (value instanceof FormulaError) raise(value);
    else if (typeof value === 'number') found.push(value);
  });
  return found;
}

const mean = (all: readonly number[]) =>
  all.length === 0 ? DIVIDED_BY_ZERO : sum(all) / all.length;
const greatest = (all: readonly number[]) => all.reduce((a, b) => Math.max(a, b), all[0] ?? 0);
const least = (all: readonly number[]) => all.reduce((a, b) => Math.min(a, b), all[0] ?? 0);

const withOne = (work: (all: readonly number[]) => Scalar) =>
  wholeAt([0, 2], ([range, wanted, target], context) =>
    work(
      numbersChosen(
        target ?? undefined,
        conditionsIn([range ?? null, wanted ?? null], context),
        context,
        false,
      ),
    ),
  );

/** Every other argument is a range, from the first or second on; what stands between is one value each. */
const RANGES_FIRST = Array.from({ length: 127 }, (_, at) => at * 2);
const RANGES_SECOND = [0, ...Array.from({ length: 127 }, (_, at) => at * 2 + 1)];

const withMany = (work: (all: readonly number[]) => Scalar) =>
  wholeAt(RANGES_SECOND, ([target, ...others], context) =>
    work(numbersChosen(target ?? null, conditionsIn(others, context), context, true)),
  );

function counted(conditions: readonly Condition[], context: CallContext): number {
  let count = 0;
  eachChosen(undefined, conditions, context, true, () => count++);
  const [only] = conditions;
  // Empty cells behind the last filled one are not visited: they count where empty ones are wanted.
  if (conditions.every(({ test }) => test(null)) && only && isRange(only.range)) {
    const { area } = only.range;
    const seen = aligned(
      conditions.map(({ range }) => range),
      context,
    )[0]!;
    count += rowsOf(area) * columnsOf(area) - seen.length * (seen[0]?.length ?? 0);
  }
  return count;
}

/** Rows of a table that meet the conditions of another: a header with rows of criteria under it, any of which will do. */
function fromDatabase(
  work: (values: Scalar[], context: CallContext) => Value,
  isFieldNeeded = true,
) {
  return whole(([database, field, criteria], context) => {
    const table = context.matrix(database ?? null);
    const header = (table[0] ?? []).map(nameOf);
    const wanted = context.matrix(criteria ?? null);
    const names = (wanted[0] ?? []).map(nameOf);
    const rules = wanted.slice(1).map((row) =>
      row.flatMap((value, at) => {
        const column = header.indexOf(names[at]!);
        return value === null || column < 0 ? [] : [{ column, test: criterionOfTable(value) }];
      }),
    );
    const chosen = field == null ? null : context.scalar(field);
    const column =
      typeof chosen === 'number' ? Math.trunc(chosen) - 1 : header.indexOf(nameOf(chosen));
    if (chosen !== null && (column < 0 || column >= header.length)) return BAD_VALUE;
    if (chosen === null && isFieldNeeded) return BAD_VALUE;
    const rows = table
      .slice(1)
      .filter((row) =>
        rules.some((rule) => rule.every((each) => each.test(row[each.column] ?? null))),
      );
    return work(
      rows.map((row) => (chosen === null ? 1 : (row[column] ?? null))),
      context,
    );
  });
}

/** A plain text means all that begins with it (common practice for tables of criteria). */
function criterionOfTable(value: Scalar): Test {
  const isPlain = typeof value === 'string' && !/^[<>=]/.test(value) && Number.isNaN(Number(value));
  return criterion(isPlain ? `${value}*` : value);
}

const nameOf = (value: Scalar) => String(value ?? '').toLowerCase();
const onlyNumbers = (values: Scalar[]) =>
  values.flatMap((value) => {
    if (value instanceof FormulaError) raise(value);
    return typeof value === 'number' ? [value] : [];
  });

/** Sums, counts and means of what meets a condition. */
export const CRITERIA: Functions = {
  SUMIF: withOne(sum),
  AVERAGEIF: withOne(mean),
  COUNTIF: wholeAt([0], ([range, wanted], context) =>
    counted(conditionsIn([range ?? null, wanted ?? null], context), context),
  ),
  SUMIFS: withMany(sum),
  AVERAGEIFS: withMany(mean),
  MAXIFS: withMany(greatest),
  MINIFS: withMany(least),
  COUNTIFS: wholeAt(RANGES_FIRST, (args, context) => counted(conditionsIn(args, context), context)),

  DSUM: fromDatabase((values) => sum(onlyNumbers(values))),
  DAVERAGE: fromDatabase((values) => mean(onlyNumbers(values))),
  DCOUNT: fromDatabase((values) => onlyNumbers(values).length, false),
  DCOUNTA: fromDatabase((values) => values.filter((value) => value !== null).length, false),
  DMAX: fromDatabase((values) => greatest(onlyNumbers(values))),
  DMIN: fromDatabase((values) => least(onlyNumbers(values))),
  DPRODUCT: fromDatabase((values) => onlyNumbers(values).reduce((a, b) => a * b, 1)),
  DGET: fromDatabase((values) =>
    values.length === 0
      ? BAD_VALUE
      : values.length > 1
        ? new FormulaError('#NUM!')
        : (values[0] ?? null),
  ),
};

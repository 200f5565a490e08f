import {
  FormulaError,
  isMatrix,
  isRange,
  NOT_AVAILABLE,
  type Scalar,
  toNumber,
  toTruth,
  type Value,
} from '../value.ts';
import {
  type CallContext,
  type Functions,
  isMany,
  must,
  number,
  single,
  whole,
  wholeAt,
} from './call.ts';

function truths(args: Value[], context: CallContext): boolean[] {
  const found: boolean[] = [];
  for (const arg of args) {
    if (!isMany(arg)) found.push(must(toTruth(arg)));
    else {
      context.each(arg, (value) => {
        if (value !== null && typeof value !== 'string') found.push(must(toTruth(value)));
      });
    }
  }
  return found.length > 0 ? found : [must<boolean>(new FormulaError('#VALUE!'))];
}

const is = (test: (value: Scalar) => boolean) =>
  single(([value], context) => test(context.scalar(value ?? null)));

const parity = (rest: number) =>
  single(([value], context) => Math.abs(Math.trunc(number(value, context)) % 2) === rest);

const ERRORS = ['#NULL!', '#DIV/0!', '#VALUE!', '#REF!', '#NAME?', '#NUM!', '#N/A'];

/** Logic and what is asked about values. `IF`, `IFS`, `SWITCH`, `IFERROR`, `IFNA` and `CHOOSE` are the evaluator's own. */
export const LOGIC: Functions = {
  AND: whole((args, context) => truths(args, context).every(Boolean)),
  OR: whole((args, context) => truths(args, context).some(Boolean)),
  XOR: whole((args, context) => truths(args, context).filter(Boolean).length % 2 === 1),
  NOT: single(([value], context) => !must(toTruth(context.scalar(value ?? null)))),
  TRUE: single(() => true),
  FALSE: single(() => false),
  NA: single(() => NOT_AVAILABLE),

  ISBLANK: is((value) => value === null),
  ISNUMBER: is((value) => typeof value === 'number'),
  ISTEXT: is((value) => typeof value === 'string'),
  ISNONTEXT: is((value) => typeof value !== 'string'),
  ISLOGICAL: is((value) => typeof value === 'boolean'),
  ISERROR: is((value) => value instanceof FormulaError),
  ISERR: is((value) => value instanceof FormulaError && value.code !== '#N/A'),
  ISNA: is((value) => value instanceof FormulaError && value.code === '#N/A'),
  ISEVEN: parity(0),
  ISODD: parity(1),
  ISREF: wholeAt([0], ([value]) => value !== undefined && isRange(value)),
  ISFORMULA: wholeAt([0], ([value], context) =>
    value !== undefined && isRange(value)
      ? context.formulaAt(value.sheet, value.area.top, value.area.left) !== null
      : must<boolean>(new FormulaError('#VALUE!')),
  ),
  N: single(([value], context) => {
    const scalar = context.scalar(value ?? null);
    return typeof scalar === 'string' ? 0 : must(toNumber(scalar));
  }),
  T: single(([value], context) => {
    const scalar = context.scalar(value ?? null);
    return scalar instanceof FormulaError || typeof scalar === 'string' ? scalar : '';
  }),
  TYPE: wholeAt([0], ([value], context) => {
    if (value !== undefined && isMatrix(value)) return 64;
    const scalar = context.scalar(value ?? null);
    if (scalar instanceof FormulaError) return 16;
    return typeof scalar === 'string' ? 2 : typeof scalar === 'boolean' ? 4 : 1;
  }),
  'ERROR.TYPE': single(([value], context) => {
    const scalar = context.scalar(value ?? null);
    const place = scalar instanceof FormulaError ? ERRORS.indexOf(scalar.code) : -1;
    return place < 0 ? NOT_AVAILABLE : place + 1;
  }),
  SHEETS: whole((args, { sheetNames }) => (args.length === 0 ? sheetNames.length : 1)),
  SHEET: whole(([value], context) => {
    const name =
      value === undefined
        ? context.sheet
        : isRange(value)
          ? value.sheet
          : String(context.scalar(value));
    const at = context.sheetNames.findIndex((each) => each.toLowerCase() === name.toLowerCase());
    return at < 0 ? NOT_AVAILABLE : at + 1;
  }),
};

import { FormulaError, type Scalar } from '../formula/value.ts';

/** Two results that differ by less than this part of their size are one: programs add up in different orders. */
const TOLERANCE = 1e-11;
/** Next to nothing: what is left where figures should cancel each other out. */
const NOTHING = 1e-11;

/** Whether two programs came to the same result. */
export function isSameResult(a: Scalar, b: Scalar): boolean {
  if (a instanceof FormulaError) return b instanceof FormulaError && a.code === b.code;
  if (typeof a === 'number' && typeof b === 'number') {
    if (a === b) return true;
    const apart = Math.abs(a - b);
    return apart <= TOLERANCE * Math.max(Math.abs(a), Math.abs(b)) || apart < NOTHING;
  }
  // A formula that gives an empty text leaves no value in some files.
  return (a ?? '') === (b ?? '') || (a === null && b === 0);
}

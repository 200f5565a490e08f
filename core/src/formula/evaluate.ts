import { parse, parseA1Ref, tokenize } from '@borgar/fx';
import { type Area, MAX_COLUMNS, MAX_ROWS } from '../sheet/address.ts';
import { type CallContext, FUNCTIONS, Raised } from './functions.ts';
import {
  BAD_NAME,
  BAD_REFERENCE,
  BAD_VALUE,
  type CellValues,
  compareScalars,
  DIVIDED_BY_ZERO,
  FormulaError,
  isMatrix,
  isRange,
  type Matrix,
  NOT_AVAILABLE,
  type RangeValue,
  type Scalar,
  toNumber,
  toText,
  toTruth,
  type Value,
} from './value.ts';

/** A reference with which of its sides move when the formula is copied to another cell. */
interface Reference {
  sheet: string | null;
  area: Area;
  fixed: { top: boolean; left: boolean; bottom: boolean; right: boolean };
}

type Node =
  | { kind: 'value'; value: Scalar }
  | { kind: 'matrix'; value: Matrix }
  | { kind: 'reference'; reference: Reference }
  | { kind: 'name'; name: string }
  | { kind: 'call'; name: string; args: (Node | null)[] }
  | { kind: 'unary'; operator: string; arg: Node }
  | { kind: 'binary'; operator: string; left: Node; right: Node };

/** A formula made ready for evaluating. */
export interface Formula {
  root: Node;
  references: Reference[];
  names: string[];
  /** What it uses that is not evaluated here: functions and kinds of reference. */
  unknown: string[];
}

/** Evaluated where they are met, since they look only at some of their arguments. */
const LAZY = ['IF', 'IFERROR', 'IFNA', 'CHOOSE'];
/** The most cells that one argument may be taken apart into. */
const MAX_CELLS = 1_000_000;
const MAX_DEPTH = 200;

/** Reads a formula without its leading `=`; null when it is none. */
export function parseFormula(text: string): Formula | null {
  const formula: Formula = {
    root: { kind: 'value', value: null },
    references: [],
    names: [],
    unknown: [],
  };
  try {
    formula.root = convert(parse(tokenize(text)) as unknown as Ast, formula, 0);
    return formula;
  } catch {
    return null;
  }
}

interface Ast {
  type: string;
  value?: unknown;
  kind?: string;
  operator?: string;
  arguments?: (Ast | null)[];
  elements?: Ast[][];
  callee?: Ast & { name?: string };
}

function convert(ast: Ast, formula: Formula, depth: number): Node {
  if (depth > MAX_DEPTH) throw new Error('the formula is nested too deeply');
  const inner = (each: Ast) => convert(each, formula, depth + 1);
  switch (ast.type) {
    case 'Literal':
      return { kind: 'value', value: ast.value as Scalar };
    case 'ErrorLiteral':
      return { kind: 'value', value: new FormulaError(String(ast.value)) };
    case 'ReferenceIdentifier':
      return reference(String(ast.value), ast.kind ?? '', formula);
    case 'CallExpression': {
      // Newer functions carry a prefix in files (`_xlfn.IFNA`).
      const name = (ast.callee?.name ?? '').toUpperCase().replace(/^(_XLFN\.|_XLWS\.)+/, '');
      if (!(name in FUNCTIONS) && !LAZY.includes(name)) formula.unknown.push(name);
      return {
        kind: 'call',
        name,
        args: (ast.arguments ?? []).map((each) => (each ? inner(each) : null)),
      };
    }
    case 'UnaryExpression':
      return { kind: 'unary', operator: ast.operator!, arg: inner(ast.arguments![0]!) };
    case 'BinaryExpression':
      return {
        kind: 'binary',
        operator: ast.operator!,
        left: inner(ast.arguments![0]!),
        right: inner(ast.arguments![1]!),
      };
    case 'ArrayExpression':
      return {
        kind: 'matrix',
        value: ast.elements!.map((row) => row.map((each) => constant(inner(each)))),
      };
    default:
      formula.unknown.push(ast.type);
      return { kind: 'value', value: BAD_NAME };
  }
}

function constant(node: Node): Scalar {
  if (node.kind === 'value') return node.value;
  if (node.kind === 'unary' && node.operator === '-' && node.arg.kind === 'value') {
    const number = toNumber(node.arg.value);
    return number instanceof FormulaError ? number : -number;
  }
  return BAD_VALUE;
}

function reference(text: string, kind: string, formula: Formula): Node {
  if (kind === 'name') {
    formula.names.push(text);
    return { kind: 'name', name: text };
  }
  const parsed = kind === 'table' ? undefined : parseA1Ref(text);
  if (!parsed || !('range' in parsed) || (parsed.context?.length ?? 0) > 1) {
    formula.unknown.push(text);
    return { kind: 'value', value: BAD_REFERENCE };
  }
  const { top, left, bottom, right, $top, $left, $bottom, $right } = parsed.range;
  const found: Reference = {
    sheet: parsed.context?.[0] ?? null,
    // The library counts from 0 and leaves open what a whole column or row does not name.
    area: {
      top: (top ?? 0) + 1,
      left: (left ?? 0) + 1,
      bottom: (bottom ?? MAX_ROWS - 1) + 1,
      right: (right ?? MAX_COLUMNS - 1) + 1,
    },
    fixed: {
      top: Boolean($top) || top == null,
      left: Boolean($left) || left == null,
      bottom: Boolean($bottom) || bottom == null,
      right: Boolean($right) || right == null,
    },
  };
  formula.references.push(found);
  return { kind: 'reference', reference: found };
}

/** Where a formula stands and what it sees. */
export interface Scope {
  /** Sheet, row and column of the cell it is evaluated for. */
  sheet: string;
  row: number;
  column: number;
  /** The cell for which its references were written; those that are not fixed move along from there. */
  origin: { row: number; column: number };
  cells: CellValues;
  /** Serial number of this moment. */
  now: number;
  /** What a defined name refers to, as a formula; null for an unknown name. */
  name?: (name: string) => Formula | null;
}

/** The value of a formula. Nothing is thrown: what goes wrong is an error value. */
export function evaluate(formula: Formula, scope: Scope): Scalar {
  const evaluation = new Evaluation(scope);
  return evaluation.scalar(evaluation.value(formula.root));
}

/** The reference as it stands for a cell `down` and `across` from where it was written; null off the sheet. */
export function movedReference(
  { area, fixed }: Reference,
  down: number,
  across: number,
): Area | null {
  const moved = {
    top: area.top + (fixed.top ? 0 : down),
    bottom: area.bottom + (fixed.bottom ? 0 : down),
    left: area.left + (fixed.left ? 0 : across),
    right: area.right + (fixed.right ? 0 : across),
  };
  const sorted = {
    top: Math.min(moved.top, moved.bottom),
    bottom: Math.max(moved.top, moved.bottom),
    left: Math.min(moved.left, moved.right),
    right: Math.max(moved.left, moved.right),
  };
  const isOn =
    sorted.top >= 1 && sorted.left >= 1 && sorted.bottom <= MAX_ROWS && sorted.right <= MAX_COLUMNS;
  return isOn ? sorted : null;
}

class Evaluation implements CallContext {
  readonly row: number;
  readonly column: number;
  readonly now: number;
  private readonly following: string[] = [];

  constructor(private readonly scope: Scope) {
    this.row = scope.row;
    this.column = scope.column;
    this.now = scope.now;
  }

  value(node: Node): Value {
    switch (node.kind) {
      case 'value':
      case 'matrix':
        return node.value;
      case 'reference':
        return this.range(node.reference);
      case 'name':
        return this.named(node.name);
      case 'call':
        return this.call(node.name, node.args);
      case 'unary':
        return this.unary(node.operator, this.value(node.arg));
      case 'binary':
        return this.binary(node.operator, node.left, node.right);
    }
  }

  scalar(value: Value): Scalar {
    if (isMatrix(value)) return value[0]?.[0] ?? null;
    if (!isRange(value)) return value;
    const { sheet, area } = value;
    // A range where one value is wanted gives the one in the same row or column, else its first.
    const row =
      area.left === area.right && this.row >= area.top && this.row <= area.bottom
        ? this.row
        : area.top;
    const column =
      area.top === area.bottom && this.column >= area.left && this.column <= area.right
        ? this.column
        : area.left;
    return this.scope.cells.get(sheet, row, column);
  }

  matrix(value: Value): Matrix {
    if (isMatrix(value)) return value;
    if (!isRange(value)) return [[value]];
    const { cells } = this.scope;
    const { sheet, area } = value;
    // Whole columns are as long as what is filled in them, from their own beginning.
    const filled = cells.filled(sheet, area);
    const bottom = filled && area.bottom === MAX_ROWS ? filled.bottom : area.bottom;
    const right = filled && area.right === MAX_COLUMNS ? filled.right : area.right;
    if (!filled && (area.bottom === MAX_ROWS || area.right === MAX_COLUMNS)) return [[null]];
    if ((bottom - area.top + 1) * (right - area.left + 1) > MAX_CELLS) throw new Raised(BAD_VALUE);
    const rows: Matrix = [];
    for (let row = area.top; row <= bottom; row++) {
      const line: Scalar[] = [];
      for (let column = area.left; column <= right; column++)
        line.push(cells.get(sheet, row, column));
      rows.push(line);
    }
    return rows;
  }

  private range(reference: Reference): Value {
    const { sheet, row, column, origin } = this.scope;
    const area = movedReference(reference, row - origin.row, column - origin.column);
    return area ? { sheet: reference.sheet ?? sheet, area } : BAD_REFERENCE;
  }

  private named(name: string): Value {
    const formula = this.scope.name?.(name);
    if (!formula || this.following.includes(name)) return BAD_NAME;
    this.following.push(name);
    try {
      return this.value(formula.root);
    } finally {
      this.following.pop();
    }
  }

  private call(name: string, args: (Node | null)[]): Value {
    const at = (index: number): Value => (args[index] ? this.value(args[index]) : null);
    try {
      switch (name) {
        case 'IF': {
          const test = toTruth(this.scalar(at(0)));
          if (test instanceof FormulaError) return test;
          return test ? at(1) : args.length > 2 ? at(2) : false;
        }
        case 'IFERROR':
        case 'IFNA': {
          const value = at(0);
          const shown = this.scalar(value);
          const isCaught =
            shown instanceof FormulaError && (name === 'IFERROR' || shown.code === '#N/A');
          return isCaught ? at(1) : value;
        }
        case 'CHOOSE': {
          const index = toNumber(this.scalar(at(0)));
          if (index instanceof FormulaError) return index;
          const place = Math.trunc(index);
          return place >= 1 && place < args.length ? at(place) : BAD_VALUE;
        }
      }
      const work = FUNCTIONS[name];
      return work
        ? work(
            args.map((_, index) => at(index)),
            this,
          )
        : BAD_NAME;
    } catch (error) {
      if (error instanceof Raised) return error.error;
      throw error;
    }
  }

  private unary(operator: string, value: Value): Value {
    return this.each(value, (each) => {
      if (operator === '+') return each;
      const number = toNumber(each);
      if (number instanceof FormulaError) return number;
      return operator === '%' ? number / 100 : -number;
    });
  }

  private binary(operator: string, leftNode: Node, rightNode: Node): Value {
    const [left, right] = [this.value(leftNode), this.value(rightNode)];
    if (operator === ':' || operator === ' ') return this.joined(operator, left, right);
    const many = (value: Value) => isMatrix(value) || (isRange(value) && isWide(value));
    if (!many(left) && !many(right))
      return combine(operator, this.scalar(left), this.scalar(right));
    const [a, b] = [this.matrix(left), this.matrix(right)];
    const rows = Math.max(a.length, b.length);
    const columns = Math.max(a[0]?.length ?? 0, b[0]?.length ?? 0);
    return Array.from({ length: rows }, (_, row) =>
      Array.from({ length: columns }, (__, column) =>
        combine(operator, spread(a, row, column), spread(b, row, column)),
      ),
    );
  }

  private joined(operator: string, left: Value, right: Value): Value {
    if (!isRange(left) || !isRange(right) || left.sheet !== right.sheet) return BAD_REFERENCE;
    const [a, b] = [left.area, right.area];
    if (operator === ':') {
      return {
        sheet: left.sheet,
        area: {
          top: Math.min(a.top, b.top),
          left: Math.min(a.left, b.left),
          bottom: Math.max(a.bottom, b.bottom),
          right: Math.max(a.right, b.right),
        },
      };
    }
    const common = {
      top: Math.max(a.top, b.top),
      left: Math.max(a.left, b.left),
      bottom: Math.min(a.bottom, b.bottom),
      right: Math.min(a.right, b.right),
    };
    const isThere = common.top <= common.bottom && common.left <= common.right;
    return isThere ? { sheet: left.sheet, area: common } : new FormulaError('#NULL!');
  }

  private each(value: Value, work: (each: Scalar) => Scalar): Value {
    if (isMatrix(value) || (isRange(value) && isWide(value))) {
      return this.matrix(value).map((row) => row.map(work));
    }
    return work(this.scalar(value));
  }
}

function isWide({ area }: RangeValue): boolean {
  return area.top !== area.bottom || area.left !== area.right;
}

/** The value at a place of a matrix; a single row or column serves every row or column. */
function spread(matrix: Matrix, row: number, column: number): Scalar {
  const line = matrix.length === 1 ? matrix[0] : matrix[row];
  if (!line) return NOT_AVAILABLE;
  const value = line.length === 1 ? line[0] : line[column];
  return value === undefined ? NOT_AVAILABLE : value;
}

function combine(operator: string, left: Scalar, right: Scalar): Scalar {
  if (operator === '&') {
    const [a, b] = [toText(left), toText(right)];
    return a instanceof FormulaError ? a : b instanceof FormulaError ? b : a + b;
  }
  if (/[<>=]/.test(operator)) {
    const order = compareScalars(left, right);
    if (order instanceof FormulaError) return order;
    switch (operator) {
      case '=':
        return order === 0;
      case '<>':
        return order !== 0;
      case '<':
        return order < 0;
      case '<=':
        return order <= 0;
      case '>':
        return order > 0;
      default:
        return order >= 0;
    }
  }
  const [a, b] = [toNumber(left), toNumber(right)];
  if (a instanceof FormulaError) return a;
  if (b instanceof FormulaError) return b;
  const result = arithmetic(operator, a, b);
  if (result instanceof FormulaError || Number.isFinite(result)) return result;
  return new FormulaError('#NUM!');
}

function arithmetic(operator: string, a: number, b: number): number | FormulaError {
  switch (operator) {
    case '+':
      return a + b;
    case '-':
      return a - b;
    case '*':
      return a * b;
    case '/':
      return b === 0 ? DIVIDED_BY_ZERO : a / b;
    case '^':
      return a ** b;
    default:
      return BAD_VALUE;
  }
}

import { parse, parseA1Ref, parseStructRef, tokenize } from '@borgar/fx';
import { type Area, intersection, MAX_COLUMNS, MAX_ROWS, union } from '../sheet/address.ts';
import { type CallContext, isMany, Raised } from './functions/call.ts';
import { FUNCTIONS } from './functions/index.ts';
import { Line } from './line.ts';
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
export interface Reference {
  sheet: string | null;
  area: Area;
  fixed: { top: boolean; left: boolean; bottom: boolean; right: boolean };
}

/** A reference to a part of a table object by names (`Plots[Planted]`, ECMA-376 Part 1, 18.17.2.5). */
export interface TableReference {
  /** Empty for the table that the formula stands in. */
  table: string;
  columns: string[];
  /** `this row`, `data`, `headers`, `totals` or `all`. */
  sections: string[];
}

type Node =
  | { kind: 'value'; value: Scalar }
  | { kind: 'matrix'; value: Matrix }
  | { kind: 'reference'; reference: Reference }
  | { kind: 'table'; reference: TableReference }
  | { kind: 'name'; name: string }
  | { kind: 'call'; name: string; args: (Node | null)[] }
  | { kind: 'let'; names: string[]; values: Node[]; body: Node }
  | { kind: 'unary'; operator: string; arg: Node }
  | { kind: 'binary'; operator: string; left: Node; right: Node };

/** A formula made ready for evaluating. */
export interface Formula {
  text: string;
  root: Node;
  references: Reference[];
  tables: TableReference[];
  names: string[];
  /** What it uses that is not evaluated here: functions and kinds of reference. */
  unknown: string[];
  /** What in it says only when it is evaluated which cells are looked at (`OFFSET`, `INDIRECT`). */
  dynamic: string[];
  /** The functions in it whose value changes by itself: by the clock or by chance. */
  changesByItself: string[];
}

/** Evaluated where they are met, since they look only at some of their arguments. */
const LAZY = ['IF', 'IFS', 'SWITCH', 'IFERROR', 'IFNA', 'CHOOSE', 'SINGLE', 'ANCHORARRAY'];
/** Their arguments are arrays even in a formula that is none (OpenFormula, ODF 1.3 Part 4, 6.2: ForceArray). */
const FORCING = new Set([
  'SUMPRODUCT',
  'LOOKUP',
  'MMULT',
  'MDETERM',
  'MINVERSE',
  'FREQUENCY',
  'LINEST',
  'LOGEST',
  'TREND',
  'GROWTH',
  'XLOOKUP',
  'XMATCH',
  'FILTER',
  'SORT',
  'SORTBY',
  'UNIQUE',
]);
const DYNAMIC = ['OFFSET', 'INDIRECT', 'ANCHORARRAY'];
const BY_CLOCK = ['NOW', 'TODAY'];
const BY_CHANCE = ['RAND', 'RANDBETWEEN', 'RANDARRAY'];
/** The most cells that one argument may be taken apart into. */
const MAX_CELLS = 1_000_000;
const MAX_DEPTH = 200;

/** Reads a formula without its leading `=`; null when it is none. */
export function parseFormula(text: string): Formula | null {
  const formula: Formula = {
    text,
    root: { kind: 'value', value: null },
    references: [],
    tables: [],
    names: [],
    unknown: [],
    dynamic: [],
    changesByItself: [],
  };
  try {
    // What pointed to a sheet's cells that are no more points nowhere.
    const plain = text.replace(/(?:'(?:[^']|'')*'|[\p{L}\p{N}_.]+)!#REF!/gu, '#REF!');
    formula.root = convert(parse(tokenize(plain)) as unknown as Ast, formula, 0);
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
  declarations?: { id: { name: string }; init: Ast }[];
  body?: Ast;
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
    case 'CallExpression':
      return called(ast, formula, inner);
    case 'LetExpression':
      return bound(
        ast.declarations!.map(({ id, init }) => ({ name: id.name, value: inner(init) })),
        inner(ast.body!),
        formula,
      );
    case 'UnaryExpression':
      if (ast.operator === '#') {
        formula.dynamic.push('#');
        return { kind: 'call', name: 'ANCHORARRAY', args: [inner(ast.arguments![0]!)] };
      }
      if (ast.operator === '@') {
        return { kind: 'call', name: 'SINGLE', args: [inner(ast.arguments![0]!)] };
      }
      return { kind: 'unary', operator: ast.operator!, arg: inner(ast.arguments![0]!) };
    case 'BinaryExpression': {
      if (ast.operator === ',') formula.unknown.push('several ranges in one');
      const [left, right] = [inner(ast.arguments![0]!), inner(ast.arguments![1]!)];
      // The corners of a range that are themselves computed.
      if (ast.operator === ':' && (left.kind !== 'reference' || right.kind !== 'reference')) {
        formula.dynamic.push(':');
      }
      return { kind: 'binary', operator: ast.operator!, left, right };
    }
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

function called(ast: Ast, formula: Formula, inner: (each: Ast) => Node): Node {
  // Newer functions carry a prefix in files (`_xlfn.IFNA`), in open documents those of other makers and of old ones too.
  const said = (ast.callee?.name ?? '').toUpperCase();
  const name = said.replace(/^(?:_XLFN\.|_XLWS\.|(?:COM|ORG)\.[A-Z]+\.|LEGACY\.)+/, '');
  const args = (ast.arguments ?? []).map((each) => (each ? inner(each) : null));
  if (name === 'LET') {
    const pairs: { name: string; value: Node }[] = [];
    for (let at = 0; at + 2 < args.length + 1 && at + 1 < args.length; at += 2) {
      const [id, value] = [args[at], args[at + 1]];
      if (id?.kind !== 'name' || !value) break;
      pairs.push({ name: id.name, value });
    }
    const body = args.at(-1);
    if (body && args.length === pairs.length * 2 + 1) return bound(pairs, body, formula);
    formula.unknown.push(name);
  }
  if (!(name in FUNCTIONS) && !LAZY.includes(name) && name !== 'LET') {
    formula.unknown.push(name === '' ? 'a function made in the formula' : name);
  }
  if (DYNAMIC.includes(name)) formula.dynamic.push(name);
  if (BY_CLOCK.includes(name) || BY_CHANCE.includes(name)) formula.changesByItself.push(name);
  return { kind: 'call', name, args };
}

/** Names that hold within an expression only: they are none of the workbook. */
function bound(pairs: { name: string; value: Node }[], body: Node, formula: Formula): Node {
  const names = pairs.map(({ name }) => name);
  formula.names = formula.names.filter((name) => !names.includes(name));
  return { kind: 'let', names, values: pairs.map(({ value }) => value), body };
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
  if (kind === 'table') {
    const parsed = parseStructRef(text);
    if (parsed && !('workbookName' in parsed && parsed.workbookName)) {
      const { table = '', columns = [], sections = [] } = parsed as Partial<TableReference>;
      const found: TableReference = { table, columns, sections };
      formula.tables.push(found);
      return { kind: 'table', reference: found };
    }
  }
  const parsed = kind === 'table' ? undefined : parseA1Ref(text);
  const context = parsed && 'context' in parsed ? (parsed.context ?? []) : [];
  const isOther =
    context.length > 1 || context.some((each) => /^\[/.test(each) || each.includes(':'));
  if (!parsed || !('range' in parsed) || isOther) {
    formula.unknown.push(text);
    return { kind: 'value', value: BAD_REFERENCE };
  }
  const found = referenceOf(parsed);
  formula.references.push(found);
  return { kind: 'reference', reference: found };
}

type Parsed = Extract<ReturnType<typeof parseA1Ref>, { range: unknown }>;

function referenceOf({ context, range }: Parsed): Reference {
  const { top, left, bottom, right, $top, $left, $bottom, $right } = range;
  return {
    sheet: context?.[0] ?? null,
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
  /** What a defined name refers to, as a formula; null for an unknown name. Its references are written for A1. */
  name?: (name: string) => Formula | null;
  /** The range of a part of a table object, seen from the formula's cell; an error where there is none. */
  table?: (reference: TableReference) => RangeValue | FormulaError;
  /** The cells that a formula fills from a cell on. */
  spill?: (sheet: string, row: number, column: number) => Area | null;
  formulaAt?: CallContext['formulaAt'];
  isRowHidden?: CallContext['isRowHidden'];
  sheetNames?: readonly string[];
  /** Lines of cells in which is looked up, kept as long as their cells do not change. */
  lines?: Map<string, Line>;
}

/** The value of a formula. Nothing is thrown: what goes wrong is an error value. */
export function evaluate(formula: Formula, scope: Scope): Scalar {
  const evaluation = new Evaluation(scope, true);
  return evaluation.scalar(evaluation.value(formula.root));
}

/** All values of a formula that may fill several cells, row by row. */
export function evaluateArray(formula: Formula, scope: Scope): Matrix {
  const evaluation = new Evaluation(scope, true);
  return evaluation.matrix(evaluation.value(formula.root));
}

/** The value of a formula that fills one cell: a range in it gives the value beside it, unless a function takes it whole. */
export function evaluateSingle(formula: Formula, scope: Scope): Scalar {
  const evaluation = new Evaluation(scope, false);
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
  readonly sheet: string;
  readonly row: number;
  readonly column: number;
  readonly now: number;
  readonly sheetNames: readonly string[];
  private readonly following: string[] = [];
  private readonly locals: { name: string; value: Value }[] = [];

  constructor(
    private readonly scope: Scope,
    /** Whether ranges are taken as arrays where one value is wanted; else they give the value beside the formula's cell. */
    private isArray: boolean,
    /** The cell for which the references that are looked at now were written. */
    private readonly origin: Scope['origin'] = scope.origin,
  ) {
    this.sheet = scope.sheet;
    this.row = scope.row;
    this.column = scope.column;
    this.now = scope.now;
    this.sheetNames = scope.sheetNames ?? [];
  }

  formulaAt(sheet: string, row: number, column: number) {
    return this.scope.formulaAt?.(sheet, row, column) ?? null;
  }

  isRowHidden(sheet: string, row: number): boolean {
    return this.scope.isRowHidden?.(sheet, row) ?? false;
  }

  rangeNamed(text: string): RangeValue | null {
    const trimmed = text.trim();
    const parsed = parseA1Ref(trimmed);
    if (parsed && 'range' in parsed && (parsed.context?.length ?? 0) < 2) {
      const { sheet, area } = referenceOf(parsed);
      return this.sheetKnown({ sheet: sheet ?? this.sheet, area });
    }
    const named = this.named(trimmed);
    return isRange(named) ? named : null;
  }

  private sheetKnown(range: RangeValue): RangeValue | null {
    const wanted = range.sheet.toLowerCase();
    const isThere =
      this.sheetNames.length === 0 || this.sheetNames.some((name) => name.toLowerCase() === wanted);
    return isThere ? range : null;
  }

  value(node: Node): Value {
    switch (node.kind) {
      case 'value':
      case 'matrix':
        return node.value;
      case 'reference':
        return this.range(node.reference);
      case 'table':
        return this.scope.table?.(node.reference) ?? BAD_REFERENCE;
      case 'name':
        return this.named(node.name);
      case 'call':
        return this.call(node.name, node.args);
      case 'let':
        return this.bound(node);
      case 'unary':
        return this.unary(node.operator, this.value(node.arg));
      case 'binary':
        return this.binary(node.operator, node.left, node.right);
    }
  }

  private bound({ names, values, body }: Extract<Node, { kind: 'let' }>): Value {
    const before = this.locals.length;
    for (const [at, name] of names.entries()) {
      this.locals.push({ name, value: this.value(values[at]!) });
    }
    const result = this.value(body);
    this.locals.length = before;
    return result;
  }

  scalar(value: Value): Scalar {
    if (isMatrix(value)) return value[0]?.[0] ?? null;
    if (!isRange(value)) return value;
    const { sheet, area } = value;
    // A range where one value is wanted gives the one in the same row or column.
    const isBeside = area.left === area.right && this.row >= area.top && this.row <= area.bottom;
    const isBelow =
      area.top === area.bottom && this.column >= area.left && this.column <= area.right;
    const isOne = area.top === area.bottom && area.left === area.right;
    if (!this.isArray && !isOne && !isBeside && !isBelow) return BAD_VALUE;
    const row = isBeside ? this.row : area.top;
    const column = isBelow ? this.column : area.left;
    return this.scope.cells.get(sheet, row, column);
  }

  each(value: Value, visit: (value: Scalar, row: number, column: number) => void): void {
    if (!isRange(value)) {
      for (const [row, line] of this.matrix(value).entries()) {
        for (const [column, each] of line.entries()) visit(each, row, column);
      }
      return;
    }
    const { cells } = this.scope;
    const filled = cells.filled(value.sheet, value.area);
    if (!filled) return;
    const { sheet, area } = value;
    if ((filled.bottom - area.top + 1) * (filled.right - area.left + 1) > MAX_CELLS) {
      // Far apart, or very many: those that hold something are enough.
      cells.each(sheet, area, visit);
      return;
    }
    for (let row = area.top; row <= filled.bottom; row++) {
      for (let column = area.left; column <= filled.right; column++)
        visit(cells.get(sheet, row, column), row, column);
    }
  }

  matrix(value: Value): Matrix {
    if (isMatrix(value)) return value;
    if (!isRange(value)) return [[value]];
    const { cells } = this.scope;
    const { sheet, area } = value;
    // Whole columns are as long as what is filled in them, from their own beginning.
    const isLong = area.bottom === MAX_ROWS || area.right === MAX_COLUMNS;
    const filled = isLong ? cells.filled(sheet, area) : null;
    const bottom = filled && area.bottom === MAX_ROWS ? filled.bottom : area.bottom;
    const right = filled && area.right === MAX_COLUMNS ? filled.right : area.right;
    if (!filled && isLong) return [[null]];
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

  line(value: Value, index: number, isAcross: boolean): Line {
    if (!isRange(value)) {
      const matrix = this.matrix(value);
      return new Line(
        isAcross ? (matrix[index] ?? []) : matrix.map((row) => row[index] ?? null),
        null,
      );
    }
    const { sheet, area } = value;
    const only: Area = isAcross
      ? { ...area, top: area.top + index, bottom: area.top + index }
      : { ...area, left: area.left + index, right: area.left + index };
    const { lines } = this.scope;
    const key = `${sheet.toLowerCase()}!${only.top} ${only.left} ${only.bottom} ${only.right}`;
    const known = lines?.get(key);
    if (known) return known;
    const line = new Line(this.matrix({ sheet, area: only }).flat(), { sheet, area: only });
    lines?.set(key, line);
    return line;
  }

  private range(reference: Reference): Value {
    const { sheet, row, column, origin } = this;
    const area = movedReference(reference, row - origin.row, column - origin.column);
    if (!area) return BAD_REFERENCE;
    const range = { sheet: reference.sheet ?? sheet, area };
    return reference.sheet === null ? range : (this.sheetKnown(range) ?? BAD_REFERENCE);
  }

  private named(name: string): Value {
    const local = this.locals.findLast((each) => each.name.toLowerCase() === name.toLowerCase());
    if (local) return local.value;
    const formula = this.scope.name?.(name);
    if (!formula || this.following.includes(name)) return BAD_NAME;
    this.following.push(name);
    try {
      // What a name says is written for the first cell of a sheet (common practice).
      const inner = new Evaluation(this.scope, this.isArray, { row: 1, column: 1 });
      inner.following.push(...this.following);
      return inner.value(formula.root);
    } finally {
      this.following.pop();
    }
  }

  private call(name: string, args: (Node | null)[]): Value {
    const before = this.isArray;
    if (FORCING.has(name)) this.isArray = true;
    try {
      if (LAZY.includes(name)) return this.lazy(name, args);
      const work = FUNCTIONS[name];
      if (!work) return BAD_NAME;
      const values = args.map((arg) => (arg ? this.value(arg) : null));
      const { ranges } = work;
      if (this.isArray && ranges !== 'all') {
        const wide = values.flatMap((value, at) =>
          !ranges.includes(at) && isMany(value) && !this.isOne(value) ? [at] : [],
        );
        if (wide.length > 0) return this.lifted(values, wide, (each) => work.run(each, this));
      }
      return work.run(values, this);
    } catch (error) {
      if (error instanceof Raised) return error.error;
      throw error;
    } finally {
      this.isArray = before;
    }
  }

  private isOne(value: Value): boolean {
    return isRange(value)
      ? !isWide(value)
      : isMatrix(value) && value.length === 1 && value[0]!.length === 1;
  }

  /** A function of single values, done for each place of the arrays it was given. */
  private lifted(
    values: Value[],
    wide: readonly number[],
    run: (values: Value[]) => Value,
  ): Matrix {
    const lists = new Map(wide.map((at) => [at, this.matrix(values[at]!)]));
    const rows = Math.max(...[...lists.values()].map((list) => list.length));
    const columns = Math.max(...[...lists.values()].map((list) => list[0]?.length ?? 0));
    if (rows * columns > MAX_CELLS) throw new Raised(BAD_VALUE);
    return Array.from({ length: rows }, (_, row) =>
      Array.from({ length: columns }, (__, column): Scalar => {
        const own = values.map((value, at) => {
          const list = lists.get(at);
          return list ? spread(list, row, column) : value;
        });
        try {
          return this.scalar(run(own));
        } catch (error) {
          if (error instanceof Raised) return error.error;
          throw error;
        }
      }),
    );
  }

  private lazy(name: string, args: (Node | null)[]): Value {
    const at = (index: number): Value => (args[index] ? this.value(args[index]) : null);
    switch (name) {
      case 'IF': {
        const given = at(0);
        if (this.isArray && isMany(given) && !this.isOne(given)) {
          const values = [given, at(1), args.length > 2 ? at(2) : false];
          const wide = values.flatMap((value, n) => (isMany(value) ? [n] : []));
          return this.lifted(values, wide, ([each, yes, no]) => {
            const test = toTruth(this.scalar(each ?? null));
            return test instanceof FormulaError ? test : test ? (yes ?? null) : (no ?? null);
          });
        }
        const test = toTruth(this.scalar(given));
        if (test instanceof FormulaError) return test;
        return test ? at(1) : args.length > 2 ? at(2) : false;
      }
      case 'IFS':
        for (let n = 0; n + 1 < args.length; n += 2) {
          const test = toTruth(this.scalar(at(n)));
          if (test instanceof FormulaError) return test;
          if (test) return at(n + 1);
        }
        return NOT_AVAILABLE;
      case 'SWITCH': {
        const wanted = this.scalar(at(0));
        if (wanted instanceof FormulaError) return wanted;
        let n = 1;
        for (; n + 1 < args.length; n += 2) {
          const value = this.scalar(at(n));
          if (value instanceof FormulaError) return value;
          const isSame = typeof (value ?? 0) === typeof (wanted ?? 0);
          if (isSame && compareScalars(value, wanted) === 0) return at(n + 1);
        }
        return n < args.length ? at(n) : NOT_AVAILABLE;
      }
      case 'IFERROR':
      case 'IFNA': {
        const value = at(0);
        const isCaught = (each: Scalar) =>
          each instanceof FormulaError && (name === 'IFERROR' || each.code === '#N/A');
        if (this.isArray && isMany(value) && !this.isOne(value)) {
          const otherwise = at(1);
          const values = [value, otherwise];
          const wide = isMany(otherwise) ? [0, 1] : [0];
          return this.lifted(values, wide, ([each, instead]) =>
            isCaught(this.scalar(each ?? null)) ? (instead ?? null) : (each ?? null),
          );
        }
        return isCaught(this.scalar(value)) ? at(1) : value;
      }
      case 'SINGLE': {
        const before = this.isArray;
        this.isArray = false;
        try {
          return this.scalar(at(0));
        } finally {
          this.isArray = before;
        }
      }
      case 'ANCHORARRAY': {
        const value = at(0);
        if (!isRange(value)) return BAD_REFERENCE;
        const { sheet, area } = value;
        const filled = this.scope.spill?.(sheet, area.top, area.left);
        return filled ? { sheet, area: filled } : BAD_REFERENCE;
      }
      default: {
        const index = toNumber(this.scalar(at(0)));
        if (index instanceof FormulaError) return index;
        const place = Math.trunc(index);
        return place >= 1 && place < args.length ? at(place) : BAD_VALUE;
      }
    }
  }

  private unary(operator: string, value: Value): Value {
    return this.eachOf(value, (each) => {
      if (operator === '+') return each;
      const number = toNumber(each);
      if (number instanceof FormulaError) return number;
      return operator === '%' ? number / 100 : -number;
    });
  }

  private isSeveral(value: Value): boolean {
    return isMatrix(value) || (this.isArray && isRange(value) && isWide(value));
  }

  private binary(operator: string, leftNode: Node, rightNode: Node): Value {
    const [left, right] = [this.value(leftNode), this.value(rightNode)];
    if (operator === ':' || operator === ' ') return this.joined(operator, left, right);
    if (!this.isSeveral(left) && !this.isSeveral(right))
      return combine(operator, this.scalar(left), this.scalar(right));
    const [a, b] = [this.several(left), this.several(right)];
    const rows = Math.max(a.length, b.length);
    const columns = Math.max(a[0]?.length ?? 0, b[0]?.length ?? 0);
    return Array.from({ length: rows }, (_, row) =>
      Array.from({ length: columns }, (__, column) =>
        combine(operator, spread(a, row, column), spread(b, row, column)),
      ),
    );
  }

  private several(value: Value): Matrix {
    return this.isSeveral(value) ? this.matrix(value) : [[this.scalar(value)]];
  }

  private joined(operator: string, left: Value, right: Value): Value {
    if (!isRange(left) || !isRange(right) || left.sheet.toLowerCase() !== right.sheet.toLowerCase())
      return BAD_REFERENCE;
    const [a, b] = [left.area, right.area];
    if (operator === ':') {
      return { sheet: left.sheet, area: union(a, b) };
    }
    const common = intersection(a, b);
    return common ? { sheet: left.sheet, area: common } : new FormulaError('#NULL!');
  }

  private eachOf(value: Value, work: (each: Scalar) => Scalar): Value {
    if (this.isSeveral(value)) return this.matrix(value).map((row) => row.map(work));
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

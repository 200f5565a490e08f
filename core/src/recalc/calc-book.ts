import {
  evaluateArray,
  evaluateSingle,
  type Formula,
  movedReference,
  parseFormula,
  type TableReference,
} from '../formula/evaluate.ts';
import type { Line } from '../formula/line.ts';
import {
  BAD_REFERENCE,
  type CellValues,
  FormulaError,
  type Matrix,
  NOT_AVAILABLE,
  type RangeValue,
  type Scalar,
} from '../formula/value.ts';
import {
  type Area,
  formatArea,
  formatCell,
  holds,
  intersection,
  MAX_COLUMNS,
  MAX_ROWS,
  quoteSheet,
} from '../sheet/address.ts';
import { CalcRun, type Touched } from './calc-run.ts';
import type {
  ArrayFormula,
  CalcSheet,
  CalcSource,
  CellPlace,
  CellWish,
  ChangedCell,
  FormulaCheck,
  NotOurs,
  Recalculated,
} from './calc-source.ts';
import { ROUND } from './calc-source.ts';
import { circlesAmong } from './circles.ts';
import { keyOf, type Node, placeOf, type Sheet } from './node.ts';
import { RangeIndex } from './range-index.ts';
import { relativeKey } from './relative-key.ts';
import { isSameResult } from './same-result.ts';
import { type Environment, Standpoint } from './standpoint.ts';
import { tableRange } from './table-range.ts';

/** Thrown where a formula that says only now what it looks at meets a cell that is still to be computed. */
class NotYet extends Error {
  constructor(readonly node: Node) {
    super('not computed yet');
  }
}

/** The most lines in which things are looked up that are kept. */
const MAX_LINES = 64;

/**
 * A workbook made ready for computing: a change costs what depends on it. What the file says is believed until something
 * under it changes; a formula that comes to something else here than in the file, or that has a function which is not known
 * here, is *not computed*: it keeps the file's value, and so does all that rests on it.
 */
export class CalcBook implements CellValues {
  private readonly sheets: Sheet[] = [];
  private readonly byName = new Map<string, Sheet>();
  private readonly nodes: Node[] = [];
  private readonly dynamic: Node[] = [];
  private readonly parsed = new Map<string, Pick<Node, 'formula' | 'origin'>>();
  private readonly named = new Map<string, Formula | null>();
  private readonly lines = new Map<string, Line>();
  private runs = 0;
  private running: CalcRun | null = null;
  /** How to take back what is only tried out. */
  private undo: (() => void)[] | null = null;
  /** The formula that is being evaluated, where it may meet cells that are still to be computed. */
  private watched: Node | null = null;

  private readonly environment: Environment;

  private constructor(private readonly source: CalcSource) {
    this.environment = this.environmentOf();
  }

  /** Loads a workbook and compares what its formulas come to here with what it says. */
  static load(source: CalcSource): CalcBook {
    const book = new CalcBook(source);
    for (const sheet of source.sheets) book.addSheet(sheet);
    for (const node of book.nodes) book.connect(node);
    book.compare();
    return book;
  }

  /** How many formulas there are, and how many of them are not computed here. */
  get counts(): { formulas: number; notComputed: number } {
    return {
      formulas: this.nodes.length,
      notComputed: this.nodes.filter(({ why }) => why !== null).length,
    };
  }

  get(sheet: string, row: number, column: number): Scalar {
    const found = this.byName.get(sheet.toLowerCase());
    if (!found) return BAD_REFERENCE;
    const key = keyOf(row, column);
    if (this.watched) {
      const node = found.nodes.get(key) ?? found.filledBy.get(key);
      if (node && node !== this.watched && this.running?.has(node)) {
        if (!node.isDone) throw new NotYet(node);
        if (node.isTainted) {
          this.watched.isTainted = true;
          this.watched.taintedBy ??= node;
        }
      }
    }
    return found.values.get(key) ?? null;
  }

  filled(sheet: string, area: Area): Area | null {
    const found = this.byName.get(sheet.toLowerCase());
    if (!found || found.bottom === 0) return null;
    return intersection(area, { top: 1, left: 1, bottom: found.bottom, right: found.right });
  }

  each(
    sheet: string,
    area: Area,
    visit: (value: Scalar, row: number, column: number) => void,
  ): void {
    const found = this.byName.get(sheet.toLowerCase());
    for (const [key, value] of found?.values ?? []) {
      const column = (key % 16_384) + 1;
      const row = (key - column + 1) / 16_384;
      if (holds(area, { row, column })) visit(value, row, column);
    }
  }

  /** The formula of a cell, without its `=`; null where it has none of its own. */
  formulaOf({ sheet, row, column }: CellPlace): string | null {
    return this.byName.get(sheet.toLowerCase())?.nodes.get(keyOf(row, column))?.text ?? null;
  }

  /** Why the formula of a cell is not computed here; null where it is, or where there is none. */
  whyNotOurs({ sheet, row, column }: CellPlace): string | null {
    return this.byName.get(sheet.toLowerCase())?.nodes.get(keyOf(row, column))?.why ?? null;
  }

  /**
   * Gives cells other values or formulas, and all that depends on them its new values. A cell with a formula loses it; one
   * that gets a formula is among those that changed. Cells of sheets that are not there are left out.
   */
  change(wishes: readonly CellWish[]): Recalculated {
    const touched: Touched[] = [];
    const fresh: Node[] = [];
    for (const { sheet: name, row, column, value, formula } of wishes) {
      const sheet = this.byName.get(name.toLowerCase());
      if (!sheet) continue;
      const node = sheet.nodes.get(keyOf(row, column));
      if (node) this.remove(node);
      if (formula !== undefined) fresh.push(this.putFormula(sheet, row, column, formula));
      else if (this.put(sheet, row, column, value)) touched.push({ sheet, row, column });
    }
    return this.recompute(touched, fresh);
  }

  /** Gives a cell a formula that no file said anything of: what it comes to here is what it comes to. */
  private putFormula(sheet: Sheet, row: number, column: number, text: string): Node {
    const stored = sheet.values.get(keyOf(row, column)) ?? null;
    const node = this.addNode(sheet, row, column, text, stored, null);
    const read = this.connect(node);
    this.undo?.push(() => {
      sheet.nodes.delete(keyOf(row, column));
      this.drop(node);
      for (const readers of read) readers.splice(readers.lastIndexOf(node), 1);
      node.formula = null;
    });
    return node;
  }

  /** What `change` would change; afterwards everything is as before. */
  tryOut(wishes: readonly CellWish[]): Recalculated {
    const undo: (() => void)[] = [];
    this.undo = undo;
    try {
      return this.change(wishes);
    } finally {
      this.undo = null;
      for (const each of undo.reverse()) each();
      this.lines.clear();
    }
  }

  /** What every formula comes to here, with what stands in the file around it, against what the file says. */
  check(): FormulaCheck[] {
    this.nameCircles(this.nodes);
    return this.nodes.map((node): FormulaCheck => {
      const { sheet, row, column, text, stored, why, isVolatile } = node;
      const place = { sheet: sheet.name, row, column, formula: text, stored };
      const isKnown = node.formula !== null && node.formula.unknown.length === 0;
      const computed = isKnown ? this.firstOf(this.evaluated(node)) : (stored ?? null);
      if (isVolatile) return { ...place, computed, status: 'volatile', why: null };
      if (stored === undefined) {
        return {
          ...place,
          computed,
          status: why ? 'not computed' : 'differs',
          why: why ?? 'the file does not say what it comes to',
        };
      }
      if (why === null) return { ...place, computed, status: 'same', why };
      const isOther = isKnown && node.array?.kind !== 'what-if' && !isSameResult(stored, computed);
      return { ...place, computed, status: isOther ? 'differs' : 'not computed', why };
    });
  }

  private addSheet({ name, cells, arrays = [], hidden = [] }: CalcSheet): void {
    const sheet: Sheet = {
      name,
      values: new Map(),
      bottom: 0,
      right: 0,
      nodes: new Map(),
      filledBy: new Map(),
      readers: new Map(),
      ranges: new RangeIndex(),
      rangesByName: new Map(),
      hidden,
    };
    this.sheets.push(sheet);
    this.byName.set(name.toLowerCase(), sheet);
    const byPlace = new Map(arrays.map((each) => [keyOf(each.row, each.column), each]));
    for (const { row, column, value, formula } of cells) {
      if (value !== undefined) this.put(sheet, row, column, value);
      if (formula === undefined) continue;
      const array = byPlace.get(keyOf(row, column)) ?? null;
      this.addNode(sheet, row, column, formula, value, array);
    }
    // A table of trials has no formula of its own.
    for (const array of arrays) {
      if (sheet.nodes.has(keyOf(array.row, array.column)) || array.kind !== 'what-if') continue;
      const stored = sheet.values.get(keyOf(array.row, array.column)) ?? null;
      this.addNode(sheet, array.row, array.column, 'TABLE()', stored, array);
    }
  }

  private addNode(
    sheet: Sheet,
    row: number,
    column: number,
    text: string,
    stored: Scalar | undefined,
    array: ArrayFormula | null,
  ): Node {
    const { formula, origin } = this.formulaFor(text, row, column);
    const isVolatile = this.changesByItself(formula, []);
    const node: Node = {
      sheet,
      row,
      column,
      formula,
      text,
      origin,
      array,
      area: array?.area ?? { top: row, left: column, bottom: row, right: column },
      stored,
      why: this.reasonAgainst(formula, array),
      isVolatile,
      run: 0,
      waits: 0,
      isDone: false,
      isTouched: false,
      isTainted: false,
      taintedBy: null,
    };
    this.nodes.push(node);
    sheet.nodes.set(keyOf(row, column), node);
    if (array) this.claim(node);
    if (formula && this.dynamicIn(formula, [])) this.dynamic.push(node);
    return node;
  }

  /** A formula made ready, once for all its copies. */
  private formulaFor(text: string, row: number, column: number): Pick<Node, 'formula' | 'origin'> {
    const key = relativeKey(text, row, column);
    const known = key === null ? undefined : this.parsed.get(key);
    if (known) return known;
    const made = { formula: parseFormula(text), origin: { row, column } };
    if (key !== null) this.parsed.set(key, made);
    return made;
  }

  /** The cells of an array are its formula's. */
  private claim(node: Node): void {
    const { area, sheet } = node;
    for (let row = area.top; row <= area.bottom; row++) {
      for (let column = area.left; column <= area.right; column++) {
        if (row !== node.row || column !== node.column)
          sheet.filledBy.set(keyOf(row, column), node);
      }
    }
  }

  /** The cells of an array are its formula's no more. */
  private release({ area, sheet }: Node): void {
    for (let row = area.top; row <= area.bottom; row++) {
      for (let column = area.left; column <= area.right; column++) {
        sheet.filledBy.delete(keyOf(row, column));
      }
    }
  }

  private reasonAgainst(formula: Formula | null, array: ArrayFormula | null): string | null {
    if (array?.kind === 'what-if') return 'it is a table of trials';
    if (!formula) return 'the formula cannot be read';
    const unknown = this.unknownIn(formula, []);
    if (unknown.length > 0) return `${[...new Set(unknown)].join(', ')} is not computed here`;
    if (this.source.now === null && this.changesByItself(formula, [])) {
      return 'its days are counted from 1904';
    }
    return null;
  }

  private unknownIn({ unknown, names }: Formula, seen: readonly string[]): string[] {
    const inner = names.flatMap((name) => {
      if (seen.includes(name)) return [];
      const formula = this.nameOf(name, null);
      return formula ? this.unknownIn(formula, [...seen, name]) : [];
    });
    return [...unknown, ...inner];
  }

  private changesByItself(formula: Formula | null, seen: readonly string[]): boolean {
    if (!formula) return false;
    return (
      formula.changesByItself.length > 0 ||
      formula.names.some(
        (name) =>
          !seen.includes(name) && this.changesByItself(this.nameOf(name, null), [...seen, name]),
      )
    );
  }

  private dynamicIn(formula: Formula, seen: readonly string[]): boolean {
    return (
      formula.dynamic.length > 0 ||
      formula.names.some((name) => {
        const inner = seen.includes(name) ? null : this.nameOf(name, null);
        return inner !== null && this.dynamicIn(inner, [...seen, name]);
      })
    );
  }

  /** What a name refers to: the sheet's own names go before those of the whole book. */
  private nameOf(said: string, sheet: Sheet | null): Formula | null {
    const bang = said.lastIndexOf('!');
    const own =
      bang < 0
        ? (sheet?.name ?? '')
        : said.slice(0, bang).replace(/^'|'$/g, '').replaceAll("''", "'");
    const name = said.slice(bang + 1).toLowerCase();
    const key = `${own.toLowerCase()}!${name}`;
    if (!this.named.has(key)) {
      const same = (this.source.names ?? []).filter((each) => each.name.toLowerCase() === name);
      const found =
        same.find((each) => each.sheet?.toLowerCase() === own.toLowerCase()) ??
        same.find((each) => each.sheet === null) ??
        // Whoever asks from nowhere wants to know what the name can mean at all.
        (sheet === null && bang < 0 ? same[0] : undefined);
      this.named.set(key, found ? parseFormula(found.refersTo) : null);
    }
    return this.named.get(key)!;
  }

  /** Makes a formula a reader of the cells and ranges that it looks at; gives the lists that it is in now. */
  private connect(node: Node): Node[][] {
    const { formula } = node;
    const lists: Node[][] = [];
    if (!formula) return lists;
    for (const range of this.rangesOf(formula, node, node.origin, [])) {
      const sheet = this.byName.get(range.sheet.toLowerCase());
      if (!sheet) continue;
      const { top, left, bottom, right } = range.area;
      if (top === bottom && left === right) {
        const key = keyOf(top, left);
        const readers = sheet.readers.get(key) ?? [];
        if (readers.length === 0) sheet.readers.set(key, readers);
        if (readers.at(-1) === node) continue;
        readers.push(node);
        lists.push(readers);
        continue;
      }
      const name = `${top} ${left} ${bottom} ${right}`;
      let known = sheet.rangesByName.get(name);
      if (!known) {
        known = {
          area: range.area,
          readers: [],
          run: 0,
          waits: 0,
          isTouched: false,
          taintedBy: null,
        };
        sheet.rangesByName.set(name, known);
        sheet.ranges.add(known);
      }
      if (known.readers.at(-1) === node) continue;
      known.readers.push(node);
      lists.push(known.readers);
    }
    return lists;
  }

  private rangesOf(
    formula: Formula,
    node: Node,
    origin: { row: number; column: number },
    seen: readonly string[],
  ): RangeValue[] {
    const own = formula.references.flatMap((reference): RangeValue[] => {
      const area = movedReference(reference, node.row - origin.row, node.column - origin.column);
      return area ? [{ sheet: reference.sheet ?? node.sheet.name, area }] : [];
    });
    const tables = formula.tables.flatMap((reference) => {
      const range = this.tableRange(reference, node);
      return range instanceof FormulaError ? [] : [range];
    });
    const named = formula.names.flatMap((name) => {
      const inner = seen.includes(name) ? null : this.nameOf(name, node.sheet);
      return inner ? this.rangesOf(inner, node, { row: 1, column: 1 }, [...seen, name]) : [];
    });
    return [...own, ...tables, ...named];
  }

  private tableRange(reference: TableReference, node: Node): RangeValue | FormulaError {
    return tableRange(this.source.tables ?? [], reference, { ...placeOf(node) });
  }

  /** Computes what nobody computed, and compares all other formulas with what the file says that they come to. */
  private compare(): void {
    const fresh = this.nodes.filter(({ stored }) => stored === undefined);
    if (fresh.length > 0) {
      for (const node of fresh) this.place(node, this.padded(node, []), false);
      this.recomputeNodes(fresh);
    }
    for (const node of this.nodes) {
      if (node.why !== null || node.isVolatile || node.stored === undefined) continue;
      const result = this.evaluated(node);
      node.why = this.differs(node, result);
    }
  }

  /** Why what a formula comes to here is not what the file says; null where it is. */
  private differs(node: Node, result: Matrix): string | null {
    const shaped = this.padded(node, result);
    const isOtherShape =
      node.array?.kind === 'spilling' &&
      !(result.length === 1 && result[0]!.length === 1 && this.isError(result[0]![0]!)) &&
      (result.length !== shaped.length || result[0]!.length !== shaped[0]!.length);
    if (isOtherShape) return 'it fills other cells here than in the file';
    const { top, left } = node.area;
    for (const [down, line] of shaped.entries()) {
      for (const [across, value] of line.entries()) {
        const said = node.sheet.values.get(keyOf(top + down, left + across)) ?? null;
        if (!isSameResult(said, value)) return 'it comes to something else here than in the file';
      }
    }
    return null;
  }

  private isError = (value: Scalar) => value instanceof FormulaError;

  /** All values of a formula as it stands now. */
  private evaluated(node: Node): Matrix {
    const { formula, array } = node;
    if (this.lines.size > MAX_LINES) this.lines.clear();
    const scope = new Standpoint(node, this.environment);
    if (array) return evaluateArray(formula!, scope).map((row) => row.map(shown));
    return [[shown(evaluateSingle(formula!, scope))]];
  }

  private firstOf(values: Matrix): Scalar {
    return values[0]?.[0] ?? null;
  }

  /** What formulas see, wherever they stand. */
  private environmentOf(): Environment {
    return {
      cells: this,
      now: this.source.now ?? 0,
      sheetNames: this.source.sheets.map(({ name }) => name),
      lines: this.lines,
      nodeAt: (sheet, row, column) =>
        this.byName.get(sheet.toLowerCase())?.nodes.get(keyOf(row, column)) ?? null,
      nameOf: (name, sheet) => this.nameOf(name, sheet),
      tableRange: (reference, node) => this.tableRange(reference, node),
      hiddenRows: (sheet) => this.byName.get(sheet.toLowerCase())?.hidden ?? [],
    };
  }

  /** Puts a value into a cell; whether it is another one than before. */
  private put(sheet: Sheet, row: number, column: number, value: Scalar): boolean {
    const key = keyOf(row, column);
    const before = sheet.values.get(key) ?? null;
    if (isSameScalar(before, value)) return false;
    this.undo?.push(() => {
      if (before === null) sheet.values.delete(key);
      else sheet.values.set(key, before);
    });
    if (value === null) sheet.values.delete(key);
    else {
      sheet.values.set(key, value);
      sheet.bottom = Math.max(sheet.bottom, row);
      sheet.right = Math.max(sheet.right, column);
    }
    for (const [name, { from }] of this.lines) {
      const isHere = from && from.sheet.toLowerCase() === sheet.name.toLowerCase();
      if (isHere && holds(from.area, { row, column })) this.lines.delete(name);
    }
    return true;
  }

  private remove(node: Node): void {
    const { sheet, row, column } = node;
    sheet.nodes.delete(keyOf(row, column));
    if (node.array) this.release(node);
    const { formula, why } = node;
    this.undo?.push(() => {
      node.formula = formula;
      node.why = why;
      sheet.nodes.set(keyOf(row, column), node);
      this.nodes.push(node);
      if (formula && this.dynamicIn(formula, [])) this.dynamic.push(node);
      if (node.array) this.claim(node);
    });
    // Whoever it reads does not tell it any more.
    node.formula = null;
    node.why = 'it is gone';
    this.drop(node);
  }

  private drop(node: Node): void {
    this.nodes.splice(this.nodes.indexOf(node), 1);
    const at = this.dynamic.indexOf(node);
    if (at >= 0) this.dynamic.splice(at, 1);
  }

  /** The results of a formula in the shape of the cells that it fills. */
  private padded(node: Node, result: Matrix): Matrix {
    const { top, left, bottom, right } = node.area;
    const [height, width] = [bottom - top + 1, right - left + 1];
    return Array.from({ length: height }, (_, row) =>
      Array.from({ length: width }, (__, column): Scalar => {
        if (result.length === 0) return null;
        const line = result.length === 1 && node.array?.kind === 'fixed' ? result[0] : result[row];
        const value =
          line && line.length === 1 && node.array?.kind === 'fixed' ? line[0] : line?.[column];
        return value === undefined ? NOT_AVAILABLE : value;
      }),
    );
  }

  /** Puts what a formula comes to into the cells that it fills; gives those that changed. */
  private place(node: Node, values: Matrix, isTold: boolean): ChangedCell[] {
    const { sheet, area } = node;
    const changed: ChangedCell[] = [];
    for (const [down, line] of values.entries()) {
      for (const [across, after] of line.entries()) {
        const [row, column] = [area.top + down, area.left + across];
        const before = sheet.values.get(keyOf(row, column)) ?? null;
        if (this.put(sheet, row, column, after) && isTold) {
          changed.push({ sheet: sheet.name, row, column, before, after });
        }
      }
    }
    return changed;
  }

  private recomputeNodes(nodes: readonly Node[]): Recalculated {
    return this.work(nodes, []);
  }

  private recompute(cells: readonly Touched[], fresh: readonly Node[] = []): Recalculated {
    if (cells.length + fresh.length === 0) return { changed: [], notFinal: [], refilled: [] };
    return this.work([...this.dynamic, ...fresh], cells);
  }

  /** Computes these formulas, and all that depends on them or on these cells, in the order in which they rest on each other. */
  private work(nodes: readonly Node[], cells: readonly Touched[]): Recalculated {
    const run = new CalcRun(++this.runs, nodes, cells);
    this.running = run;
    const became: Recalculated = { changed: [], notFinal: [], refilled: [] };
    /** Cells into which results spilled that no formula filled before. */
    const beyond: Touched[] = [];
    const dynamic = new Set(this.dynamic);
    for (let node = run.next(); node; node = run.next()) {
      const isDynamic = dynamic.has(node);
      if (node.isTainted || (node.isTouched && node.why !== null)) {
        node.isTainted = true;
        became.notFinal.push({ ...placeOf(node), why: this.whyTainted(node) });
        run.finish(node, node.area, false);
      } else if (!node.isTouched) run.finish(node, node.area, false);
      else {
        const result = this.resultIn(run, node, isDynamic);
        if (result) this.take(run, node, result, { isDynamic, became, beyond });
      }
    }
    this.tellLeft(run.left(), became.notFinal);
    return joined(became, this.recompute(beyond));
  }

  /** What a formula comes to; null where that is not known yet, and it comes to its turn again. */
  private resultIn(run: CalcRun, node: Node, isDynamic: boolean): Matrix | null {
    this.watched = isDynamic ? node : null;
    try {
      const result = this.evaluated(node);
      if (!node.isTainted) return result;
      run.again(node);
      return null;
    } catch (error) {
      if (!(error instanceof NotYet)) throw error;
      run.waitFor(error.node, node);
      return null;
    } finally {
      this.watched = null;
    }
  }

  /** Puts what a formula comes to where it belongs, and tells those who look at it. */
  private take(
    run: CalcRun,
    node: Node,
    result: Matrix,
    told: { isDynamic: boolean; became: Recalculated; beyond: Touched[] },
  ): void {
    const { isDynamic, became, beyond } = told;
    const { area } = node;
    // One that is computed at every change, whatever it looks at, is another only if that can be told.
    if (isDynamic && this.differs(node, result) === null) {
      run.finish(node, area, false);
      return;
    }
    const found = this.placed(node, result);
    became.changed.push(...found);
    if (node.area !== area) became.refilled.push({ ...placeOf(node), area: node.area });
    for (const { row, column } of found) {
      if (!holds(area, { row, column })) beyond.push({ sheet: node.sheet, row, column });
    }
    run.finish(node, area, found.length > 0);
  }

  /** What never came to its turn goes round in a circle, or rests on what does. */
  private tellLeft(left: readonly Node[], notFinal: NotOurs[]): void {
    if (left.length > 0) this.nameCircles(left);
    for (const node of left) {
      node.isTainted = true;
      const why = node.why ?? 'it rests on formulas that go round in a circle';
      notFinal.push({ ...placeOf(node), why });
    }
  }

  /** Puts a result where it belongs; one that spills fills as many cells as it has values, if they are free. */
  private placed(node: Node, result: Matrix): ChangedCell[] {
    if (node.array?.kind !== 'spilling') return this.place(node, this.padded(node, result), true);
    const { row, column, sheet } = node;
    const area = {
      top: row,
      left: column,
      bottom: Math.min(MAX_ROWS, row + result.length - 1),
      right: Math.min(MAX_COLUMNS, column + (result[0]?.length ?? 1) - 1),
    };
    const isFree = this.isFree(node, area);
    const before = node.area;
    this.release(node);
    const now = isFree ? area : { top: row, left: column, bottom: row, right: column };
    const emptied: ChangedCell[] = [];
    for (let r = before.top; r <= before.bottom; r++) {
      for (let c = before.left; c <= before.right; c++) {
        if (r === row && c === column) continue;
        if (holds(now, { row: r, column: c })) continue;
        const value = sheet.values.get(keyOf(r, c)) ?? null;
        if (this.put(sheet, r, c, null)) {
          emptied.push({ sheet: sheet.name, row: r, column: c, before: value, after: null });
        }
      }
    }
    this.undo?.push(() => {
      this.release(node);
      node.area = before;
      this.claim(node);
    });
    if (formatArea(now) !== formatArea(before)) node.area = now;
    this.claim(node);
    return [
      ...emptied,
      ...this.place(node, isFree ? result : [[new FormulaError('#SPILL!')]], true),
    ];
  }

  private isFree(node: Node, area: Area): boolean {
    const { sheet } = node;
    for (let row = area.top; row <= area.bottom; row++) {
      for (let column = area.left; column <= area.right; column++) {
        const key = keyOf(row, column);
        const owner = sheet.nodes.get(key) ?? sheet.filledBy.get(key);
        if (owner === node) continue;
        if (owner || sheet.values.has(key)) return false;
      }
    }
    return true;
  }

  private whyTainted(node: Node): string {
    if (node.why !== null) return node.why;
    let root = node;
    for (let at = 0; at < 1_000 && root.taintedBy; at++) root = root.taintedBy;
    return `it rests on ${nameOfPlace(placeOf(root))}: ${root.why ?? 'that is not computed here'}`;
  }

  /** Names the circles that some formulas go round in: such a formula is not computed here. */
  private nameCircles(nodes: readonly Node[]): void {
    for (const circle of circlesAmong(nodes, (node) => this.readersOf(node))) {
      const said = circle
        .slice(0, 5)
        .map((node) => nameOfPlace(placeOf(node)))
        .join(' → ');
      for (const node of circle) {
        const { why } = node;
        this.undo?.push(() => {
          node.why = why;
        });
        node.why = `${ROUND}: ${said}`;
      }
    }
  }

  private readersOf({ sheet, area }: Node): readonly Node[] {
    const found: Node[] = [];
    for (let row = area.top; row <= area.bottom; row++) {
      for (let column = area.left; column <= area.right; column++) {
        found.push(...(sheet.readers.get(keyOf(row, column)) ?? []));
        sheet.ranges.at(row, column, ({ readers }) => {
          for (const reader of readers) found.push(reader);
        });
      }
    }
    return found;
  }
}

/** An empty cell that a formula gives shows as 0 (common practice). */
const shown = (value: Scalar): Scalar => (value === null ? 0 : value);

const nameOfPlace = ({ sheet, row, column }: CellPlace) =>
  `${quoteSheet(sheet)}!${formatCell({ row, column })}`;

/** Two runs one after the other: a cell that both changed is told once. */
function joined(first: Recalculated, second: Recalculated): Recalculated {
  if (second.changed.length === 0 && second.notFinal.length === 0) return first;
  const changed = new Map<string, ChangedCell>();
  for (const each of [...first.changed, ...second.changed]) {
    const before = changed.get(nameOfPlace(each))?.before;
    changed.set(nameOfPlace(each), before === undefined ? each : { ...each, before });
  }
  return {
    changed: [...changed.values()],
    notFinal: [...first.notFinal, ...second.notFinal],
    refilled: [...first.refilled, ...second.refilled],
  };
}

function isSameScalar(a: Scalar, b: Scalar): boolean {
  if (a instanceof FormulaError) return b instanceof FormulaError && a.code === b.code;
  return Object.is(a, b) || a === b;
}

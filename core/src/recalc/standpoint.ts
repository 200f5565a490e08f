import type { Formula, Scope, TableReference } from '../formula/evaluate.ts';
import type { Line } from '../formula/line.ts';
import type { CellValues, FormulaError, RangeValue } from '../formula/value.ts';
import type { Area } from '../sheet/address.ts';
import type { RowRun } from '../sheet/sheet.ts';
import type { Node, Sheet } from './node.ts';

/** What all formulas of a book can see. */
export interface Environment {
  cells: CellValues;
  now: number;
  sheetNames: readonly string[];
  lines: Map<string, Line>;
  nodeAt(sheet: string, row: number, column: number): Node | null;
  nameOf(name: string, sheet: Sheet): Formula | null;
  tableRange(reference: TableReference, node: Node): RangeValue | FormulaError;
  hiddenRows(sheet: string): readonly RowRun[];
}

/** What one formula sees from where it stands. */
export class Standpoint implements Scope {
  constructor(
    private readonly node: Node,
    private readonly environment: Environment,
  ) {}

  get sheet() {
    return this.node.sheet.name;
  }
  get row() {
    return this.node.row;
  }
  get column() {
    return this.node.column;
  }
  get origin() {
    return this.node.origin;
  }
  get cells() {
    return this.environment.cells;
  }
  get now() {
    return this.environment.now;
  }
  get sheetNames() {
    return this.environment.sheetNames;
  }
  get lines() {
    return this.environment.lines;
  }

  name(name: string): Formula | null {
    return this.environment.nameOf(name, this.node.sheet);
  }

  table(reference: TableReference): RangeValue | FormulaError {
    return this.environment.tableRange(reference, this.node);
  }

  spill(sheet: string, row: number, column: number): Area | null {
    const found = this.environment.nodeAt(sheet, row, column);
    return found?.array ? found.area : null;
  }

  formulaAt(sheet: string, row: number, column: number) {
    const found = this.environment.nodeAt(sheet, row, column);
    return found?.formula ? { isSubtotal: isSubtotal(found.formula), text: found.text } : null;
  }

  isRowHidden(sheet: string, row: number): boolean {
    return this.environment
      .hiddenRows(sheet)
      .some(({ from, to, hidden }) => hidden && row >= from && row <= to);
  }
}

const isSubtotal = ({ text }: Formula) => /\b(?:SUBTOTAL|AGGREGATE)\s*\(/i.test(text);

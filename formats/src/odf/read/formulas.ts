import {
  type ArrayFormula,
  type CalcCell,
  FormulaError,
  isoToSerial,
  MAX_ROWS,
  type Scalar,
} from '@tether/core';
import type { Attributes } from '../../package/xml.ts';
import { MAX_COMPUTED_CELLS } from '../../source.ts';
import { plainFormula } from './formula.ts';
import { type RawValue, rawValue } from './reading.ts';
import type { CellContent, TableVisitor } from './table-events.ts';

/** Gathers the values and formulas of a sheet as they stand in the file. */
export class FormulaReading implements TableVisitor {
  readonly top = 1;
  readonly bottom = MAX_ROWS;
  readonly withContent = true;
  readonly cells: CalcCell[] = [];
  readonly arrays: ArrayFormula[] = [];
  isCut = false;
  onDone = () => {};

  constructor(private readonly sheet: string) {}

  table(name: string): boolean {
    return name === this.sheet;
  }

  tableEnd(): void {
    this.onDone();
  }

  cell(
    row: { from: number; to: number },
    column: { from: number; to: number },
    attributes: Attributes,
    content: CellContent,
  ): void {
    const raw = rawValue(attributes, content);
    const { formula } = attributes;
    if (!raw && formula === undefined) return;
    const count = (row.to - row.from + 1) * (column.to - column.from + 1);
    if (this.cells.length + count > MAX_COMPUTED_CELLS) {
      this.isCut = true;
      return;
    }
    const value = raw ? scalarIn(raw) : '';
    for (let r = row.from; r <= row.to; r++) {
      for (let c = column.from; c <= column.to; c++) {
        const plain = formula === undefined ? {} : { formula: plainFormula(formula) };
        this.cells.push({ row: r, column: c, value, ...plain });
      }
    }
    const [down, across] = [
      Number(attributes['number-matrix-rows-spanned'] ?? 0),
      Number(attributes['number-matrix-columns-spanned'] ?? 0),
    ];
    if (!(down >= 1 && across >= 1)) return;
    const area = {
      top: row.from,
      left: column.from,
      bottom: row.from + down - 1,
      right: column.from + across - 1,
    };
    this.arrays.push({ row: row.from, column: column.from, area, kind: 'fixed' });
  }
}

function scalarIn(raw: RawValue): Scalar | undefined {
  switch (raw.type) {
    case 'uncomputed':
      return undefined;
    case 'date':
      return isoToSerial(raw.iso, '1900');
    case 'error':
      return new FormulaError(raw.value);
    default:
      return raw.value;
  }
}

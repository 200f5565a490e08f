import { shiftFormula } from '@tether/core';
import type { RawCell } from './cells.ts';
import type { SheetVisitor } from './sheet-scan.ts';

/** A cell that cannot be built before all of its rows have been seen. */
export class WaitingCell {
  constructor(
    readonly raw: RawCell,
    readonly shared: number | null,
    /** Its place among the cells that were found. */
    readonly at: number,
  ) {}

  get lacksFormula(): boolean {
    return this.shared !== null && !this.raw.formula;
  }
}

/** The formulas that cells share: the first cell has the text, the others are copies of it (18.3.1.40). */
export class SharedFormulas {
  private readonly known = new Map<
    number,
    { row: number; column: number; at: ReturnType<typeof shiftFormula> }
  >();

  add(index: number, formula: string, row: number, column: number): void {
    this.known.set(index, { row, column, at: shiftFormula(formula) });
  }

  has(index: number): boolean {
    return this.known.has(index);
  }

  clear(): void {
    this.known.clear();
  }

  /** The formula of one of the sharing cells; null when the first of them is nowhere. */
  at(index: number, { row, column }: { row: number; column: number }): string | null {
    const first = this.known.get(index);
    return first ? first.at(row - first.row, column - first.column) : null;
  }

  /** Gathers the first cells that stand above the rows that were read. */
  visitorUntil(bottom: number): SheetVisitor {
    return {
      top: 1,
      bottom,
      restart() {},
      cell: (row, column, _style, _type, _value, formula, shared) => {
        if (shared !== null && formula) this.add(shared, formula, row, column);
      },
    };
  }
}

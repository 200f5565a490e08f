import {
  type ArrayFormula,
  type CalcCell,
  FormulaError,
  isoToSerial,
  MAX_ROWS,
  parseReference,
  type Scalar,
} from '@tether/core';
import { scanXml, truth } from '../../package/xml.ts';
import { MAX_COMPUTED_CELLS } from '../../source.ts';
import { isUncomputed } from './sheet/cells.ts';
import { SharedFormulas } from './sheet/shared-formulas.ts';
import type { SheetVisitor } from './sheet/sheet-scan.ts';
import { unescapeText } from './text.ts';

/** Gathers the values and formulas of a sheet as they stand in the file. */
export class FormulaReading implements SheetVisitor {
  readonly top = 1;
  readonly bottom = MAX_ROWS;
  readonly indexes = new Set<number>();
  private found: { cell: CalcCell; text: number | null; shared: number | null }[] = [];
  private readonly formulas = new SharedFormulas();

  isCut = false;

  restart(): void {
    this.found = [];
    this.isCut = false;
    this.indexes.clear();
    this.formulas.clear();
  }

  cell(
    row: number,
    column: number,
    _style: number,
    type: string,
    value: string | number | null,
    formula: string | null,
    shared: number | null,
  ): void {
    const isFormula = (formula !== null && formula !== '') || shared !== null;
    if (!isFormula && (value === null || value === '')) return;
    if (this.found.length >= MAX_COMPUTED_CELLS) {
      this.isCut = true;
      return;
    }
    if (shared !== null && formula) this.formulas.add(shared, formula, row, column);
    const text = type === 's' && typeof value === 'number' ? value : null;
    if (text !== null) this.indexes.add(text);
    const cell: CalcCell = { row, column, value: null };
    if (isUncomputed(type, value, formula || null, shared)) cell.value = undefined;
    else if (text === null) cell.value = scalarIn(type, value);
    if (formula) cell.formula = unescapeText(formula);
    this.found.push({ cell, text, shared: formula ? null : shared });
  }

  /** The cells, once the shared texts are known. */
  cells(strings: ReadonlyMap<number, string>): CalcCell[] {
    return this.found.map(({ cell, text, shared }) => {
      if (text !== null) cell.value = strings.get(text) ?? '';
      const formula = shared === null ? null : this.formulas.at(shared, cell);
      if (formula !== null) cell.formula = unescapeText(formula);
      return cell;
    });
  }
}

function scalarIn(type: string, value: string | number | null): Scalar {
  if (value === null) return type === 'str' ? '' : null;
  switch (type) {
    case 'b':
      return truth(String(value));
    case 'e':
      return new FormulaError(String(value));
    case 'd':
      return isoToSerial(String(value), '1900');
    default:
      return typeof value === 'number' ? value : unescapeText(value);
  }
}

/** Looks through the pieces of a sheet part for an element of a formula, whatever its prefix. */
export class FormulaSearch {
  isFound = false;
  private rest: Buffer = Buffer.alloc(0);

  /** False when nothing more is needed. */
  take(piece: Buffer): boolean {
    // An element may be cut between two pieces.
    const seam = Buffer.concat([this.rest, piece.subarray(0, 2)]);
    this.isFound ||= hasFormula(seam) || hasFormula(piece);
    this.rest = piece.subarray(Math.max(0, piece.length - 2));
    return !this.isFound;
  }
}

// The letter first: it is rare in a sheet, and brackets are not.
const ENDS = [Buffer.from('f>'), Buffer.from('f '), Buffer.from('f/')];
const [LESS, COLON] = [0x3c, 0x3a];

function hasFormula(bytes: Buffer): boolean {
  return ENDS.some((each) => {
    for (let at = bytes.indexOf(each); at >= 0; at = bytes.indexOf(each, at + 1)) {
      const before = bytes[at - 1];
      if (before === LESS || before === COLON) return true;
    }
    return false;
  });
}

/** The formulas of a sheet part that fill several cells (18.3.1.40, 18.18.6), spilling ones by their cell's metadata (`cm`, 18.3.1.4). */
export function arrayFormulasIn(bytes: Buffer): ArrayFormula[] {
  if (!bytes.includes('"array"') && !bytes.includes("'array'") && !bytes.includes('dataTable')) {
    return [];
  }
  const arrays: ArrayFormula[] = [];
  let isSpilling = false;
  scanXml(bytes, {
    open(name, attributes) {
      if (name === 'c') isSpilling = attributes.cm !== undefined;
      if (name !== 'f' || (attributes.t !== 'array' && attributes.t !== 'dataTable')) return;
      const reference = parseReference(attributes.ref ?? '');
      if (!reference.ok) return;
      const { area } = reference.value;
      const kind = attributes.t === 'dataTable' ? 'what-if' : isSpilling ? 'spilling' : 'fixed';
      arrays.push({ row: area.top, column: area.left, area, kind });
    },
    text() {},
    close() {},
  });
  return arrays;
}

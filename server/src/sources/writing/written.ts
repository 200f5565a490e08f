import type { SourceReading } from '@tether/contract';
import type { Area, CellPlace, CellType, NotOurs } from '@tether/core';

/** A value as it goes from one thread to another. */
export type PlainValue = number | string | boolean | null | { error: string };

/** A cell to be written. */
export interface WishedCell extends CellPlace {
  value: PlainValue;
  isOverFormula: boolean;
  /** The formula that it gets, without its `=`; the value is what that comes to. */
  formula?: string | undefined;
}

/** What a thread that writes is asked. */
export interface WritingTask {
  path: string;
  shownPath: string;
  reading: SourceReading | null;
  cells: WishedCell[];
  /** Write it, if the file still has this hash, and keep it as it was there; else only say what would be written. */
  write: { hash: string; backup: string } | null;
}

/** A cell before and after. */
export interface PlainChange extends CellPlace {
  before: PlainValue;
  after: PlainValue;
}

/** A cell that is written, with the formulas that stood and will stand in it. */
export interface WrittenCell extends PlainChange {
  formulaBefore?: string;
  formulaAfter?: string;
}

/** What is or would be written. */
export interface FileWritten {
  /** Hash of the file as it was looked at. */
  hash: string;
  written: WrittenCell[];
  recalculated: PlainChange[];
  notFinal: NotOurs[];
  losesSignature: boolean;
}

/** Rows or columns that are or would be put into a source or taken out of it. */
export interface LinesWritten {
  /** Hashes of the file as it was looked at and as it is or would be then. */
  hash: string;
  after: string;
  /** Filled cells that go. */
  taken: number;
  /** Formulas that are written otherwise, and those of them that lost what they looked at. */
  follows: { formulas: number; lost: number };
  recalculated: number;
  notFinal: NotOurs[];
  losesSignature: boolean;
  hasPrograms: boolean;
}

/** A cell of a source as it is now. */
export interface CellLooked extends CellPlace {
  value: PlainValue;
  formula: string | null;
  /** What it shows. */
  text: string;
  type: CellType;
  format: string | undefined;
  /** Texts beside and above it, by which it is known again when the file was changed. */
  landmark: string;
  /** The merged cells of which it is part, where they show the first one. */
  merge: Area | null;
}

/** Some cells of a source as they are now. */
export interface CellsLooked {
  /** Hash of the file that was looked at. */
  hash: string;
  cells: CellLooked[];
  /** Why formulas that somebody typed cannot be written there, one by one; null for one that can. */
  formulas: (string | null)[];
}

/** A value in words, for a log or a slip. */
export function valueWords(value: PlainValue): string {
  if (value === null) return '';
  if (typeof value === 'object') return value.error;
  if (typeof value === 'boolean') return value ? 'TRUE' : 'FALSE';
  return typeof value === 'number' ? String(Number(value.toPrecision(12))) : value;
}

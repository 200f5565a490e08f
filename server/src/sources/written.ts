import type { SourceReading } from '@tether/contract';
import type { CellPlace, NotOurs } from '@tether/core';

/** A value as it goes from one thread to another. */
export type Passed = number | string | boolean | null | { error: string };

/** A cell to be written. */
export interface WishedCell extends CellPlace {
  value: Passed;
  isOverFormula: boolean;
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
export interface PassedChange extends CellPlace {
  before: Passed;
  after: Passed;
}

/** What is or would be written. */
export interface FileWritten {
  /** Hash of the file as it was looked at. */
  hash: string;
  written: PassedChange[];
  recalculated: PassedChange[];
  notFinal: NotOurs[];
  losesSignature: boolean;
}

/** A value in words, for a log or a slip. */
export function said(value: Passed): string {
  if (value === null) return '';
  if (typeof value === 'object') return value.error;
  if (typeof value === 'boolean') return value ? 'TRUE' : 'FALSE';
  return typeof value === 'number' ? String(Number(value.toPrecision(12))) : value;
}

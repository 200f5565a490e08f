/** What a change of rows or columns cannot be made for, in words. */
export class CannotFollow extends Error {}

/** A source in which rows or columns were put in or taken out. */
export interface MovedLines {
  bytes: Buffer;
  /** Parts of a package that are other than before. */
  changed: string[];
  /** Formulas, names, rules and charts that are written otherwise now; of them those that lost something they looked at. */
  follows: { formulas: number; lost: number };
  losesSignature: boolean;
  /** Whether a workbook has programs of its own, which do not follow. */
  hasPrograms: boolean;
}

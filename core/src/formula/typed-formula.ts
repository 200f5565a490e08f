import type { TableObject } from '../sheet/sheet.ts';
import { parseFormula } from './evaluate.ts';

/** What formulas of a workbook can name. */
export interface Known {
  sheets: readonly string[];
  tables: readonly Pick<TableObject, 'name' | 'columns'>[];
}

/** A formula may be so long (ECMA-376 Part 1, 18.17: common practice of programs). */
const LONGEST = 8_192;

/**
 * Why a formula that somebody typed cannot be written into a workbook, in words that follow a colon; null where it can. One that
 * names a sheet, a table or a file that is not there would damage the file for other programs; an unknown function or name
 * only shows an error.
 */
export function whyNotTyped(text: string, { sheets, tables }: Known): string | null {
  if (text.length > LONGEST) return `it is longer than ${LONGEST.toLocaleString('en')} signs`;
  const formula = parseFormula(text);
  if (!formula) return 'it does not read as one';
  if (/\b(?:LET|LAMBDA)\s*\(/i.test(text))
    return 'names made within a formula are not written here';
  const isSame = (a: string, b: string) => a.toLowerCase() === b.toLowerCase();
  for (const { sheet } of formula.references) {
    if (sheet !== null && !sheets.some((each) => isSame(each, sheet))) {
      return `there is no sheet ${sheet}`;
    }
  }
  for (const { table, columns } of formula.tables) {
    // Only a cell of a table can leave its name out, and which one that is is not known here.
    const found = tables.find(({ name }) => isSame(name, table));
    if (!found) return table === '' ? 'it does not name its table' : `there is no table ${table}`;
    const missing = columns.find((each) => !found.columns.some((column) => isSame(column, each)));
    if (missing !== undefined) return `the table ${found.name} has no column ${missing}`;
  }
  // What reads as a reference and is none of this workbook: of a file elsewhere, or over several sheets.
  const strange = formula.unknown.find((each) => /[![]/.test(each));
  return strange === undefined ? null : `${strange} is not in this workbook`;
}

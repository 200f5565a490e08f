import {
  CalcBook,
  type CalcCell,
  type CalcSheet,
  type CellPlace,
  ok,
  type Result,
} from '@tether/core';
import { serialNow } from '../now.ts';
import type { OpenSource } from '../source.ts';

/** Why the formulas of a source are not computed. */
export type NotComputed = 'no formulas' | 'too large';

interface LoadOptions {
  /** Whether one without formulas is made ready as well, since it will get some. */
  withoutFormulasToo?: boolean;
  /** Formulas whose results in the file are no more to be believed: they are computed. */
  isOpen?: (place: CellPlace) => boolean;
}

/**
 * A source made ready for computing its formulas, or why it is not. Faults: those of reading.
 */
export async function loadBook(
  source: OpenSource,
  { withoutFormulasToo = false, isOpen = () => false }: LoadOptions = {},
): Promise<Result<CalcBook | NotComputed>> {
  const any = await source.hasFormulas();
  if (!any.ok) return any;
  if (!any.value && !withoutFormulasToo) return ok('no formulas');
  const sheets: CalcSheet[] = [];
  for (const { name } of source.sheets) {
    const read = await source.readFormulas(name);
    if (!read.ok) return read;
    const { cells, arrays, isCut } = read.value;
    if (isCut) return ok('too large');
    const rows = await source.readRows(name);
    if (!rows.ok) return rows;
    const hidden = rows.value.runs.filter((run) => run.hidden);
    const opened = cells.map((cell): CalcCell => {
      const { formula, row, column } = cell;
      const isMeant = formula !== undefined && isOpen({ sheet: name, row, column });
      return isMeant ? { ...cell, value: undefined } : cell;
    });
    sheets.push({ name, cells: opened, arrays, hidden });
  }
  const isWithout = sheets.every(({ cells }) => [...cells].every(({ formula }) => !formula));
  if (isWithout && !withoutFormulasToo) return ok('no formulas');
  const tables = await source.readTables();
  if (!tables.ok) return tables;
  const now = source.dateSystem === '1900' ? serialNow() : null;
  return ok(CalcBook.load({ sheets, names: source.names, tables: tables.value, now }));
}

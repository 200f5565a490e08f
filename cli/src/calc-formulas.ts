import {
  type Cell,
  type FormulaCheck,
  FormulaError,
  fail,
  findSheet,
  formatCell,
  ok,
  type Result,
  type Scalar,
} from '@tether/core';
import { loadBook, type OpenSource } from '@tether/formats';

type Said = Cell['value'] | null;

/** What the formulas of a file come to, as it is printed. */
interface Computed {
  cells: {
    sheet: string;
    ref: string;
    formula: string;
    /** What the file says; null where it says nothing. */
    stored: Said;
    computed: Said;
    status: FormulaCheck['status'];
    why: string | null;
  }[];
  counts: Record<FormulaCheck['status'], number>;
}

/**
 * Computes every formula of a file anew and compares it with what the file says. Faults: `sheet-missing`, `calc-too-large`
 * and those of reading.
 */
export async function calcFormulas(
  source: OpenSource,
  sheet: string | undefined,
): Promise<Result<Computed>> {
  const only = sheet === undefined ? null : findSheet(source.sheets, sheet);
  if (only === undefined) {
    const sheets = source.sheets.map(({ name }) => name).join(', ');
    return fail('sheet-missing', { sheet: sheet ?? '', sheets });
  }
  const book = await loadBook(source);
  if (!book.ok) return book;
  if (book.value === 'too large') return fail('calc-too-large');
  const checks = typeof book.value === 'string' ? [] : book.value.check();
  const counts: Computed['counts'] = { same: 0, differs: 0, 'not computed': 0, volatile: 0 };
  const cells = checks
    .filter((check) => only === null || check.sheet === only.name)
    .map(({ sheet: name, row, column, formula, stored, computed, status, why }) => {
      counts[status]++;
      const ref = formatCell({ row, column });
      const [before, after] = [said(stored ?? null), said(computed)];
      return { sheet: name, ref, formula, stored: before, computed: after, status, why };
    });
  return ok({ cells, counts });
}

const said = (value: Scalar): Said => (value instanceof FormulaError ? value.code : value);

import type { TableReference } from '../formula/evaluate.ts';
import { BAD_REFERENCE, BAD_VALUE, type FormulaError, type RangeValue } from '../formula/value.ts';
import { holds } from '../sheet/address.ts';
import type { TableObject } from '../sheet/sheet.ts';
import type { CellPlace } from './calc-source.ts';

/**
 * The cells of a part of a table object, as a formula in a cell means it (ECMA-376 Part 1, 18.17.2.5); an error where the table
 * has no such part.
 */
export function tableRange(
  tables: readonly TableObject[],
  { table: said, columns, sections }: TableReference,
  from: CellPlace,
): RangeValue | FormulaError {
  const wanted = said.toLowerCase();
  const table =
    wanted === ''
      ? tables.find(({ sheet, area }) => sheet === from.sheet && holds(area, from))
      : tables.find(({ name }) => name.toLowerCase() === wanted);
  if (!table) return BAD_REFERENCE;
  const { area } = table;
  const rows = sections.includes('this row') ? rowOf(table, from.row) : rowsOf(table, sections);
  if (rows === null) return BAD_VALUE;
  if (rows.bottom < rows.top) return BAD_REFERENCE;
  const places = columns.map((name) =>
    table.columns.findIndex((each) => each.toLowerCase() === name.toLowerCase()),
  );
  if (places.includes(-1)) return BAD_REFERENCE;
  const across =
    places.length === 0
      ? { left: area.left, right: area.right }
      : { left: area.left + Math.min(...places), right: area.left + Math.max(...places) };
  return { sheet: table.sheet, area: { ...rows, ...across } };
}

interface Rows {
  top: number;
  bottom: number;
}

const dataOf = ({ area, headerRows, totalsRows }: TableObject): Rows => ({
  top: area.top + headerRows,
  bottom: area.bottom - totalsRows,
});

function rowOf(table: TableObject, row: number): Rows | null {
  const { top, bottom } = dataOf(table);
  return row >= top && row <= bottom ? { top: row, bottom: row } : null;
}

function rowsOf(table: TableObject, sections: readonly string[]): Rows {
  const { area, headerRows, totalsRows } = table;
  if (sections.length === 0) return dataOf(table);
  const parts = sections.map((section): Rows => {
    switch (section) {
      case 'all':
        return { top: area.top, bottom: area.bottom };
      case 'headers':
        return { top: area.top, bottom: area.top + headerRows - 1 };
      case 'totals':
        return { top: area.bottom - totalsRows + 1, bottom: area.bottom };
      default:
        return dataOf(table);
    }
  });
  return {
    top: Math.min(...parts.map(({ top }) => top)),
    bottom: Math.max(...parts.map(({ bottom }) => bottom)),
  };
}

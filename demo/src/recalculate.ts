import type exceljs from 'exceljs';

type Plain = number | string | boolean | Date | null;

/**
 * Works out every formula of the workbook and stores the results, as the spreadsheet program of a colleague does
 * before it saves. Enough for the demo's own workbooks: sums, shares, counts and the like.
 */
export async function recalculate(workbook: exceljs.Workbook): Promise<void> {
  const { default: FormulaParser } = await import('fast-formula-parser');
  const known = new Map<string, Plain>();
  const parser = new FormulaParser({
    onCell: ({ sheet, row, col }) => evaluate(sheet, row, col),
    onRange: ({ sheet, from, to }) => {
      const rows: Plain[][] = [];
      for (let row = from.row; row <= to.row; row++) {
        rows.push([]);
        for (let col = from.col; col <= to.col; col++) rows.at(-1)!.push(evaluate(sheet, row, col));
      }
      return rows;
    },
  });

  function evaluate(sheet: string, row: number, column: number): Plain {
    const worksheet = workbook.getWorksheet(sheet);
    const value = worksheet?.getCell(row, column).value ?? null;
    if (!isFormula(value)) return value as Plain;
    const key = `${sheet}!${row},${column}`;
    if (!known.has(key)) {
      known.set(key, null);
      const result: unknown = parser.parse(value.formula, { sheet, row, col: column });
      known.set(key, isPlain(result) ? result : null);
    }
    return known.get(key)!;
  }

  for (const worksheet of workbook.worksheets) {
    worksheet.eachRow((row, rowNumber) => {
      row.eachCell((cell, columnNumber) => {
        if (!isFormula(cell.value)) return;
        const result = evaluate(worksheet.name, rowNumber, columnNumber);
        cell.value = { formula: cell.value.formula, result: result ?? 0 };
      });
    });
  }
}

function isFormula(value: unknown): value is { formula: string } {
  return typeof value === 'object' && value !== null && 'formula' in value;
}

function isPlain(value: unknown): value is number | string | boolean {
  return ['number', 'string', 'boolean'].includes(typeof value);
}

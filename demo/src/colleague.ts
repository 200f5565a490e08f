import { readFile, rename, writeFile } from 'node:fs/promises';
import { columnNumber, parseReference } from '@tether/core';
import type exceljs from 'exceljs';
import { keepChart } from './charts.ts';
import { recalculate } from './recalculate.ts';
import { emptyWorkbook } from './workbook.ts';

/** One thing a colleague does to a sheet before saving. Rows count from 1. */
export type ColleagueEdit =
  | { kind: 'set'; sheet: string; row: number; column: number; value: string | number | boolean }
  | { kind: 'insert row'; sheet: string; row: number; values: (string | number)[] }
  | { kind: 'remove row'; sheet: string; row: number };

/** How the colleague's program saves: a new file put in place by name, or writing over the old one. */
export type SavingHabit = 'rename' | 'in place';

/**
 * Opens the workbook at `path`, makes the edits, recalculates and saves it, as a colleague with a spreadsheet program
 * would. Throws when the workbook cannot be opened or an edit names a sheet it does not have.
 */
export async function saveAsColleague(
  path: string,
  edits: readonly ColleagueEdit[],
  habit: SavingHabit = 'rename',
): Promise<void> {
  const before = await readFile(path);
  const workbook = await emptyWorkbook();
  await workbook.xlsx.load(Uint8Array.from(before).buffer);
  for (const edit of edits) {
    const sheet = workbook.getWorksheet(edit.sheet);
    if (!sheet) throw new Error(`The workbook has no sheet “${edit.sheet}”.`);
    const names = rangesOf(workbook);
    if (edit.kind === 'set') sheet.getCell(edit.row, edit.column).value = edit.value;
    else if (edit.kind === 'insert row') {
      sheet.insertRow(edit.row, edit.values, 'i');
      shiftFormulas(sheet, edit.row, 1);
      shiftNames(workbook, sheet, names, edit.row, 1);
    } else {
      sheet.spliceRows(edit.row, 1);
      shiftFormulas(sheet, edit.row, -1);
      shiftNames(workbook, sheet, names, edit.row, -1);
    }
  }
  await recalculate(workbook);
  const saved = new Uint8Array(await workbook.xlsx.writeBuffer());
  const moves = edits.flatMap((edit) =>
    edit.kind === 'set'
      ? []
      : [{ sheet: edit.sheet, from: edit.row, by: edit.kind === 'insert row' ? 1 : -1 }],
  );
  const bytes = keepChart(before, saved, moves);
  if (habit === 'in place') await writeFile(path, bytes);
  else {
    await writeFile(`${path}.saving`, bytes);
    await rename(`${path}.saving`, path);
  }
}

/** References of the sheet's formulas to rows at or below `from` move along with them. */
function shiftFormulas(sheet: exceljs.Worksheet, from: number, by: number): void {
  sheet.eachRow((row) => {
    row.eachCell((cell) => {
      const { value } = cell;
      if (typeof value !== 'object' || value === null || !('formula' in value)) return;
      if (value.formula === undefined) return;
      const formula = value.formula.replace(
        /(\$?[A-Z]{1,3}\$?)(\d+)/g,
        (_, column: string, number: string) =>
          `${column}${Number(number) >= from ? Number(number) + by : number}`,
      );
      cell.value = { formula, result: value.result ?? 0 };
    });
  });
}

interface NamedRanges {
  name: string;
  ranges: string[];
}

function rangesOf(workbook: exceljs.Workbook): NamedRanges[] {
  const { model } = workbook.definedNames as unknown as { model: NamedRanges[] };
  return structuredClone(model);
}

/** Defined names and conditional formats of the sheet go along with their rows, as a spreadsheet program moves them. */
function shiftNames(
  workbook: exceljs.Workbook,
  sheet: exceljs.Worksheet,
  names: readonly NamedRanges[],
  from: number,
  by: number,
): void {
  const shifted = (range: string) =>
    range.replace(
      /(\$?[A-Z]{1,3}\$?)(\d+)/g,
      (_, column: string, row: string) =>
        `${column}${Number(row) >= from ? Number(row) + by : row}`,
    );
  const own = new RegExp(`^'?${sheet.name.replace(/[^\w ]/g, '\\$&')}'?!`);
  // The library parts a range in which a row was put in: what stood before is moved as a whole.
  (workbook.definedNames as unknown as { model: NamedRanges[] }).model = names.map(
    ({ name, ranges }) => ({
      name,
      ranges: ranges.map((range) => {
        const mark = range.lastIndexOf('!') + 1;
        return own.test(range) ? range.slice(0, mark) + shifted(range.slice(mark)) : range;
      }),
    }),
  );
  const formats = sheet as unknown as { conditionalFormattings: { ref: string }[] };
  for (const format of formats.conditionalFormattings) format.ref = shifted(format.ref);
}

/**
 * Reads an edit as the command line writes it: `Counts!D8=104` sets a cell, `+Counts!9=SC-13,Sea aster,150,120` puts a
 * row in front of row 9, `-Counts!9` removes row 9. Throws with a sentence when it is none of these.
 */
export function parseEdit(text: string): ColleagueEdit {
  const row = /^([+-])(.+)!(\d+)(?:=(.*))?$/.exec(text);
  if (row) {
    const [, sign, sheet, number, values = ''] = row;
    return sign === '-'
      ? { kind: 'remove row', sheet: sheet!, row: Number(number) }
      : {
          kind: 'insert row',
          sheet: sheet!,
          row: Number(number),
          values: values.split(',').map(toValue),
        };
  }
  const [reference = '', ...rest] = text.split('=');
  const parsed = parseReference(reference);
  if (!parsed.ok || parsed.value.sheet === null || rest.length === 0) {
    throw new Error(`“${text}” is no edit. Write Sheet!D8=104, +Sheet!9=a,b,c or -Sheet!9.`);
  }
  const { sheet, area } = parsed.value;
  return { kind: 'set', sheet, row: area.top, column: area.left, value: toValue(rest.join('=')) };
}

function toValue(text: string): string | number {
  return text.trim() !== '' && Number.isFinite(Number(text)) ? Number(text) : text;
}

/** Shorthand for tests and scripts: sets the cell `D8` of `sheet`. */
export function setCell(
  sheet: string,
  cell: string,
  value: string | number | boolean,
): ColleagueEdit {
  const match = /^([A-Z]+)(\d+)$/.exec(cell)!;
  return { kind: 'set', sheet, column: columnNumber(match[1]!), row: Number(match[2]), value };
}

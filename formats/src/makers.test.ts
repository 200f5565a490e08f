import { readdirSync, readFileSync, statSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { describe, expect, it } from '@jest/globals';
import {
  type Cell,
  formatCell,
  isoToSerial,
  MAX_COLUMNS,
  MAX_ROWS,
  occupiedArea,
} from '@tether/core';
import exceljs from 'exceljs';
import * as xlsx from 'xlsx';
import { openSource } from './open-source.ts';

/*
 * Files of other makers: those that two libraries ship with their tests and examples, read cell by cell against two
 * independent readers (exceljs 4.4.0 and xlsx 0.18.5, MIT and Apache-2.0). They come with the packages at installing
 * and are not kept here: xlsx-stream-reader 1.1.1 (MIT), xlsx-populate 1.21.0 (MIT). Their own documents say with which
 * programs they were written: several spreadsheet programs of different years, one on a telephone, and libraries.
 */
const require = createRequire(import.meta.url);

function filesIn(folder: string): string[] {
  return readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    if (name === 'node_modules') return [];
    if (statSync(path).isDirectory()) return filesIn(path);
    return /\.(xlsx|xlsm)$/.test(name) ? [path] : [];
  });
}
const homes = ['xlsx-stream-reader', 'xlsx-populate'].map((name) =>
  dirname(require.resolve(`${name}/package.json`)),
);
const files = homes.flatMap((home) =>
  filesIn(home).map((path) => [path.slice(dirname(home).length + 1), path]),
);

const LARGE = 1_000_000;

/** A value as both sides can be compared by: numbers to fifteen digits, texts without the ends of lines that differ. */
function plain(value: unknown): string {
  if (typeof value === 'number') return `n ${Number(value.toPrecision(15))}`;
  if (typeof value === 'boolean') return `b ${value}`;
  return `t ${String(value).replace(/\r\n?/g, '\n')}`;
}

function ourValue({ type, value }: Cell, is1904: boolean): string {
  if (type === 'date') return plain(isoToSerial(String(value), is1904 ? '1904' : '1900'));
  return type === 'error' ? `e ${value}` : plain(value);
}

/** What the first reader finds: raw values, by place. */
function byXlsx(sheet: xlsx.WorkSheet): Map<string, string> {
  const found = new Map<string, string>();
  for (const [place, cell] of Object.entries(sheet) as [string, xlsx.CellObject][]) {
    if (place.startsWith('!') || cell.v === undefined || cell.v === '') continue;
    found.set(place, cell.t === 'e' ? `e ${cell.w}` : plain(cell.v));
  }
  return found;
}

/** What the second reader finds. It gives dates as such, and of a formula its result. */
function byExceljs(sheet: exceljs.Worksheet, is1904: boolean): Map<string, string> {
  const found = new Map<string, string>();
  sheet.eachRow((row) =>
    row.eachCell((cell) => {
      // Of merged cells it gives the value for each.
      if (cell.isMerged && cell.master !== cell) return;
      let value: unknown = cell.value;
      if (cell.type === exceljs.ValueType.Formula) value = cell.result;
      if (value === null || value === undefined || value === '') return;
      if (value instanceof Date) {
        const days = (value.getTime() - Date.UTC(1899, 11, 30)) / 86_400_000;
        value = is1904 ? days - 1462 : days;
      } else if (typeof value === 'object') {
        // A link holds its text, and that may have parts.
        if ('text' in value) value = value.text as object;
        const parts = (value as { richText?: { text: string }[] }).richText;
        if (parts) value = parts.map(({ text }) => text).join('');
        else if (typeof value === 'object' && value !== null && 'error' in value) {
          found.set(cell.address, `e ${value.error}`);
          return;
        }
      }
      if (value !== '') found.set(cell.address, plain(value));
    }),
  );
  return found;
}

describe('workbooks of other makers', () => {
  it('are there', () => {
    expect(files.length).toBeGreaterThanOrEqual(20);
  });

  it.each(files)(
    '%s is read as two other readers read it',
    async (name, path) => {
      const source = await openSource(path!, name!);
      const bytes = readFileSync(path!);
      if (bytes.subarray(0, 2).toString() !== 'PK') {
        expect(source.ok ? '' : source.fault.code).toBe('source-password-protected');
        return;
      }
      if (!source.ok) throw new Error(source.fault.message);
      const first = xlsx.read(bytes, { cellNF: true });
      const second = new exceljs.Workbook();
      // The second one takes minutes for a large file, and cannot open every one.
      const isSecondAble =
        bytes.length < LARGE &&
        (await second.xlsx.load(Uint8Array.from(bytes).buffer).then(
          () => true,
          () => false,
        ));
      const is1904 = first.Workbook?.WBProps?.date1904 === true;
      let cells = 0;
      for (const { name: sheet } of source.value.sheets) {
        const occupancy = await source.value.readOccupancy(sheet);
        if (!occupancy.ok) throw new Error(occupancy.fault.message);
        const used = occupiedArea(occupancy.value);
        const area = used ?? { top: 1, left: 1, bottom: 1, right: 1 };
        expect(area.bottom).toBeLessThanOrEqual(MAX_ROWS);
        expect(area.right).toBeLessThanOrEqual(MAX_COLUMNS);
        const read = await source.value.readArea(sheet, area);
        if (!read.ok) throw new Error(read.fault.message);
        const ours = new Map(
          read.value.cells
            .filter(({ type }) => type !== 'blank' && type !== 'uncomputed')
            .map((cell) => [formatCell(cell), ourValue(cell, is1904)]),
        );
        cells += ours.size;
        compare(ours, byXlsx(first.Sheets[sheet]!));
        const other = isSecondAble ? second.getWorksheet(sheet) : undefined;
        if (other) compare(ours, byExceljs(other, is1904));
      }
      await source.value.close();
      expect(cells).toBeGreaterThan(0);
      // One of the other readers takes its time for the largest.
    },
    120_000,
  );
});

function compare(ours: ReadonlyMap<string, string>, theirs: ReadonlyMap<string, string>): void {
  const different = [...new Set([...ours.keys(), ...theirs.keys()])]
    .filter((place) => ours.get(place) !== theirs.get(place))
    .map((place) => [place, ours.get(place), theirs.get(place)]);
  expect(different).toEqual([]);
}

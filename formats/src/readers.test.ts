import { describe, expect, test } from '@jest/globals';
import { type Cell, formatCell, isoToSerial, parseReference, type Snapshot } from '@tether/core';
import { runs } from '@tether/core/testing';
import exceljs from 'exceljs';
import fc from 'fast-check';
import * as xlsx from 'xlsx';
import { writeFixture } from './ooxml/workbook.fixture.ts';
import { openSource } from './open-source.ts';

/*
 * Cell by cell against two independent readers (exceljs 4.4.0, xlsx 0.18.5) over generated workbooks that two
 * independent writers made: values, types, shown texts, formulas, formats, letters, fills, borders, alignment, merged
 * cells, sizes, hidden rows and columns, names, notes, links.
 */

const AREA = 'A1:L40';

async function ours(bytes: Uint8Array, name = 'book.xlsx', sheet = 'Data') {
  const source = await openSource(await writeFixture(bytes, name), name);
  if (!source.ok) throw new Error(source.fault.message);
  const area = parseReference(AREA);
  if (!area.ok) throw new Error(area.fault.message);
  const snapshot = await source.value.readArea(sheet, area.value.area);
  const { names, sheets } = source.value;
  await source.value.close();
  if (!snapshot.ok) throw new Error(snapshot.fault.message);
  return { snapshot: snapshot.value, names, sheets };
}

const filled = ({ cells }: Snapshot): Cell[] => cells.filter(({ type }) => type !== 'blank');

// Dates have formats of their own: before 1900 each reader goes its own way.
const FORMATS = [
  'General',
  '0',
  '0.00',
  '#,##0',
  '#,##0.00',
  '0%',
  '0.0%',
  '0.00E+00',
  '#,##0;[Red]-#,##0',
];
const text = fc
  .string({
    unit: fc.constantFrom('a', 'B', 'é', '<', '&', '"', ' ', '木', '_', 'x'),
    minLength: 1,
    maxLength: 10,
  })
  .filter((words) => words.trim() !== '');
const number = fc.oneof(
  fc.integer({ min: -1_000_000, max: 1_000_000 }),
  fc.integer({ min: 0, max: 9_000_000 }).map((value) => value / 100),
  fc.constantFrom(0, 46_300, 0.1, 1e-7, 123_456_789_012),
);
const date = fc
  .integer({ min: 40_000, max: 50_000 })
  .map((serial) => new Date(Date.UTC(1899, 11, 30) + serial * 86_400_000));
const colour = fc.constantFrom('FF1F7A5C', 'FFB9772A', 'FF3D4FA3', 'FFFFFFFF');
const font = fc.record({
  name: fc.constantFrom('Calibri', 'Arial', 'Georgia'),
  // Whole sizes only: exceljs cuts others.
  size: fc.constantFrom(9, 11, 14),
  bold: fc.boolean(),
  italic: fc.boolean(),
  underline: fc.boolean(),
  strike: fc.boolean(),
  color: colour.map((argb) => ({ argb })),
});
const side = fc.record({
  style: fc.constantFrom('thin', 'medium', 'double', 'dashed'),
  color: colour.map((argb) => ({ argb })),
});
const style = fc.record(
  {
    font,
    fill: colour.map((argb) => ({ type: 'pattern', pattern: 'solid', fgColor: { argb } }) as const),
    border: fc.record({ top: side, left: side, bottom: side, right: side }, { requiredKeys: [] }),
    alignment: fc.record(
      {
        horizontal: fc.constantFrom('left', 'center', 'right'),
        vertical: fc.constantFrom('top', 'middle'),
        wrapText: fc.constant(true),
        textRotation: fc.constantFrom(45, -30),
        indent: fc.constantFrom(1, 3),
      },
      { requiredKeys: [] },
    ),
  },
  { requiredKeys: [] },
);
const content = fc.oneof(
  text.map((value) => ({ value })),
  number.chain((value) => fc.constantFrom(...FORMATS).map((numFmt) => ({ value, numFmt }))),
  date.chain((value) =>
    fc.constantFrom('d mmm yyyy', 'yyyy-mm-dd', 'hh:mm').map((numFmt) => ({ value, numFmt })),
  ),
  fc.boolean().map((value) => ({ value })),
  // exceljs loses a result of 0.
  number
    .filter((result) => result !== 0)
    .map((result) => ({ value: { formula: 'SUM(A1:A3)*2', result } })),
  fc.constantFrom('#N/A', '#DIV/0!').map((error) => ({ value: { error } })),
  text.map((words) => ({ value: { text: words, hyperlink: 'https://example.org/a?b=1&c=2' } })),
);
const place = fc.record({
  row: fc.integer({ min: 1, max: 40 }),
  column: fc.integer({ min: 1, max: 12 }),
});
const cells = fc.uniqueArray(
  fc.record({ at: place, content, style: fc.option(style), note: fc.option(text, { freq: 6 }) }),
  {
    selector: ({ at }) => `${at.row},${at.column}`,
    maxLength: 40,
  },
);
const book = fc.record({
  cells,
  rows: fc.uniqueArray(
    fc.record({
      index: fc.integer({ min: 1, max: 40 }),
      height: fc.constantFrom(20, 33.5),
      hidden: fc.boolean(),
    }),
    { selector: ({ index }) => index, maxLength: 4 },
  ),
  columns: fc.uniqueArray(
    fc.record({
      index: fc.integer({ min: 1, max: 12 }),
      width: fc.constantFrom(4, 22.5),
      hidden: fc.boolean(),
    }),
    { selector: ({ index }) => index, maxLength: 4 },
  ),
  merge: fc.option(fc.constantFrom('B2:C3', 'E10:E12', 'A1:L1')),
  has1904: fc.boolean(),
});

type Book = typeof book extends fc.Arbitrary<infer T> ? T : never;

async function written(spec: Book): Promise<Uint8Array> {
  const workbook = new exceljs.Workbook();
  workbook.properties.date1904 = spec.has1904;
  const sheet = workbook.addWorksheet('Data');
  for (const {
    at,
    content: { value, ...rest },
    style: look,
    note,
  } of spec.cells) {
    const cell = sheet.getCell(at.row, at.column);
    cell.value = value as exceljs.CellValue;
    if ('numFmt' in rest && rest.numFmt) cell.numFmt = rest.numFmt;
    if (look?.font) cell.font = look.font as exceljs.Font;
    if (look?.fill) cell.fill = look.fill;
    if (look?.border) cell.border = look.border as exceljs.Borders;
    if (look?.alignment) cell.alignment = look.alignment as exceljs.Alignment;
    if (note) cell.note = note;
  }
  for (const { index, height, hidden } of spec.rows)
    Object.assign(sheet.getRow(index), { height, hidden });
  for (const { index, width, hidden } of spec.columns)
    Object.assign(sheet.getColumn(index), { width, hidden });
  if (spec.merge) sheet.mergeCells(spec.merge);
  workbook.definedNames.add('Data!$A$1:$C$4', 'Plots');
  return new Uint8Array(await workbook.xlsx.writeBuffer());
}

/** What exceljs says of a cell's value, in our terms. */
function valueOfExceljs(cell: exceljs.Cell): unknown {
  const value = cell.value as {
    result?: unknown;
    error?: string;
    text?: string;
    hyperlink?: string;
  } | null;
  if (value instanceof Date) return value.getTime();
  if (typeof value !== 'object' || value === null) return value;
  if ('error' in value) return value.error;
  if ('result' in value) return value.result;
  return 'text' in value ? value.text : value;
}

const inMilliseconds = (iso: string) =>
  Math.round((isoToSerial(iso, '1900') - 25_569) * 86_400_000);

describe('what two other readers see', () => {
  test('in workbooks with every feature of the look', async () => {
    await fc.assert(
      fc.asyncProperty(book, async (spec) => {
        const bytes = await written(spec);
        const { snapshot, names } = await ours(bytes);
        const other = new exceljs.Workbook();
        await other.xlsx.load(bytes.buffer as ArrayBuffer);
        const sheet = other.getWorksheet('Data')!;
        const third = xlsx.read(bytes, { cellStyles: true, cellNF: true, cellFormula: true });
        const thirdSheet = third.Sheets.Data!;

        const seen = new Map(filled(snapshot).map((cell) => [formatCell(cell), cell]));
        let count = 0;
        sheet.eachRow((row) => {
          row.eachCell((cell) => {
            if (cell.isMerged && cell.master !== cell) return;
            if (cell.value === null) return;
            count++;
            const mine = seen.get(cell.address);
            const expected = valueOfExceljs(cell);
            const value = mine?.type === 'date' ? inMilliseconds(String(mine.value)) : mine?.value;
            // A number under a date format is a date to exceljs as well, of the system the file says.
            expect([cell.address, value]).toEqual([cell.address, expected]);
            expect(mine?.format ?? 'General').toBe(cell.numFmt ?? 'General');
            const formula = (cell.value as { formula?: string }).formula;
            expect(mine?.formula).toBe(formula);
            expect(mine?.link).toBe(cell.hyperlink);
            const dress = snapshot.dresses[mine!.dress!]!;
            if (cell.font?.name) {
              expect(dress.letters).toEqual({
                family: cell.font.name,
                size: cell.font.size,
                ...(cell.font.bold ? { bold: true } : {}),
                ...(cell.font.italic ? { italic: true } : {}),
                ...(cell.font.underline ? { underline: true } : {}),
                ...(cell.font.strike ? { strike: true } : {}),
                ...(cell.font.color?.argb && cell.font.color.argb !== 'FF000000'
                  ? { colour: `#${cell.font.color.argb.slice(2)}` }
                  : {}),
              });
            }
            const fill = cell.fill as exceljs.FillPattern | undefined;
            expect(dress.fill).toBe(
              fill?.fgColor?.argb ? `#${fill.fgColor.argb.slice(2)}` : undefined,
            );
            for (const edge of ['top', 'left', 'bottom', 'right'] as const) {
              expect(dress[edge]?.style).toBe(cell.border?.[edge]?.style);
            }
            expect(dress.horizontal).toBe(cell.alignment?.horizontal);
            expect(dress.vertical).toBe(
              { top: 'top', middle: 'center' }[cell.alignment?.vertical as 'top'],
            );
            expect(dress.wrap ?? false).toBe(cell.alignment?.wrapText ?? false);
            expect(dress.rotation).toBe(cell.alignment?.textRotation);
            expect(dress.indent).toBe(cell.alignment?.indent || undefined);
          });
        });
        expect(seen.size).toBe(count);

        for (const [address, mine] of seen) {
          const theirs = thirdSheet[address] as xlsx.CellObject | undefined;
          expect(theirs).toBeDefined();
          // The third reader's texts of General numbers and of errors follow other rules; values must be the same.
          if (mine.type === 'number') expect(theirs!.v).toBe(mine.value);
          if (mine.type === 'text') expect(theirs!.v).toBe(mine.value);
          if (mine.type === 'boolean') expect(theirs!.v).toBe(mine.value);
          if (mine.type === 'error') expect(theirs!.w).toBe(mine.value);
          if (mine.type === 'number' && !['General', '0.00E+00'].includes(mine.format ?? 'General'))
            expect([address, mine.text]).toEqual([address, theirs!.w]);
        }

        expect(snapshot.merges.length).toBe(spec.merge ? 1 : 0);
        for (const { index, width, hidden } of spec.columns) {
          const band = snapshot.columns.find((each) => each.index === index);
          expect(band).toMatchObject({ size: width, ...(hidden ? { hidden: true } : {}) });
        }
        for (const { index, height, hidden } of spec.rows) {
          // A row without cells in it may not be written at all.
          const band = snapshot.rows.find((each) => each.index === index);
          if (band)
            expect(band).toMatchObject({ size: height, ...(hidden ? { hidden: true } : {}) });
        }
        expect(names).toContainEqual({
          name: 'Plots',
          refersTo: expect.stringMatching(/^'?Data'?!\$A\$1:\$C\$4$/),
          sheet: null,
          hidden: false,
        });
        for (const { at, note, content: made } of spec.cells) {
          const mine = seen.get(formatCell(at));
          const isCovered = spec.merge && !mine;
          if (note && mine && !isCovered && made) expect(mine.note).toBe(note.trim());
        }
      }),
      { numRuns: runs(60), seed: 20261125 },
    );
  }, 120_000);

  const rows = fc.array(
    fc.array(fc.oneof(text, number, fc.boolean(), fc.constant(null)), {
      minLength: 1,
      maxLength: 8,
    }),
    { minLength: 1, maxLength: 20 },
  );
  test.each(['xlsx', 'ods', 'fods'] as const)(
    'in %s files of another writer',
    async (kind) => {
      await fc.assert(
        fc.asyncProperty(rows, async (data) => {
          fc.pre(data.flat().some((value) => value !== null));
          const workbook = xlsx.utils.book_new();
          xlsx.utils.book_append_sheet(workbook, xlsx.utils.aoa_to_sheet(data), 'Data');
          const bytes = new Uint8Array(
            xlsx.write(workbook, { type: 'buffer', bookType: kind }) as Buffer,
          );
          const { snapshot } = await ours(bytes, `book.${kind}`);
          const mine = Object.fromEntries(
            filled(snapshot).map((cell) => [formatCell(cell), cell.value]),
          );
          const given = Object.fromEntries(
            data.flatMap((row, r) =>
              row.flatMap((value, c) =>
                value === null ? [] : [[formatCell({ row: r + 1, column: c + 1 }), value]],
              ),
            ),
          );
          expect(mine).toEqual(given);
        }),
        { numRuns: runs(60), seed: 20261125 },
      );
    },
    120_000,
  );
});

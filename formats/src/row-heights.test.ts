import { describe, expect, test } from '@jest/globals';
import exceljs from 'exceljs';
import xlsx from 'xlsx';
import { buildWorkbook, writeFixture } from './ooxml/workbook.fixture.ts';
import { openSource } from './open-source.ts';

async function rowsOf(bytes: Uint8Array, sheet: string, name?: string) {
  const source = await openSource(await writeFixture(bytes, name));
  if (!source.ok) throw new Error(source.fault.message);
  const rows = await source.value.readRows(sheet);
  const missing = await source.value.readRows('Nowhere');
  await source.value.close();
  expect(missing).toMatchObject({ ok: false, fault: { code: 'sheet-missing' } });
  if (!rows.ok) throw new Error(rows.fault.message);
  return rows.value;
}

describe('how high rows are', () => {
  test('in a workbook that another library wrote: heights and hidden rows, joined where alike', async () => {
    const book = new exceljs.Workbook();
    const sheet = book.addWorksheet('Counts');
    for (let row = 1; row <= 12; row++) sheet.getRow(row).getCell(1).value = row;
    sheet.getRow(2).height = 40;
    for (const row of [5, 6, 7]) sheet.getRow(row).height = 22.5;
    sheet.getRow(9).hidden = true;
    sheet.getRow(11).height = 15;
    const { usual, runs } = await rowsOf(new Uint8Array(await book.xlsx.writeBuffer()), 'Counts');
    expect(usual).toBe(15);
    expect(runs).toEqual([
      { from: 2, to: 2, size: 40 },
      { from: 5, to: 7, size: 22.5 },
      { from: 9, to: 9, hidden: true },
    ]);
  });

  test('a sheet has a usual height of its own, and rows out of order in the file are in order', async () => {
    const rows = [9, 3, 4].map(
      (row) => `<row r="${row}" ht="30"><c r="A${row}"><v>1</v></c></row>`,
    );
    const workbook = buildWorkbook({
      sheets: {
        S: `<sheetFormatPr defaultRowHeight="12.75"/><sheetData>${rows.join('')}</sheetData>`,
      },
    });
    expect(await rowsOf(workbook, 'S')).toEqual({
      usual: 12.75,
      runs: [
        { from: 3, to: 4, size: 30 },
        { from: 9, to: 9, size: 30 },
      ],
    });
  });

  test('in an open document: what most rows have is usual', async () => {
    const style = (name: string, height: string) =>
      `<style:style style:name="${name}" style:family="table-row"><style:table-row-properties style:row-height="${height}"/></style:style>`;
    const row = (name: string, more = '') =>
      `<table:table-row table:style-name="${name}"${more}><table:table-cell office:value-type="float" office:value="1"/></table:table-row>`;
    const flat = `<?xml version="1.0"?><office:document xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:style="urn:oasis:names:tc:opendocument:xmlns:style:1.0" office:mimetype="application/vnd.oasis.opendocument.spreadsheet" office:version="1.3"><office:automatic-styles>${style('low', '12.8pt')}${style('high', '2cm')}</office:automatic-styles><office:body><office:spreadsheet><table:table table:name="S">${row('low')}${row('high')}${row('low', ' table:visibility="collapse"')}${row('low', ' table:number-rows-repeated="40"')}</table:table></office:spreadsheet></office:body></office:document>`;
    expect(await rowsOf(Buffer.from(flat), 'S', 'book.fods')).toEqual({
      usual: 12.8,
      runs: [
        { from: 2, to: 2, size: 56.69 },
        { from: 3, to: 3, hidden: true },
      ],
    });
  });

  test('delimited text says nothing of it', async () => {
    const source = await openSource(await writeFixture(Buffer.from('a,b\n1,2\n'), 'book.csv'));
    if (!source.ok) throw new Error(source.fault.message);
    const { name } = source.value.sheets[0]!;
    expect(await source.value.readRows(name)).toEqual({ ok: true, value: { usual: 15, runs: [] } });
    await source.value.close();
  });

  test('the same as an independent reader finds', async () => {
    const book = xlsx.utils.book_new();
    const sheet = xlsx.utils.aoa_to_sheet(Array.from({ length: 30 }, (_, n) => [n]));
    sheet['!rows'] = Array.from({ length: 30 }, (_, n) =>
      n % 7 === 3 ? { hpt: 20 + n } : n % 11 === 5 ? { hidden: true } : {},
    );
    xlsx.utils.book_append_sheet(book, sheet, 'S');
    const bytes = xlsx.write(book, { type: 'buffer', bookType: 'xlsx' }) as Buffer;
    const read = xlsx.read(bytes, { cellStyles: true }).Sheets.S!['!rows']!;
    const theirs = Array.from(read, (row, at) => ({ row: at + 1, ...row })).filter(
      (row) => row.hidden || row.hpt !== undefined,
    );
    const { runs } = await rowsOf(bytes, 'S');
    expect(runs.map(({ from, size, hidden }) => [from, size, hidden ?? false])).toEqual(
      theirs.map(({ row, hpt, hidden }) => [row, hidden ? undefined : hpt, hidden ?? false]),
    );
  });
});

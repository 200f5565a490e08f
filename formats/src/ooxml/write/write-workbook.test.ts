import { readFile } from 'node:fs/promises';
import { describe, expect, test } from '@jest/globals';
import { formatCell } from '@tether/core';
import { runs } from '@tether/core/testing';
import exceljs from 'exceljs';
import fc from 'fast-check';
import { strFromU8, unzipSync } from 'fflate';
import * as xlsx from 'xlsx';
import { buildWorkbook, writeFixture } from '../workbook.fixture.ts';
import { type SheetPatch, writeWorkbook } from './write-workbook.ts';

/*
 * What is written is read back by two independent readers (exceljs 4.4.0, xlsx 0.18.5) and compared cell by cell with the
 * plan; all other parts of the package are compared byte for byte.
 */

const patch = (
  sheet: string,
  ref: string,
  value: SheetPatch['value'],
  how: SheetPatch['how'] = 'value',
): SheetPatch => {
  const { r, c } = xlsx.utils.decode_cell(ref);
  return { sheet, row: r + 1, column: c + 1, value, how };
};

async function written(bytes: Uint8Array, patches: SheetPatch[], isRecalculated = true) {
  const path = await writeFixture(bytes);
  const done = await writeWorkbook(path, 'book.xlsx', patches, isRecalculated);
  if (!done.ok) throw new Error(`${done.fault.code}: ${done.fault.message}`);
  // The file itself is not touched.
  expect((await readFile(path)).equals(Buffer.from(bytes))).toBe(true);
  return done.value;
}

/** Plain values of all cells of a sheet, as one reader has them. */
function byXlsx(bytes: Uint8Array, sheet: string): Map<string, unknown> {
  const cells = xlsx.read(bytes, { type: 'buffer' }).Sheets[sheet]!;
  return new Map(
    Object.entries(cells)
      .filter(([ref, cell]) => !ref.startsWith('!') && cell.t !== 'z')
      .map(([ref, cell]) => [ref, cell.v as unknown]),
  );
}

/** The same as the other has them. */
async function byExceljs(bytes: Uint8Array, sheet: string): Promise<Map<string, unknown>> {
  const book = new exceljs.Workbook();
  await book.xlsx.load(Buffer.from(bytes) as never);
  const cells = new Map<string, unknown>();
  book.getWorksheet(sheet)!.eachRow((row) =>
    row.eachCell((cell) => {
      const { value } = cell;
      const isRich = typeof value === 'object' && value !== null && 'richText' in value;
      cells.set(cell.address, isRich ? cell.text : cell.formula ? cell.result : value);
    }),
  );
  return cells;
}

async function counts(): Promise<Uint8Array> {
  const book = new exceljs.Workbook();
  const sheet = book.addWorksheet('Counts');
  sheet.addRows([
    ['Plot', 'Planted', 'Surviving'],
    ['SC-01', 240, 221],
    ['SC-02', 180, 97],
  ]);
  sheet.getCell('A5').value = { formula: 'SUM(B2:B3)', result: 420 };
  sheet.getCell('B2').numFmt = '#,##0';
  sheet.getCell('C3').fill = { type: 'pattern', pattern: 'solid', fgColor: { argb: 'FFB9772A' } };
  sheet.mergeCells('E1:F1');
  sheet.addConditionalFormatting({
    ref: 'C2:C3',
    rules: [{ type: 'cellIs', operator: 'lessThan', formulae: [100], priority: 1, style: {} }],
  });
  sheet.getCell('C2').dataValidation = { type: 'whole', operator: 'between', formulae: [0, 400] };
  sheet.getCell('C2').note = 'by boat';
  book.addWorksheet('Notes').getCell('A1').value = 'as it is';
  book.definedNames.add('Counts!$B$2:$B$3', 'Planted');
  return new Uint8Array(await book.xlsx.writeBuffer());
}

describe('a workbook with some cells written', () => {
  test('is other in those cells alone, by two readers, and in its sheet part alone', async () => {
    const before = await counts();
    const { bytes, parts } = await written(before, [
      patch('Counts', 'C3', 104),
      patch('counts', 'B2', 'none'),
      patch('Counts', 'D9', true),
    ]);
    for (const read of [byXlsx, byExceljs]) {
      const expected = new Map(await read(before, 'Counts'));
      expected.set('C3', 104).set('B2', 'none').set('D9', true);
      expect(await read(bytes, 'Counts')).toEqual(expected);
    }
    expect(parts.changed).toEqual(['xl/worksheets/sheet1.xml']);
    const [old, now] = [unzipSync(before), unzipSync(bytes)];
    expect(Object.keys(now)).toEqual(Object.keys(old));
    for (const [name, part] of Object.entries(old)) {
      if (name !== 'xl/worksheets/sheet1.xml') expect(now[name]).toEqual(part);
    }
    expect(parts.same).toBe(Object.keys(old).length - 1);
    const book = new exceljs.Workbook();
    await book.xlsx.load(Buffer.from(bytes) as never);
    const cell = book.getWorksheet('Counts')!.getCell('C3');
    expect(cell.fill).toMatchObject({ fgColor: { argb: 'FFB9772A' } });
  });

  test('is marked to be recalculated where what depends on it is not', async () => {
    const { bytes, parts } = await written(await counts(), [patch('Counts', 'B3', 1)], false);
    expect(parts.changed).toContain('xl/workbook.xml');
    expect(strFromU8(unzipSync(bytes)['xl/workbook.xml']!)).toMatch(
      /<calcPr[^>]*fullCalcOnLoad="1"/,
    );
    // Also where nothing is said of it yet, at the place where it belongs.
    const plain = buildWorkbook({
      sheets: { Counts: '<sheetData/>' },
      afterSheets: '<definedNames><definedName name="One">1</definedName></definedNames><extLst/>',
    });
    const marked = await written(plain, [patch('Counts', 'A1', 1)], false);
    expect(strFromU8(unzipSync(marked.bytes)['xl/workbook.xml']!)).toContain(
      '</definedNames><calcPr fullCalcOnLoad="1"/><extLst/>',
    );
  });

  test('has other results of its formulas', async () => {
    const { bytes } = await written(await counts(), [
      patch('Counts', 'B2', 1000),
      patch('Counts', 'A5', 1180, 'result'),
    ]);
    const cell = xlsx.read(bytes).Sheets.Counts!.A5;
    expect([cell.f, cell.v]).toEqual(['SUM(B2:B3)', 1180]);
  });

  test('has formulas that are put in, by two readers', async () => {
    const put = { ...patch('Counts', 'B4', 420, 'formula'), formula: 'SUM(B2:B3)' };
    const later = { ...patch('Notes', 'C9', 420, 'formula'), formula: 'IFNA(Counts!B4,0)' };
    const { bytes } = await written(await counts(), [put, later]);
    const { Counts, Notes } = xlsx.read(bytes).Sheets;
    expect([Counts!.B4.f, Counts!.B4.v]).toEqual(['SUM(B2:B3)', 420]);
    expect([Notes!.C9.f, Notes!.C9.v]).toEqual(['IFNA(Counts!B4,0)', 420]);
    const book = new exceljs.Workbook();
    await book.xlsx.load(Buffer.from(bytes) as never);
    expect(book.getWorksheet('Counts')!.getCell('B4').value).toMatchObject({
      formula: 'SUM(B2:B3)',
      result: 420,
    });
  });

  test('names no formula that is gone, and has no list of formulas where none is left', async () => {
    const chain = (cells: string) => ({
      sheets: {
        Counts:
          '<sheetData><row r="1"><c r="A1"><f>1+1</f><v>2</v></c><c r="B1"><f>A1</f><v>2</v></c></row></sheetData>',
        Notes: '<sheetData><row r="1"><c r="A1"><f>2+2</f><v>4</v></c></row></sheetData>',
      },
      parts: {
        'xl/calcChain.xml': `<calcChain xmlns="m">${cells}</calcChain>`,
        '[Content_Types].xml':
          '<Types><Override PartName="/xl/calcChain.xml" ContentType="chain"/><Override PartName="/xl/workbook.xml" ContentType="main"/></Types>',
        'xl/_rels/workbook.xml.rels': `<Relationships>${['1', '2']
          .map(
            (n) =>
              `<Relationship Id="rId${n}" Type="http://x/worksheet" Target="worksheets/sheet${n}.xml"/>`,
          )
          .join(
            '',
          )}<Relationship Id="rId9" Type="http://x/calcChain" Target="calcChain.xml"/></Relationships>`,
      },
    });
    const three = buildWorkbook(chain('<c r="A1" i="1"/><c r="B1"/><c r="A1" i="2"/>'));
    const one = await written(three, [patch('Counts', 'A1', 5, 'formula too')]);
    expect(strFromU8(unzipSync(one.bytes)['xl/calcChain.xml']!)).toContain(
      '<calcChain xmlns="m"><c r="B1" i="1"/><c r="A1" i="2"/></calcChain>',
    );
    const all = await written(buildWorkbook(chain('<c r="A1" i="1"/>')), [
      patch('Counts', 'A1', 5, 'formula too'),
    ]);
    const files = unzipSync(all.bytes);
    expect(files['xl/calcChain.xml']).toBeUndefined();
    expect(strFromU8(files['[Content_Types].xml']!)).toBe(
      '<Types><Override PartName="/xl/workbook.xml" ContentType="main"/></Types>',
    );
    expect(strFromU8(files['xl/_rels/workbook.xml.rels']!)).not.toContain('calcChain');
    // A formula that is put in stands in no list: programs make a new one.
    const more = await written(three, [
      { ...patch('Notes', 'B1', 8, 'formula'), formula: 'A1*2' },
      patch('Counts', 'A1', 3, 'result'),
    ]);
    expect(unzipSync(more.bytes)['xl/calcChain.xml']).toBeUndefined();
    expect(strFromU8(unzipSync(more.bytes)['xl/worksheets/sheet2.xml']!)).toContain(
      '<c r="B1"><f>A1*2</f><v>8</v></c>',
    );
  });

  test('is not made where a sheet is missing or a cell may not be written', async () => {
    await expect(written(await counts(), [patch('Gone', 'A1', 1)])).rejects.toThrow(
      'sheet-missing',
    );
    await expect(written(await counts(), [patch('Counts', 'A5', 1)])).rejects.toThrow(
      'write-formula',
    );
  });

  test('does not rename the header of a table, which formulas name', async () => {
    const book = new exceljs.Workbook();
    const columns = [{ name: 'Plot' }, { name: 'Planted' }];
    book
      .addWorksheet('Counts')
      .addTable({ name: 'Plots', ref: 'B2', columns, rows: [['SC-01', 2]] });
    const bytes = new Uint8Array(await book.xlsx.writeBuffer());
    await expect(written(bytes, [patch('Counts', 'C2', 'Set')])).rejects.toThrow(
      'C2 is a header of the table Plots',
    );
    const { Counts } = xlsx.read((await written(bytes, [patch('Counts', 'C3', 7)])).bytes).Sheets;
    expect(Counts!.C3.v).toBe(7);
  });

  test('nothing to write gives the same bytes', async () => {
    const before = await counts();
    const { bytes, parts } = await written(before, [], false);
    expect(bytes.equals(Buffer.from(before))).toBe(true);
    expect(parts.changed).toEqual([]);
  });
});

const value = fc.oneof(
  fc.integer({ min: -1e6, max: 1e6 }),
  fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e12, max: 1e12 }),
  fc.boolean(),
  fc
    .string({
      unit: fc.constantFrom('a', 'é', '<', '&', '"', ' ', '木', '_x0041_', '\n'),
      minLength: 1,
      maxLength: 8,
    })
    .filter((text) => text.trim() !== ''),
);

test('random cells of random sheets are read back as written, and all others as before', async () => {
  const cell = fc.tuple(fc.integer({ min: 1, max: 30 }), fc.integer({ min: 1, max: 12 }));
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(cell, value), { maxLength: 40 }),
      fc.array(fc.tuple(cell, value), { minLength: 1, maxLength: 20 }),
      fc.boolean(),
      async (held, edits, isStrings) => {
        const sheet: xlsx.WorkSheet = { '!ref': 'A1:L30' };
        for (const [[row, column], each] of held) {
          const t = typeof each === 'number' ? 'n' : typeof each === 'boolean' ? 'b' : 's';
          sheet[formatCell({ row, column })] = { t, v: each };
        }
        const before = xlsx.write(
          { SheetNames: ['Data'], Sheets: { Data: sheet } },
          { type: 'buffer', bookType: 'xlsx', bookSST: isStrings },
        ) as Buffer;
        const expected = new Map(byXlsx(before, 'Data'));
        const patches = edits.map(([[row, column], each]) => {
          expected.set(formatCell({ row, column }), each);
          return { sheet: 'Data', row, column, value: each, how: 'value' } as const;
        });
        const { bytes } = await written(before, patches);
        expect(byXlsx(bytes, 'Data')).toEqual(expected);
      },
    ),
    { seed: 17, numRuns: runs(120) },
  );
}, 120_000);

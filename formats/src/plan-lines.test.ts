import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { initSync, Model } from '@ironcalc/wasm';
import { describe, expect, test } from '@jest/globals';
import { formatCell, type LineChange } from '@tether/core';
import { runs } from '@tether/core/testing';
import exceljs from 'exceljs';
import fc from 'fast-check';
import { strFromU8, unzipSync } from 'fflate';
import * as xlsx from 'xlsx';
import { buildWorkbook, writeFixture } from './ooxml/workbook.fixture.ts';
import { planLines } from './plan-lines.ts';

const home = dirname(createRequire(import.meta.url).resolve('@ironcalc/wasm'));
initSync({ module: readFileSync(join(home, 'wasm_bg.wasm')) });

const change = (
  kind: LineChange['kind'],
  axis: LineChange['axis'],
  at: number,
  count = 1,
): LineChange => ({ sheet: 'Counts', kind, axis, at, count });

async function planned(bytes: Uint8Array, made: LineChange) {
  const done = await planLines(await writeFixture(bytes), 'counts.xlsx', made);
  if (!done.ok) throw new Error(`${done.fault.code}: ${done.fault.message}`);
  return done.value;
}

/** A workbook with about everything on a sheet that says where it stands. */
async function rich(): Promise<Uint8Array> {
  const book = new exceljs.Workbook();
  const sheet = book.addWorksheet('Counts', { views: [{ state: 'frozen', ySplit: 1 }] });
  sheet.addTable({
    name: 'Plots',
    ref: 'A1',
    headerRow: true,
    totalsRow: false,
    columns: [{ name: 'Plot', filterButton: true }, { name: 'Planted' }, { name: 'Surviving' }],
    rows: [
      ['SC-01', 240, 221],
      ['SC-02', 180, 97],
      ['SC-03', 120, 88],
    ],
  });
  sheet.getCell('B6').value = { formula: 'SUM(B2:B4)', result: 540 };
  sheet.getCell('C6').value = { formula: 'SUM(Plots[Surviving])', result: 406 };
  sheet.getCell('D2').value = { formula: 'C2/B2', result: 221 / 240 };
  sheet.getCell('D3').value = { formula: 'C3/B3', result: 97 / 180 };
  sheet.getCell('B2').numFmt = '#,##0';
  sheet.mergeCells('E3:F4');
  sheet.getCell('E3').value = 'by boat';
  sheet.getCell('B3').note = 'counted twice';
  sheet.getCell('A8').value = { text: 'Notes', hyperlink: '#Counts!A3' };
  sheet.addConditionalFormatting({
    ref: 'C2:C4',
    rules: [{ type: 'expression', formulae: ['$C2<$B2/2'], priority: 1, style: {} }],
  });
  sheet.getCell('C3').dataValidation = { type: 'whole', operator: 'between', formulae: [0, '$B3'] };
  const notes = book.addWorksheet('Notes');
  notes.getCell('A1').value = { formula: 'Counts!B6*2', result: 1080 };
  notes.getCell('A2').value = { formula: 'ROW(Counts!B6)', result: 6 };
  book.definedNames.add('Counts!$B$2:$B$4', 'Planted');
  book.addWorksheet('Other').getCell('B6').value = { formula: 'A6+B7', result: 0 };
  return new Uint8Array(await book.xlsx.writeBuffer());
}

describe('rows that are put in', () => {
  test('take all along that says where it stands, by two readers', async () => {
    const { bytes, follows, recalculated, notFinal } = await planned(
      await rich(),
      change('put in', 'rows', 3, 2),
    );
    const { Sheets, Workbook } = xlsx.read(bytes, { sheetStubs: false });
    const { Counts, Notes, Other } = Sheets;
    expect([Counts!.A2.v, Counts!.A3, Counts!.A5.v]).toEqual(['SC-01', undefined, 'SC-02']);
    expect([Counts!.B8.f, Counts!.B8.v]).toEqual(['SUM(B2:B6)', 540]);
    expect(Counts!.C8.f).toBe('SUM(Plots[Surviving])');
    expect(Counts!.D5.f).toBe('C5/B5');
    expect(Notes!.A1.f).toBe('Counts!B8*2');
    // What it comes to follows as well.
    expect([Notes!.A2.f, Notes!.A2.v]).toEqual(['ROW(Counts!B8)', 8]);
    expect(Other!.B6.f).toBe('A6+B7');
    expect(Counts!['!merges']).toEqual([xlsx.utils.decode_range('E5:F6')]);
    expect(Workbook!.Names!.find(({ Name }) => Name === 'Planted')!.Ref).toBe('Counts!$B$2:$B$6');
    expect([recalculated, notFinal]).toEqual([1, []]);
    expect(follows.lost).toBe(0);

    const book = new exceljs.Workbook();
    await book.xlsx.load(Buffer.from(bytes) as never);
    const sheet = book.getWorksheet('Counts')!;
    expect(sheet.getCell('B5').note).toBeDefined();
    expect(sheet.getCell('B3').note).toBeUndefined();
    // It looks like the row above.
    expect(sheet.getCell('B3').numFmt).toBe('#,##0');
    const files = unzipSync(bytes);
    expect(strFromU8(files['xl/tables/table1.xml']!)).toContain('ref="A1:C6"');
    const part = strFromU8(files['xl/worksheets/sheet1.xml']!);
    expect(part).toContain('<conditionalFormatting sqref="C2:C6">');
    expect(part).toContain('<formula>$C2&lt;$B2/2</formula>');
    expect(part).toContain('ySplit="1"');
    expect(part).toMatch(/<dataValidation [^>]*sqref="C5"[^>]*><formula1>0<.*<formula2>\$B5</);
    expect(part).toMatch(/<hyperlink [^>]*ref="A10"/);
  });

  test('of which the first is before all, move all', async () => {
    const { bytes } = await planned(await rich(), change('put in', 'rows', 1));
    const part = strFromU8(unzipSync(bytes)['xl/worksheets/sheet1.xml']!);
    expect(part).toContain('<conditionalFormatting sqref="C3:C5">');
    expect(part).toContain('<formula>$C3&lt;$B3/2</formula>');
    expect(strFromU8(unzipSync(bytes)['xl/tables/table1.xml']!)).toContain('ref="A2:C5"');
  });
});

describe('rows that are taken out', () => {
  test('take with them what stood in them, and rules go on with the next', async () => {
    const { bytes, follows } = await planned(await rich(), change('take out', 'rows', 2));
    const { Counts, Notes } = xlsx.read(bytes).Sheets;
    expect(Counts!.A2.v).toBe('SC-02');
    expect([Counts!.B5.f, Counts!.B5.v]).toEqual(['SUM(B2:B3)', 300]);
    expect([Counts!.C5.f, Counts!.C5.v]).toEqual(['SUM(Plots[Surviving])', 185]);
    expect([Notes!.A1.f, Notes!.A1.v]).toEqual(['Counts!B5*2', 600]);
    expect(follows.lost).toBe(0);
    const part = strFromU8(unzipSync(bytes)['xl/worksheets/sheet1.xml']!);
    expect(part).toContain('<conditionalFormatting sqref="C2:C3">');
    expect(part).toContain('<formula>$C2&lt;$B2/2</formula>');
  });

  test('that a formula reads leave it with an error, which is told', async () => {
    const { bytes, follows } = await planned(await rich(), change('take out', 'rows', 6));
    const { Notes } = xlsx.read(bytes).Sheets;
    expect([Notes!.A1.f, Notes!.A1.w ?? Notes!.A1.v]).toEqual(['Counts!#REF!*2', '#REF!']);
    expect(follows.lost).toBe(2);
  });

  test.each([
    ['the header of a table', change('take out', 'rows', 1), 'the header of the table Plots'],
    ['all rows of a table', change('take out', 'rows', 2, 3), 'the table Plots would have no rows'],
    ['a column of a table that is read', change('take out', 'columns', 3), '[Surviving]'],
  ])('%s cannot go', async (_, made, why) => {
    await expect(planned(await rich(), made)).rejects.toThrow(why);
  });
});

describe('columns', () => {
  test('put into a table get headers of their own', async () => {
    const { bytes } = await planned(await rich(), change('put in', 'columns', 2));
    const { Counts } = xlsx.read(bytes).Sheets;
    expect([Counts!.A1.v, Counts!.B1.v, Counts!.C1.v]).toEqual(['Plot', 'Column1', 'Planted']);
    expect(Counts!.E3.f).toBe('D3/C3');
    const table = strFromU8(unzipSync(bytes)['xl/tables/table1.xml']!);
    expect(table).toContain('ref="A1:D4"');
    expect(table).toMatch(/count="4".*name="Plot".*name="Column1".*name="Planted"/s);
  });
});

test('formulas that others share are said in full, and those that fill several cells stay whole', async () => {
  const shared = buildWorkbook({
    sheets: {
      Counts:
        '<sheetData><row r="1"><c r="A1"><v>1</v></c><c r="B1"><f t="shared" ref="B1:B3" si="0">A1*2&amp;"A1"</f><v>2A1</v></c></row>' +
        '<row r="2"><c r="A2"><v>2</v></c><c r="B2"><f t="shared" si="0"/><v>4A1</v></c></row>' +
        '<row r="3"><c r="B3"><f t="shared" si="0"/><v>0A1</v></c></row></sheetData>',
    },
  });
  const { bytes } = await planned(shared, change('put in', 'rows', 2));
  expect(strFromU8(unzipSync(bytes)['xl/worksheets/sheet1.xml']!)).toContain(
    '<row r="3"><c r="A3"><v>2</v></c><c r="B3"><f>A3*2&amp;"A1"</f><v>4A1</v></c></row>',
  );
  const array = buildWorkbook({
    sheets: {
      Counts:
        '<sheetData><row r="1"><c r="A1"><f t="array" ref="A1:A2">C1:C2*2</f><v>2</v></c></row><row r="2"><c r="A2"><v>4</v></c></row></sheetData>',
    },
  });
  await expect(planned(array, change('put in', 'rows', 2))).rejects.toThrow('A1 fills cells');
  await expect(planned(array, change('take out', 'rows', 1))).rejects.toThrow('A1 fills cells');
});

test('pictures, charts, summaries and page breaks move with their cells', async () => {
  const link = (id: number, type: string, target: string) =>
    `<Relationship Id="rId${id}" Type="http://x/${type}" Target="${target}"/>`;
  const corner = (name: string, row: number) =>
    `<xdr:${name}><xdr:col>1</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>${row}</xdr:row><xdr:rowOff>500</xdr:rowOff></xdr:${name}>`;
  const book = buildWorkbook({
    sheets: {
      Counts:
        '<sheetData><row r="1"><c r="A1"><v>1</v></c></row></sheetData><rowBreaks count="2" manualBreakCount="1"><brk id="3" man="1"/><brk id="6"/></rowBreaks><drawing r:id="rId1"/>',
    },
    parts: {
      'xl/worksheets/_rels/sheet1.xml.rels': `<Relationships>${link(1, 'drawing', '../drawings/drawing1.xml')}${link(2, 'pivotTable', '../pivotTables/pivotTable1.xml')}</Relationships>`,
      'xl/drawings/drawing1.xml': `<xdr:wsDr xmlns:xdr="d"><xdr:twoCellAnchor>${corner('from', 1)}${corner('to', 8)}</xdr:twoCellAnchor><xdr:twoCellAnchor editAs="oneCell">${corner('from', 1)}${corner('to', 8)}</xdr:twoCellAnchor></xdr:wsDr>`,
      'xl/charts/chart1.xml':
        '<c:chart xmlns:c="c"><c:cat><c:f>Counts!$A$2:$A$9</c:f></c:cat><c:val><c:f>Notes!$B$2</c:f></c:val></c:chart>',
      'xl/pivotTables/pivotTable1.xml':
        '<pivotTableDefinition><location ref="H20:J24"/></pivotTableDefinition>',
      'xl/pivotCache/pivotCacheDefinition1.xml':
        '<pivotCacheDefinition><cacheSource><worksheetSource ref="A1:C9" sheet="Counts"/></cacheSource></pivotCacheDefinition>',
    },
  });
  const files = unzipSync((await planned(book, change('put in', 'rows', 5, 2))).bytes);
  const part = (name: string) => strFromU8(files[name]!);
  const rows = [...part('xl/drawings/drawing1.xml').matchAll(/<xdr:row>(\d+)/g)].map(
    ([, at]) => at,
  );
  expect(rows).toEqual(['1', '10', '1', '8']);
  expect(part('xl/charts/chart1.xml')).toContain('<c:f>Counts!$A$2:$A$11</c:f>');
  expect(part('xl/charts/chart1.xml')).toContain('<c:f>Notes!$B$2</c:f>');
  expect(part('xl/pivotTables/pivotTable1.xml')).toContain('ref="H22:J26"');
  expect(part('xl/pivotCache/pivotCacheDefinition1.xml')).toContain('ref="A1:C11"');
  expect(part('xl/worksheets/sheet1.xml')).toContain(
    '<rowBreaks count="2" manualBreakCount="1"><brk id="3" man="1"/><brk id="8"/></rowBreaks>',
  );
  await expect(planned(book, change('put in', 'rows', 22))).rejects.toThrow(
    'a summary stands across',
  );
});

// Reference: @ironcalc/wasm 0.8.4, a spreadsheet engine of its own that puts in and takes out rows and columns too.
test('random workbooks come out as from a reference engine: formulas and figures', async () => {
  const SIZE = 7;
  const ref = fc.tuple(
    fc.integer({ min: 1, max: SIZE }),
    fc.integer({ min: 1, max: SIZE }),
    fc.boolean(),
    fc.boolean(),
  );
  const named = ([row, column, isRow, isColumn]: [number, number, boolean, boolean]) => {
    const [, letters, digits] = /^([A-Z]+)(\d+)$/.exec(formatCell({ row, column }))!;
    return `${isColumn ? '$' : ''}${letters}${isRow ? '$' : ''}${digits}`;
  };
  const formula = fc.oneof(
    fc.tuple(ref, ref).map(([a, b]) => {
      const [top, bottom] = [Math.min(a[0], b[0]), Math.max(a[0], b[0])];
      const [left, right] = [Math.min(a[1], b[1]), Math.max(a[1], b[1])];
      return `SUM(${named([top, left, a[2], a[3]])}:${named([bottom, right, b[2], b[3]])})`;
    }),
    fc.tuple(ref, ref).map(([a, b]) => `${named(a)}*2+${named(b)}`),
    ref.map((a) => `IF(${named(a)}>50,"A1",Counts!${named(a)})`),
  );
  const lines = fc.record({
    kind: fc.constantFrom<LineChange['kind']>('put in', 'take out'),
    axis: fc.constantFrom<LineChange['axis']>('rows', 'columns'),
    at: fc.integer({ min: 1, max: SIZE + 1 }),
    count: fc.integer({ min: 1, max: 3 }),
  });
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.option(fc.integer({ min: 0, max: 99 })), {
        minLength: SIZE * SIZE,
        maxLength: SIZE * SIZE,
      }),
      fc.array(formula, { minLength: 3, maxLength: 8 }),
      lines,
      async (figures, formulas, made) => {
        const model = new Model('random', 'en', 'UTC', 'en');
        model.renameSheet(0, 'Counts');
        const cells: Record<number, string[]> = {};
        const put = (row: number, column: number, xml: string) => {
          cells[row] ??= [];
          cells[row].push(`<c r="${formatCell({ row, column })}"${xml}</c>`);
        };
        figures.forEach((figure, at) => {
          if (figure === null) return;
          const [row, column] = [Math.floor(at / SIZE) + 1, (at % SIZE) + 1];
          model.setUserInput(0, row, column, String(figure));
          put(row, column, `><v>${figure}</v>`);
        });
        // Out of the way of what they look at, below and at the right.
        const places = formulas.map((_, at) => ({ row: SIZE + 2 + at, column: SIZE + 2 }));
        formulas.forEach((text, at) => {
          model.setUserInput(0, places[at]!.row, places[at]!.column, `=${text}`);
        });
        model.evaluate();
        formulas.forEach((text, at) => {
          const { row, column } = places[at]!;
          const shown = model.getFormattedCellValue(0, row, column);
          const isText = Number.isNaN(Number(shown));
          const escaped = text.replaceAll('>', '&gt;');
          put(row, column, `${isText ? ' t="str"' : ''}><f>${escaped}</f><v>${shown}</v>`);
        });
        const rows = Object.entries(cells)
          .map(([row, own]) => `<row r="${row}">${own.join('')}</row>`)
          .join('');
        const book = buildWorkbook({ sheets: { Counts: `<sheetData>${rows}</sheetData>` } });
        const { bytes, notFinal } = await planned(book, { sheet: 'Counts', ...made });
        expect(notFinal).toEqual([]);

        const { kind, axis, at, count } = made;
        if (kind === 'put in' && axis === 'rows') model.insertRows(0, at, count);
        else if (kind === 'put in') model.insertColumns(0, at, count);
        else if (axis === 'rows') model.deleteRows(0, at, count);
        else model.deleteColumns(0, at, count);
        model.evaluate();
        const sheet = xlsx.read(bytes).Sheets.Counts!;
        for (let row = 1; row <= SIZE + 14; row++) {
          for (let column = 1; column <= SIZE + 6; column++) {
            const cell = sheet[formatCell({ row, column })];
            const theirs = model.getCellContent(0, row, column);
            const ours =
              cell === undefined ? '' : cell.f === undefined ? String(cell.v) : `=${cell.f}`;
            // A range that loses one of its ends is shortened (common practice); the reference gives it up.
            if (theirs.includes('#REF!')) continue;
            expect([formatCell({ row, column }), ours]).toEqual([
              formatCell({ row, column }),
              theirs,
            ]);
            if (!theirs.startsWith('=')) continue;
            expect(String(cell.w ?? cell.v)).toBe(model.getFormattedCellValue(0, row, column));
          }
        }
      },
    ),
    { numRuns: runs(60) },
  );
}, 60_000);

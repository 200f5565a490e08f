import { afterEach, describe, expect, it } from '@jest/globals';
import type { Dress, Snapshot } from '@tether/core';
import exceljs from 'exceljs';
import { openSource } from '../../open-source.ts';
import type { OpenSource } from '../../source.ts';
import { buildWorkbook, writeFixture } from '../workbook.fixture.ts';
import { Palette } from './colour.ts';
import { presetTableStyle } from './table-styles.ts';

const opened: OpenSource[] = [];
afterEach(async () => {
  for (const source of opened.splice(0)) await source.close();
});

async function read(bytes: Uint8Array, right = 3, bottom = 5): Promise<Snapshot> {
  const source = await openSource(await writeFixture(bytes));
  if (!source.ok) throw new Error(source.fault.message);
  opened.push(source.value);
  const area = { top: 1, left: 1, bottom, right };
  const snapshot = await source.value.readArea(source.value.sheets[0]!.name, area);
  if (!snapshot.ok) throw new Error(snapshot.fault.message);
  return snapshot.value;
}

function dressAt({ cells, dresses }: Snapshot, row: number, column: number): Partial<Dress> {
  const cell = cells.find((each) => each.row === row && each.column === column);
  return cell?.dress === undefined ? {} : dresses[cell.dress]!;
}

/** A table of three columns from A1, as the library writes it. */
async function table(theme: string, options: Partial<exceljs.TableStyleProperties> = {}) {
  const book = new exceljs.Workbook();
  const sheet = book.addWorksheet('Counts');
  sheet.addTable({
    name: 'Plots',
    ref: 'A1',
    headerRow: true,
    totalsRow: true,
    style: { theme: theme as 'TableStyleMedium2', showRowStripes: true, ...options },
    columns: [
      { name: 'Plot', totalsRowLabel: 'All' },
      { name: 'Planted', totalsRowFunction: 'sum' },
      { name: 'Alive', totalsRowFunction: 'sum' },
    ],
    rows: [
      ['SC-01', 120, 96],
      ['SC-02', 80, 71],
      ['SC-03', 60, 12],
    ],
  });
  return new Uint8Array(await book.xlsx.writeBuffer());
}

describe('tables wear the style that every program brings', () => {
  it('the usual medium one: dark head, bands, a double line over the totals', async () => {
    const snapshot = await read(await table('TableStyleMedium2'));
    expect(dressAt(snapshot, 1, 2)).toMatchObject({
      fill: '#4F81BD',
      letters: { bold: true, colour: '#FFFFFF' },
    });
    expect(dressAt(snapshot, 2, 2).fill).toBe('#DCE6F2');
    expect(dressAt(snapshot, 3, 2).fill).toBeUndefined();
    expect(dressAt(snapshot, 4, 2).fill).toBe('#DCE6F2');
    expect(dressAt(snapshot, 5, 2)).toMatchObject({
      letters: { bold: true },
      top: { style: 'double', colour: '#4F81BD' },
    });
  });

  it('first and last column and stripes down where the table asks for them', async () => {
    const plain = await read(await table('TableStyleLight1', { showRowStripes: false }));
    expect(dressAt(plain, 2, 1).letters?.bold).toBeUndefined();
    expect(dressAt(plain, 2, 1).fill).toBeUndefined();
    const asked = await read(
      await table('TableStyleLight1', {
        showRowStripes: false,
        showFirstColumn: true,
        showColumnStripes: true,
      }),
    );
    expect(dressAt(asked, 2, 1)).toMatchObject({ fill: '#D9D9D9', letters: { bold: true } });
    expect(dressAt(asked, 2, 2).fill).toBeUndefined();
    expect(dressAt(asked, 2, 3)).toMatchObject({ fill: '#D9D9D9' });
  });

  it('each of the sixty has a head that can be told from its body, and no other name is one', () => {
    const palette = new Palette(null);
    const names = [
      ...Array.from({ length: 21 }, (_, at) => `TableStyleLight${at + 1}`),
      ...Array.from({ length: 28 }, (_, at) => `TableStyleMedium${at + 1}`),
      ...Array.from({ length: 11 }, (_, at) => `TableStyleDark${at + 1}`),
    ];
    for (const name of names) {
      const style = presetTableStyle(name, palette);
      expect(style?.headerRow?.letters?.bold).toBe(true);
      expect(style?.totalRow).toBeDefined();
    }
    expect(presetTableStyle('TableStyleLight22', palette)).toBeNull();
    expect(presetTableStyle('My style', palette)).toBeNull();
  });
});

// ECMA-376 Part 1: 18.8.40 (tableStyle), 18.8.41 (tableStyleElement), 18.5.1.5 (tableStyleInfo).
describe('tables wear a style of their workbook', () => {
  const styles = `<fonts><font><sz val="11"/><name val="Calibri"/></font></fonts>
    <fills><fill><patternFill patternType="none"/></fill><fill><patternFill patternType="gray125"/></fill><fill><patternFill patternType="solid"><fgColor rgb="FFFFCC00"/></patternFill></fill></fills>
    <borders><border/></borders><cellXfs><xf/><xf fillId="2"/></cellXfs>
    <dxfs><dxf><border><left style="thin"><color rgb="FF0B4F5C"/></left><right style="thin"><color rgb="FF0B4F5C"/></right><horizontal style="hair"><color rgb="FFC6D2D6"/></horizontal></border></dxf>
      <dxf><font><b/><color rgb="FFFFFFFF"/></font><fill><patternFill><bgColor rgb="FF0B4F5C"/></patternFill></fill></dxf>
      <dxf><fill><patternFill><bgColor rgb="FFF0F4F5"/></patternFill></fill></dxf></dxfs>
    <tableStyles><tableStyle name="Creek" pivot="0" count="3"><tableStyleElement type="wholeTable" dxfId="0"/><tableStyleElement type="headerRow" dxfId="1"/><tableStyleElement type="firstRowStripe" size="2" dxfId="2"/></tableStyle></tableStyles>`;
  const cell = (place: string, style = 0) => `<c r="${place}" s="${style}"><v>1</v></c>`;
  const rows = [1, 2, 3, 4, 5]
    .map((row) => `<row r="${row}">${cell(`A${row}`)}${row === 3 ? cell('B3', 1) : ''}</row>`)
    .join('');
  const PACKAGE = 'http://schemas.openxmlformats.org/package/2006/relationships';
  const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
  const workbook = (part: string | null) =>
    buildWorkbook({
      styles,
      sheets: { Sheet1: `<sheetData>${rows}</sheetData>` },
      parts: {
        'xl/worksheets/_rels/sheet1.xml.rels': `<Relationships xmlns="${PACKAGE}"><Relationship Id="rId1" Type="${OFFICE}/table" Target="../tables/table1.xml"/></Relationships>`,
        'xl/tables/table1.xml': part,
      },
    });
  const TABLE = `<table ref="A1:B5" displayName="T" headerRowCount="1"><tableColumns count="2"><tableColumn id="1" name="a"/><tableColumn id="2" name="b"/></tableColumns><tableStyleInfo name="Creek" showRowStripes="1"/></table>`;

  it('with its outline, the lines between its cells, and stripes of two rows, empty cells too', async () => {
    const snapshot = await read(workbook(TABLE), 2);
    expect(dressAt(snapshot, 1, 1)).toMatchObject({
      fill: '#0B4F5C',
      letters: { colour: '#FFFFFF' },
    });
    expect([2, 3, 4, 5].map((row) => dressAt(snapshot, row, 1).fill)).toEqual([
      '#F0F4F5',
      '#F0F4F5',
      undefined,
      '#F0F4F5',
    ]);
    expect(dressAt(snapshot, 2, 1)).toMatchObject({
      left: { style: 'thin', colour: '#0B4F5C' },
      bottom: { style: 'hair', colour: '#C6D2D6' },
    });
    expect(dressAt(snapshot, 2, 1).right).toBeUndefined();
    expect(dressAt(snapshot, 2, 2)).toMatchObject({ right: { style: 'thin' }, fill: '#F0F4F5' });
  });

  it('and keep what a cell says itself', async () => {
    expect(dressAt(await read(workbook(TABLE), 2), 3, 2).fill).toBe('#FFCC00');
  });

  it.each([
    ['is missing', null],
    ['is spoilt', '<table ref="A1:B5"><tableColumns'],
  ])('a table whose part %s leaves its cells readable', async (_, part) => {
    const snapshot = await read(workbook(part), 1);
    expect(snapshot.cells).toHaveLength(5);
  });
});

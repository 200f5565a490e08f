import { afterEach, describe, expect, test } from '@jest/globals';
import { type Cell, parseReference, type Snapshot } from '@tether/core';
import { buildWorkbook, type FixtureParts, writeFixture } from './ooxml/workbook.fixture.ts';
import { openSource } from './open-source.ts';
import type { OpenSource } from './source.ts';

const opened: OpenSource[] = [];
afterEach(async () => {
  for (const source of opened.splice(0)) await source.close();
});

async function open(fixture: FixtureParts): Promise<OpenSource> {
  const source = await openSource(await writeFixture(buildWorkbook(fixture)));
  if (!source.ok) throw new Error(source.fault.message);
  opened.push(source.value);
  return source.value;
}

async function read(
  fixture: FixtureParts,
  reference = 'A1:J20',
  sheet = 'Sheet1',
): Promise<Snapshot> {
  const source = await open(fixture);
  const parsed = parseReference(reference);
  if (!parsed.ok) throw new Error(parsed.fault.message);
  const snapshot = await source.readArea(sheet, parsed.value.area);
  if (!snapshot.ok) throw new Error(snapshot.fault.message);
  return snapshot.value;
}

const brief = (cells: Cell[]) =>
  cells.map(({ row, column, type, value, text }) => [row, column, type, value, text]);

const STYLES = `
  <numFmts><numFmt numFmtId="164" formatCode="d mmm yyyy"/><numFmt numFmtId="165" formatCode="0.0;[Red]-0.0"/></numFmts>
  <fonts><font><sz val="11"/><name val="Calibri"/></font><font><b/><i val="0"/><u/><strike/><sz val="14"/><color rgb="FF0B4F5C"/><name val="Arial"/></font></fonts>
  <fills><fill><patternFill patternType="none"/></fill><fill><patternFill patternType="gray125"/></fill><fill><patternFill patternType="solid"><fgColor theme="4" tint="0.4"/></patternFill></fill></fills>
  <borders><border/><border><left style="thin"><color indexed="10"/></left><bottom style="double"><color auto="1"/></bottom></border></borders>
  <cellXfs><xf/><xf numFmtId="164"/><xf numFmtId="165"/><xf numFmtId="14"/><xf fontId="1" fillId="2" borderId="1"><alignment horizontal="center" vertical="top" wrapText="1" textRotation="135"/></xf><xf numFmtId="46"/><xf fillId="2"/></cellXfs>`;

const THEME = `<a:theme xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main"><a:themeElements><a:clrScheme name="t">
  <a:dk1><a:sysClr val="windowText" lastClr="000000"/></a:dk1><a:lt1><a:sysClr val="window" lastClr="FFFFFF"/></a:lt1>
  <a:dk2><a:srgbClr val="1F497D"/></a:dk2><a:lt2><a:srgbClr val="EEECE1"/></a:lt2><a:accent1><a:srgbClr val="4F81BD"/></a:accent1>
</a:clrScheme></a:themeElements></a:theme>`;

describe('values', () => {
  test('of every type (ECMA-376 Part 1, 18.18.11, ST_CellType)', async () => {
    const { cells } = await read({
      styles: STYLES,
      strings:
        '<si><t>shared</t></si><si><r><t>rich </t></r><r><t xml:space="preserve">text</t></r><rPh sb="0" eb="1"><t>hint</t></rPh></si>',
      sheets: {
        Sheet1: `<sheetData><row r="1">
          <c r="A1"><v>12.5</v></c><c r="B1" t="s"><v>0</v></c><c r="C1" t="s"><v>1</v></c><c r="D1" t="b"><v>1</v></c>
          <c r="E1" t="e"><v>#DIV/0!</v></c><c r="F1" t="str"><f>A1&amp;"x"</f><v>12.5x</v></c>
          <c r="G1" t="inlineStr"><is><t>inline</t></is></c><c r="H1" t="d" s="1"><v>2026-10-05</v></c>
          <c r="I1" s="1"><v>46300</v></c><c r="J1" s="2"><v>-3</v></c></row></sheetData>`,
      },
    });
    expect(brief(cells)).toEqual([
      [1, 1, 'number', 12.5, '12.5'],
      [1, 2, 'text', 'shared', 'shared'],
      [1, 3, 'text', 'rich text', 'rich text'],
      [1, 4, 'boolean', true, 'TRUE'],
      [1, 5, 'error', '#DIV/0!', '#DIV/0!'],
      [1, 6, 'text', '12.5x', '12.5x'],
      [1, 7, 'text', 'inline', 'inline'],
      [1, 8, 'date', '2026-10-05', '5 Oct 2026'],
      [1, 9, 'date', '2026-10-05', '5 Oct 2026'],
      [1, 10, 'number', -3, '-3.0'],
    ]);
    expect(cells[5]!.formula).toBe('A1&"x"');
    expect(cells[9]!.ink).toBe('#FF0000');
  });

  test('dates of the 1904 system mean the days they mean there (18.17.4.1)', async () => {
    const { cells } = await read({
      styles: STYLES,
      beforeSheets: '<workbookPr date1904="1"/>',
      sheets: { Sheet1: '<sheetData><row r="1"><c r="A1" s="1"><v>0</v></c></row></sheetData>' },
    });
    expect(brief(cells)).toEqual([[1, 1, 'date', '1904-01-01', '1 Jan 1904']]);
  });

  test('29 February 1900 is kept as the day that files say (18.17.4.1)', async () => {
    const { cells } = await read({
      styles: STYLES,
      sheets: {
        Sheet1:
          '<sheetData><row r="1"><c r="A1" s="1"><v>60</v></c><c r="B1" s="1"><v>61</v></c></row></sheetData>',
      },
    });
    expect(cells.map(({ value }) => value)).toEqual(['1900-02-29', '1900-03-01']);
  });

  test('an elapsed time is an amount, not a date', async () => {
    const { cells } = await read({
      styles: STYLES,
      sheets: { Sheet1: '<sheetData><row r="1"><c r="A1" s="5"><v>1.5</v></c></row></sheetData>' },
    });
    expect(brief(cells)).toEqual([[1, 1, 'number', 1.5, '36:00:00']]);
  });

  test('escaped characters come back (22.9.2.19, ST_Xstring)', async () => {
    const { cells } = await read({
      strings: '<si><t>one_x000A_two _x005F_x000A_</t></si>',
      sheets: { Sheet1: '<sheetData><row r="1"><c r="A1" t="s"><v>0</v></c></row></sheetData>' },
    });
    expect(cells[0]!.value).toBe('one\ntwo _x000A_');
  });

  test('what no text can hold becomes the replacement character (XML 1.0, 2.2)', async () => {
    const { cells } = await read({
      strings: '<si><t>_x0000_a_xD83D_b_xD83D__xDE00_c_xDE00_</t></si>',
      sheets: { Sheet1: '<sheetData><row r="1"><c r="A1" t="s"><v>0</v></c></row></sheetData>' },
    });
    expect(cells[0]!.value).toBe('\uFFFDa\uFFFDb\u{1F600}c\uFFFD');
  });
});

describe('odd but legal files', () => {
  const plain = [
    [2, 2, 'number', 1, '1'],
    [2, 3, 'number', 2, '2'],
    [3, 1, 'number', 3, '3'],
  ];

  test('rows and cells without references are counted on', async () => {
    const { cells } = await read({
      sheets: {
        Sheet1:
          '<sheetData><row r="2"><c r="B2"><v>1</v></c><c><v>2</v></c></row><row><c><v>3</v></c></row></sheetData>',
      },
    });
    expect(brief(cells)).toEqual(plain);
  });

  test('a prefix on every element, single quotes, CDATA and comments', async () => {
    const { cells } = await read({
      parts: {
        'xl/worksheets/sheet1.xml': `<?xml version='1.0'?><x:worksheet xmlns:x='http://schemas.openxmlformats.org/spreadsheetml/2006/main'>
          <!-- <c r="A1"><v>9</v></c> --><x:dimension ref='A1'/><x:sheetData><x:row r='2'><x:c r='B2'><x:v><![CDATA[1]]></x:v></x:c>
          <x:c r='C2'><x:v>2</x:v></x:c></x:row><x:row r='3'><x:c r='A3'><x:v>3</x:v></x:c></x:row></x:sheetData></x:worksheet>`,
      },
    });
    expect(brief(cells)).toEqual(plain);
  });

  test('parts by any name, targets from the root, strict namespaces', async () => {
    const strict = 'http://purl.oclc.org/ooxml/officeDocument/relationships';
    const { cells } = await read({
      parts: {
        '_rels/.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r" Type="${strict}/officeDocument" Target="/book/main.xml"/></Relationships>`,
        'xl/workbook.xml': null,
        'book/main.xml': `<workbook xmlns="http://purl.oclc.org/ooxml/spreadsheetml/main" xmlns:q="${strict}"><sheets><sheet name="Sheet1" sheetId="7" q:id="one"/></sheets></workbook>`,
        'book/_rels/main.xml.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="one" Type="${strict}/worksheet" Target="/Data/Anything.XML"/></Relationships>`,
        'data/anything.xml':
          '<worksheet xmlns="http://purl.oclc.org/ooxml/spreadsheetml/main"><sheetData><row r="2"><c r="B2"><v>1</v></c><c r="C2"><v>2</v></c></row><row r="3"><c r="A3"><v>3</v></c></row></sheetData></worksheet>',
      },
    });
    expect(brief(cells)).toEqual(plain);
  });

  test('parts that are stored, not deflated', async () => {
    const bytes = buildWorkbook(
      { sheets: { Sheet1: '<sheetData><row r="1"><c r="A1"><v>5</v></c></row></sheetData>' } },
      { level: 0 },
    );
    const source = await openSource(await writeFixture(bytes));
    if (!source.ok) throw new Error(source.fault.message);
    opened.push(source.value);
    const area = { top: 1, left: 1, bottom: 1, right: 1 };
    expect(await source.value.readArea('sheet1', area)).toMatchObject({
      value: { cells: [{ value: 5 }] },
    });
  });
});

describe('the look', () => {
  test('letters, fill, borders and alignment', async () => {
    const { cells, dresses } = await read({
      styles: STYLES,
      theme: THEME,
      sheets: { Sheet1: '<sheetData><row r="1"><c r="A1" s="4"><v>1</v></c></row></sheetData>' },
    });
    expect(dresses[cells[0]!.dress!]).toEqual({
      letters: {
        family: 'Arial',
        size: 14,
        bold: true,
        underline: true,
        strike: true,
        colour: '#0B4F5C',
      },
      // Accent 1 made lighter by 40 %; the value is the tint rule of 18.8.19 worked out by hand for 4F81BD.
      fill: '#95B3D7',
      left: { style: 'thin', colour: '#FF0000' },
      bottom: { style: 'double', colour: '#000000' },
      horizontal: 'center',
      vertical: 'top',
      wrap: true,
      rotation: -45,
    });
  });

  test('an empty cell is kept when it shows a fill, and only then', async () => {
    const { cells } = await read({
      styles: STYLES,
      theme: THEME,
      sheets: {
        Sheet1: '<sheetData><row r="1"><c r="A1" s="6"/><c r="B1" s="1"/></row></sheetData>',
      },
    });
    expect(brief(cells)).toEqual([[1, 1, 'blank', '', '']]);
  });

  test('merged cells, widths, heights and hidden parts, cut to the area', async () => {
    const snapshot = await read(
      {
        sheets: {
          Sheet1: `<sheetFormatPr defaultColWidth="10" defaultRowHeight="18"/><cols><col min="2" max="16384" width="5"/><col min="1" max="1" width="12" hidden="1"/></cols>
            <sheetData><row r="2" ht="30"><c r="A2"><v>1</v></c></row><row r="3" hidden="1"><c r="A3"><v>2</v></c></row></sheetData>
            <mergeCells><mergeCell ref="A2:C9"/><mergeCell ref="H1:J1"/></mergeCells>`,
        },
      },
      'A2:B4',
    );
    expect(snapshot.merges).toEqual([{ top: 2, left: 1, bottom: 4, right: 2 }]);
    expect(snapshot.columns).toEqual([
      { index: 2, size: 5 },
      { index: 1, size: 12, hidden: true },
    ]);
    expect(snapshot.rows).toEqual([
      { index: 2, size: 30 },
      { index: 3, hidden: true },
    ]);
    expect(snapshot.defaults).toEqual({ columnWidth: 10, rowHeight: 18, digitWidth: 7 });
  });

  test('equal areas give equal snapshots, however the styles are numbered', async () => {
    const sheet = (style: number) =>
      `<sheetData><row r="1"><c r="A1" s="${style}"><v>1</v></c></row></sheetData>`;
    const swapped = STYLES.replace('<xf/><xf numFmtId="164"/>', '<xf numFmtId="164"/><xf/>');
    const one = await read({ styles: STYLES, sheets: { Sheet1: sheet(0) } });
    const other = await read({ styles: swapped, sheets: { Sheet1: sheet(1) } });
    expect(JSON.stringify(other)).toBe(JSON.stringify(one));
  });
});

test('sheets with their states and defined names with their scope', async () => {
  const source = await open({
    sheets: { Counts: '<sheetData/>', Notes: '<sheetData/>' },
    afterSheets:
      '<definedNames><definedName name="Plots">Counts!$A$3:$A$14</definedName><definedName name="Here" localSheetId="1" hidden="1">Notes!$B$2</definedName></definedNames>',
  });
  expect(source.sheets).toEqual([
    { name: 'Counts', state: 'visible' },
    { name: 'Notes', state: 'visible' },
  ]);
  expect(source.names).toEqual([
    { name: 'Plots', refersTo: 'Counts!$A$3:$A$14', sheet: null, hidden: false },
    { name: 'Here', refersTo: 'Notes!$B$2', sheet: 'Notes', hidden: true },
  ]);
});

test('what is filled is what has values, whatever the file says about it', async () => {
  const source = await open({
    sheets: {
      Sheet1:
        '<dimension ref="A1:Z99"/><sheetData><row r="3"><c r="B3"><v>1</v></c><c r="C3" s="2"/></row><row r="7"><c r="E7"><v>1</v></c></row></sheetData>',
      Empty: '<sheetData/>',
    },
  });
  const filled = await source.readOccupancy('Sheet1');
  expect(filled).toEqual({
    ok: true,
    value: {
      rows: [
        { row: 3, runs: [2, 2] },
        { row: 7, runs: [5, 5] },
      ],
    },
  });
  expect(await source.readOccupancy('Empty')).toEqual({ ok: true, value: { rows: [] } });
});

describe('bad files', () => {
  const fault = async (bytes: Uint8Array | string, name?: string) => {
    const path = await writeFixture(bytes, name);
    const source = await openSource(path, 'counts.xlsx');
    if (!source.ok) return source.fault;
    opened.push(source.value);
    const area = await source.value.readArea('Sheet1', { top: 1, left: 1, bottom: 2, right: 2 });
    return area.ok ? null : area.fault;
  };
  const good = () =>
    buildWorkbook({
      sheets: { Sheet1: '<sheetData><row r="1"><c r="A1"><v>5</v></c></row></sheetData>' },
    });
  const compound = (stream: string) =>
    Buffer.concat([
      Buffer.from('d0cf11e0a1b11ae1', 'hex'),
      Buffer.alloc(600),
      Buffer.from(stream, 'utf16le'),
    ]);

  test('a good one has no fault', async () => {
    expect(await fault(good())).toBeNull();
  });

  test.each([
    ['zero bytes', () => '', 'source-empty'],
    ['plain text', () => 'Plot,Species\nSC-01,Aster\n'.repeat(20), 'source-not-workbook'],
    ['a few bytes', () => 'PK', 'source-damaged'],
    ['protected with a password', () => compound('EncryptedPackage'), 'source-password-protected'],
    ['an old binary workbook', () => compound('Workbook'), 'source-old-format'],
    ['cut short', () => good().slice(0, 400), 'source-damaged'],
    [
      'a zip of something else',
      () => buildWorkbook({ parts: { '_rels/.rels': null } }),
      'source-part-missing',
    ],
    [
      'without its workbook part',
      () => buildWorkbook({ parts: { 'xl/workbook.xml': null } }),
      'source-part-missing',
    ],
    [
      'without the sheet’s part',
      () => buildWorkbook({ parts: { 'xl/worksheets/sheet1.xml': null } }),
      'source-part-missing',
    ],
    [
      'without the promised strings',
      () =>
        buildWorkbook({
          strings: '',
          sheets: {
            Sheet1: '<sheetData><row r="1"><c r="A1" t="s"><v>0</v></c></row></sheetData>',
          },
          parts: { 'xl/sharedStrings.xml': null },
        }),
      'source-part-missing',
    ],
    [
      'XML that breaks off',
      () => buildWorkbook({ parts: { 'xl/workbook.xml': '<workbook><sheets>' } }),
      'source-damaged',
    ],
    [
      'a sheet that is no XML',
      () => buildWorkbook({ parts: { 'xl/worksheets/sheet1.xml': '\u0000\u0001' } }),
      'source-damaged',
    ],
    [
      'entities that would blow up',
      () =>
        buildWorkbook({
          parts: {
            'xl/worksheets/sheet1.xml':
              '<!DOCTYPE w [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><worksheet>&b;</worksheet>',
          },
        }),
      'source-damaged',
    ],
  ])('%s', async (_, bytes, code) => {
    const told = await fault(bytes());
    expect(told).toMatchObject({ code });
    expect(told!.message).toContain('counts.xlsx');
    expect(told!.hint).toMatch(/\.$/);
  });

  test('a part that was spoilt inside', async () => {
    const bytes = Buffer.from(good());
    const at = bytes.indexOf('xl/worksheets/sheet1.xml') + 'xl/worksheets/sheet1.xml'.length;
    bytes.fill(0xff, at, at + 20);
    expect(await fault(bytes)).toMatchObject({ code: 'source-damaged' });
  });

  test('a sheet that is not there: says which there are', async () => {
    const source = await open({ sheets: { Counts: '<sheetData/>', Notes: '<sheetData/>' } });
    const area = await source.readArea('Plots', { top: 1, left: 1, bottom: 1, right: 1 });
    expect(area).toMatchObject({ ok: false, fault: { code: 'sheet-missing' } });
    if (!area.ok) expect(area.fault.hint).toContain('Counts, Notes');
  });

  test('a file that is not there, and a folder in its place', async () => {
    expect(await openSource('/no/such/book.xlsx', 'book.xlsx')).toMatchObject({
      fault: { code: 'source-missing' },
    });
    expect(await openSource('/tmp', 'book.xlsx')).toMatchObject({
      fault: { code: 'source-unreadable' },
    });
  });
});

import { describe, expect, test } from '@jest/globals';
import { MAX_ROWS } from '@tether/core';
import { strToU8, zipSync } from 'fflate';
import { flatSpreadsheet, type OdfFixture, packedSpreadsheet } from './odf/spreadsheet.fixture.ts';
import { CHANGE } from './ooxml/read/styles.ts';
import { buildWorkbook, type FixtureParts, writeFixture } from './ooxml/workbook.fixture.ts';
import { openSource } from './open-source.ts';
import { takeReach } from './taking/take-reach.ts';

/** Numbers that look random and are the same in every run (the linear congruence of ISO C's example). */
function numbersFrom(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (Math.imul(state, 1103515245) + 12345) & 0x7fffffff;
    return (state >>> 8) % below;
  };
}

const SHEET = `<sheetFormatPr defaultColWidth="9"/><cols><col min="1" max="3" width="12"/></cols><sheetData>
<row r="1" ht="20"><c r="A1" t="s"><v>0</v></c><c r="B1" t="inlineStr"><is><t>in &amp; line</t></is></c></row>
<row r="2"><c r="A2" s="1"><v>46300</v></c><c r="B2"><f>SUM(A1:A2)</f><v>12.5</v></c><c r="C2" t="e"><v>#N/A</v></c></row>
</sheetData><mergeCells count="1"><mergeCell ref="A1:B1"/></mergeCells>`;

const CONDITIONS = `<conditionalFormatting sqref="A1:C9"><cfRule type="expression" priority="1" ${CHANGE.reference}="0"><formula>SUM($A$1:A1)&gt;B1*2</formula></cfRule>
<cfRule type="colorScale" priority="2"><colorScale><cfvo type="min"/><cfvo type="percentile" val="90"/><color rgb="FFFFFFFF"/><color theme="1"/></colorScale></cfRule></conditionalFormatting>
<dataValidations><dataValidation type="list" sqref="B2"><formula1>"a,b"</formula1></dataValidation></dataValidations>
<hyperlinks><hyperlink ref="A1:A9" location="Sheet1!A1"/></hyperlinks>`;
const FIXTURE: FixtureParts = {
  sheets: { Sheet1: SHEET + CONDITIONS },
  strings: '<si><t>shared</t></si>',
  styles:
    '<fonts><font><sz val="11"/><name val="Calibri"/></font></fonts><cellXfs><xf/><xf numFmtId="14"/></cellXfs>',
};

/** Reads everything of a file, as the server would; gives the fault's code, or null when it could be read. */
async function readAll(bytes: Uint8Array | string, name = 'book.xlsx'): Promise<string | null> {
  const source = await openSource(await writeFixture(bytes), name);
  if (!source.ok) return source.fault.code;
  try {
    const sheet = source.value.sheets[0]?.name ?? 'none';
    const area = { top: 1, left: 1, bottom: 50, right: 20 };
    for (const reach of [
      { kind: 'block', sheet, area } as const,
      { kind: 'whole sheet', sheet } as const,
      { kind: 'name', name: 'Plots', sheet: null } as const,
    ]) {
      const taken = await takeReach(source.value, reach);
      if (!taken.ok && taken.fault.code !== 'name-missing') return taken.fault.code;
    }
    for (const told of [await source.value.readCharts(), await source.value.readRules(sheet)]) {
      if (!told.ok) return told.fault.code;
    }
    return null;
  } finally {
    await source.value.close();
  }
}

test('unspoilt, it is read', async () => {
  expect(await readAll(buildWorkbook(FIXTURE))).toBeNull();
});

test('a number that is no day in a date format is shown as a number, and everything else is read', async () => {
  const rows = [1e300, -1e300, 2_958_466, -5, 1.7976931348623157e308]
    .map((value, at) => `<row r="${at + 1}"><c r="A${at + 1}" s="1"><v>${value}</v></c></row>`)
    .join('');
  const bytes = buildWorkbook({ ...FIXTURE, sheets: { Sheet1: `<sheetData>${rows}</sheetData>` } });
  const source = await openSource(await writeFixture(bytes), 'book.xlsx');
  if (!source.ok) throw new Error(source.fault.message);
  const area = { top: 1, left: 1, bottom: 5, right: 1 };
  const taken = await takeReach(source.value, { kind: 'block', sheet: 'Sheet1', area });
  await source.value.close();
  if (!taken.ok) throw new Error(taken.fault.message);
  expect(taken.value.snapshot.cells.map(({ type, value }) => [type, value])).toEqual([
    ['number', 1e300],
    ['number', -1e300],
    ['number', 2_958_466],
    ['number', -5],
    ['number', 1.7976931348623157e308],
  ]);
});

describe('spoilt in any way, a workbook is read or gives a fault, and nothing breaks', () => {
  test('bytes of the package changed, cut out or doubled', async () => {
    const good = Buffer.from(buildWorkbook(FIXTURE));
    const codes = new Set<string | null>();
    for (let seed = 1; seed <= 250; seed++) {
      const next = numbersFrom(seed);
      const bytes = Buffer.from(good);
      for (let n = next(6); n >= 0; n--) bytes[next(bytes.length)] = next(256);
      const cut = next(3) === 0 ? bytes.subarray(0, next(bytes.length)) : bytes;
      codes.add(await readAll(cut));
    }
    expect(codes).toContain('source-damaged');
    expect(codes).toContain(null);
  });

  test('characters of the parts changed', async () => {
    const codes = new Set<string | null>();
    for (let seed = 1; seed <= 250; seed++) {
      const next = numbersFrom(seed * 7919);
      const spoil = (text: string) => {
        const letters = [...text];
        for (let n = next(3); n >= 0; n--) {
          letters[next(letters.length)] = ['<', '>', '"', '9', '-', 'x', '\u0000', '1', 'A', ''][
            next(10)
          ]!;
        }
        return letters.join('');
      };
      codes.add(
        await readAll(
          buildWorkbook({
            ...FIXTURE,
            sheets: { Sheet1: spoil(SHEET + CONDITIONS) },
            styles: spoil(FIXTURE.styles!),
          }),
        ),
      );
    }
    expect(codes).toContain('source-damaged');
    expect(codes).toContain(null);
  });
});

describe('an open document spoilt in any way is read or gives a fault', () => {
  const fixture: OdfFixture = {
    styles:
      '<number:number-style style:name="N1"><number:number number:decimal-places="2" number:grouping="true"/></number:number-style><style:style style:name="c1" style:family="table-cell" style:parent-style-name="c1" style:data-style-name="N1"><style:map style:condition="cell-content()&gt;2" style:apply-style-name="c2"/></style:style>',
    body: `<table:table table:name="Sheet1"><table:table-column table:number-columns-repeated="4"/><table:table-row table:number-rows-repeated="3"><table:table-cell table:style-name="c1" office:value-type="float" office:value="3" table:formula="of:=SUM([.A1:.B2])"><text:p>3<text:span>x</text:span></text:p></table:table-cell><table:table-cell table:number-columns-repeated="99" table:number-columns-spanned="2"/></table:table-row>
      <calcext:conditional-formats><calcext:conditional-format calcext:target-range-address="Sheet1.A1:Sheet1.B9"><calcext:condition calcext:value="between(1;[.B1])" calcext:apply-style-name="c1"/></calcext:conditional-format></calcext:conditional-formats></table:table>
      <table:named-expressions><table:named-range table:name="Plots" table:cell-range-address="$Sheet1.$A$1:.$B$2"/></table:named-expressions>`,
  };
  test('characters of the text changed', async () => {
    const codes = new Set<string | null>();
    for (let seed = 1; seed <= 250; seed++) {
      const next = numbersFrom(seed * 104_729);
      const letters = [...flatSpreadsheet(fixture)];
      for (let n = next(4); n >= 0; n--) {
        letters[next(letters.length)] = ['<', '>', '"', '&', '/', '9', ':', '.', ']', ''][
          next(10)
        ]!;
      }
      codes.add(await readAll(letters.join(''), 'book.fods'));
    }
    expect(codes).toContain('source-damaged');
    expect(codes).toContain(null);
  });
  test('bytes of the package changed', async () => {
    const good = packedSpreadsheet(fixture);
    const codes = new Set<string | null>();
    for (let seed = 1; seed <= 150; seed++) {
      const next = numbersFrom(seed * 31);
      const bytes = Buffer.from(good);
      for (let n = next(6); n >= 0; n--) bytes[next(bytes.length)] = next(256);
      codes.add(await readAll(bytes, 'book.ods'));
    }
    expect(codes).toContain('source-damaged');
    expect(codes).toContain(null);
  });
});

describe('made to do harm', () => {
  test('conditional formats of the whole sheet, with cells at its corners', async () => {
    const everywhere = (rule: string) =>
      `<sheetData><row r="1"><c r="A1"><v>1</v></c></row><row r="1048576"><c r="XFD1048576"><v>2</v></c></row></sheetData><conditionalFormatting sqref="A1:XFD1048576">${rule}</conditionalFormatting>`;
    for (const rule of [
      `<cfRule type="top10" priority="1" rank="3" ${CHANGE.reference}="0"/>`,
      `<cfRule type="duplicateValues" priority="1" ${CHANGE.reference}="0"/>`,
      `<cfRule type="expression" priority="1" ${CHANGE.reference}="0"><formula>SUM($A$1:$XFD$1048576)&gt;1</formula></cfRule>`,
      `<cfRule type="expression" priority="1" ${CHANGE.reference}="0"><formula>COUNTIF(A:XFD,A1)&gt;1</formula></cfRule>`,
    ]) {
      const sheets = { Sheet1: everywhere(rule) };
      const styles = `<${CHANGE.list}><${CHANGE.element}><fill><patternFill><bgColor rgb="FFFF0000"/></patternFill></fill></${CHANGE.element}></${CHANGE.list}>`;
      const code = await readAll(buildWorkbook({ ...FIXTURE, sheets, styles }));
      // The whole sheet is more than an object may take; reading a part of it works.
      expect(code).toBe('reach-too-large');
    }
  });

  /** The workbook with another size of its sheet in the directory. */
  function claiming(size: number): Uint8Array {
    const bytes = Buffer.from(buildWorkbook(FIXTURE));
    const entry = bytes.lastIndexOf('xl/worksheets/sheet1.xml') - 46;
    bytes.writeUInt32LE(size, entry + 24);
    return bytes;
  }

  test('a part that unpacks to far more than it should is refused before it is unpacked', async () => {
    expect(await readAll(claiming(300 << 20))).toBe('source-too-large');
  });

  test('a part that hides how much it unpacks to is stopped there', async () => {
    expect(await readAll(claiming(10))).toBe('source-damaged');
  });

  test.each([
    [
      'columns without end',
      '<cols><col min="1" max="4294967295" width="9"/></cols><sheetData><row r="1"><c r="A1"><v>1</v></c></row></sheetData>',
    ],
    [
      'a cell outside the sheet',
      '<sheetData><row r="1"><c r="ZZZZZ1"><v>1</v></c></row></sheetData>',
    ],
    [
      'a row outside the sheet',
      '<sheetData><row r="99999999999"><c><v>1</v></c></row></sheetData>',
    ],
    [
      'rows out of order and twice',
      '<sheetData><row r="9"><c r="A9"><v>1</v></c></row><row r="2"><c r="A2"><v>1</v></c></row><row r="2"><c r="B2"><v>1</v></c></row></sheetData>',
    ],
    [
      'cells out of order and twice',
      '<sheetData><row r="1"><c r="C1"><v>1</v></c><c r="A1"><v>2</v></c><c r="A1"><v>3</v></c></row></sheetData>',
    ],
    [
      'an absurd dimension',
      '<dimension ref="A1:XFD1048576"/><sheetData><row r="1"><c r="A1"><v>1</v></c></row></sheetData>',
    ],
    [
      'merged cells that are the whole sheet',
      '<sheetData><row r="1"><c r="A1"><v>1</v></c></row></sheetData><mergeCells><mergeCell ref="A1:XFD1048576"/></mergeCells>',
    ],
    [
      'a style and a string that are not there',
      '<sheetData><row r="1"><c r="A1" s="999" t="s"><v>4000000</v></c></row></sheetData>',
    ],
    [
      'numbers that are none',
      '<sheetData><row r="1"><c r="A1"><v>1e999</v></c><c r="B1"><v>twelve</v></c></row></sheetData>',
    ],
  ])('%s: read in a moment', async (_, sheet) => {
    expect(await readAll(buildWorkbook({ ...FIXTURE, sheets: { Sheet1: sheet } }))).toBeNull();
  });

  test('elements nested without end', async () => {
    const deep = `<worksheet><sheetData><row r="1">${'<x>'.repeat(100_000)}</row></sheetData></worksheet>`;
    expect(
      await readAll(buildWorkbook({ ...FIXTURE, parts: { 'xl/worksheets/sheet1.xml': deep } })),
    ).toBe('source-damaged');
  });

  test('part names that leave the package name parts and no files', async () => {
    const bytes = zipSync({
      '../../etc/passwd': strToU8('x'),
      '_rels/.rels': strToU8(
        '<Relationships><Relationship Id="r" Type="/officeDocument" Target="../../../../etc/passwd"/></Relationships>',
      ),
    });
    expect(await readAll(bytes)).toMatch(/source-(part-missing|damaged)/);
  });

  test('a reach that asks for almost the whole sheet is refused before it is read', async () => {
    const source = await openSource(await writeFixture(buildWorkbook(FIXTURE)));
    if (!source.ok) throw new Error(source.fault.message);
    const area = { top: 1, left: 1, bottom: MAX_ROWS - 1, right: 16_383 };
    const taken = await takeReach(source.value, { kind: 'block', sheet: 'Sheet1', area });
    expect(taken).toMatchObject({ ok: false, fault: { code: 'reach-too-large' } });
    await source.value.close();
  });
});

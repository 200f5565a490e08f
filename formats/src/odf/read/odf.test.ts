import { describe, expect, test } from '@jest/globals';
import { type Area, chartData, parseReference, type Snapshot, showNumber } from '@tether/core';
import * as xlsx from 'xlsx';
import { writeFixture } from '../../ooxml/workbook.fixture.ts';
import { openSource } from '../../open-source.ts';
import { parseXml } from '../../package/xml.ts';
import type { OpenSource } from '../../source.ts';
import { takeReach } from '../../taking/take-reach.ts';
import {
  flatSpreadsheet,
  type OdfFixture,
  odfPart,
  packedSpreadsheet,
} from '../spreadsheet.fixture.ts';
import { parseCondition } from './conditions.ts';
import { parseOdfRange, plainFormula } from './formula.ts';
import { formatCode } from './number-styles.ts';

const area = (text: string): Area => {
  const parsed = parseReference(text);
  if (!parsed.ok) throw new Error(text);
  return parsed.value.area;
};

async function open(fixture: OdfFixture, isFlat = true): Promise<OpenSource> {
  const path = isFlat
    ? await writeFixture(flatSpreadsheet(fixture), 'book.fods')
    : await writeFixture(packedSpreadsheet(fixture), 'book.ods');
  const source = await openSource(path);
  if (!source.ok) throw new Error(`${source.fault.code}: ${source.fault.message}`);
  return source.value;
}

async function read(fixture: OdfFixture, reference = 'A1:J20', sheet = 'S'): Promise<Snapshot> {
  const source = await open(fixture);
  const snapshot = await source.readArea(sheet, area(reference));
  await source.close();
  if (!snapshot.ok) throw new Error(snapshot.fault.message);
  return snapshot.value;
}

const table = (rows: string, more = '') =>
  `<table:table table:name="S" ${more}>${rows}</table:table>`;
const float = (value: number, more = '') =>
  `<table:table-cell office:value-type="float" office:value="${value}" ${more}><text:p>${value}</text:p></table:table-cell>`;
const words = (text: string, more = '') =>
  `<table:table-cell office:value-type="string" ${more}><text:p>${text}</text:p></table:table-cell>`;
const row = (...cells: string[]) => `<table:table-row>${cells.join('')}</table:table-row>`;
const brief = ({ cells }: Snapshot) =>
  cells
    .filter(({ type }) => type !== 'blank')
    .map((cell) => [cell.row, cell.column, cell.type, cell.value, cell.text]);

describe('values by their type (ODF 1.3 Part 3, 19.389)', () => {
  const cell = (attributes: string, text = '') =>
    `<table:table-cell ${attributes}>${text === '' ? '' : `<text:p>${text}</text:p>`}</table:table-cell>`;
  test.each<[string, string, string, unknown[]]>([
    ['float', 'office:value-type="float" office:value="12.5"', '12.50', ['number', 12.5, '12.50']],
    [
      'float without a text',
      'office:value-type="float" office:value="12.5"',
      '',
      ['number', 12.5, '12.5'],
    ],
    [
      'percentage',
      'office:value-type="percentage" office:value="0.42"',
      '42%',
      ['number', 0.42, '42%'],
    ],
    [
      'currency',
      'office:value-type="currency" office:currency="EUR" office:value="1200"',
      '€1,200',
      ['number', 1200, '€1,200'],
    ],
    [
      'date',
      'office:value-type="date" office:date-value="2026-10-05"',
      '5 Oct 2026',
      ['date', '2026-10-05', '5 Oct 2026'],
    ],
    [
      'date and time',
      'office:value-type="date" office:date-value="2026-10-05T06:30:00"',
      'x',
      ['date', '2026-10-05T06:30:00', 'x'],
    ],
    [
      'time',
      'office:value-type="time" office:time-value="PT36H00M00S"',
      '36:00',
      ['number', 1.5, '36:00'],
    ],
    [
      'boolean',
      'office:value-type="boolean" office:boolean-value="true"',
      'TRUE',
      ['boolean', true, 'TRUE'],
    ],
    [
      'string',
      'office:value-type="string"',
      'Salt &amp; mud',
      ['text', 'Salt & mud', 'Salt & mud'],
    ],
    [
      'string by attribute',
      'office:value-type="string" office:string-value="kept"',
      '',
      ['text', 'kept', 'kept'],
    ],
    [
      'an error by the extension',
      'office:value-type="string" office:string-value="" calcext:value-type="error" table:formula="of:=1/0"',
      '#DIV/0!',
      ['error', '#DIV/0!', '#DIV/0!'],
    ],
    [
      'an error by its text',
      'office:value-type="float" office:value="0" table:formula="of:=FOO()"',
      'Err:508',
      ['error', 'Err:508', 'Err:508'],
    ],
  ])('%s', async (_, attributes, text, expected) => {
    const snapshot = await read({ body: table(row(cell(attributes, text))) });
    expect(brief(snapshot)).toEqual([[1, 1, ...expected]]);
  });

  test('void and no type are empty', async () => {
    const snapshot = await read({ body: table(row(cell('office:value-type="void"'), cell(''))) });
    expect(snapshot.cells).toEqual([]);
  });
});

describe('texts (ODF 1.3 Part 3, 6.1)', () => {
  test('paragraphs, spaces, tabs, breaks, spans and links', async () => {
    const snapshot = await read({
      styles:
        '<style:style style:name="T1" style:family="text"><style:text-properties fo:font-weight="bold" fo:color="#1f7a5c"/></style:style>',
      body: table(
        row(
          '<table:table-cell office:value-type="string"><text:p>a<text:s text:c="3"/>b<text:tab/>c<text:line-break/>d</text:p><text:p>e</text:p></table:table-cell>',
          '<table:table-cell office:value-type="string"><text:p>Salt<text:span text:style-name="T1">marsh</text:span>es</text:p></table:table-cell>',
          '<table:table-cell office:value-type="string"><text:p><text:a xlink:href="https://example.org/">Map</text:a></text:p></table:table-cell>',
          '<table:table-cell office:value-type="string"><text:p><text:a xlink:href="#S.A1">Up</text:a></text:p></table:table-cell>',
        ),
      ),
    });
    expect(snapshot.cells.map(({ value }) => value)).toEqual([
      'a   b\tc\nd\ne',
      'Saltmarshes',
      'Map',
      'Up',
    ]);
    expect(snapshot.cells[1]!.runs).toEqual([
      { text: 'Salt' },
      { text: 'marsh', letters: { family: 'Arimo', size: 10, bold: true, colour: '#1F7A5C' } },
      { text: 'es' },
    ]);
    expect(snapshot.cells[2]).toMatchObject({ link: 'https://example.org/' });
    expect(snapshot.cells[3]).toMatchObject({ link: '#S!A1' });
  });

  test('white space is one space, and none at the ends (6.1.2)', async () => {
    const cell = (inner: string) =>
      `<table:table-cell office:value-type="string"><text:p>${inner}</text:p></table:table-cell>`;
    const snapshot = await read({
      body: table(
        row(
          cell('  a \n  b  '),
          cell('a <text:span>b </text:span> c'),
          cell('a <text:s/>b'),
          cell('<text:s/> a<text:s/>'),
        ),
      ),
    });
    expect(snapshot.cells.map(({ value }) => value)).toEqual(['a b', 'a b c', 'a  b', '  a ']);
  });

  test('a note and what is drawn in a cell are not its text', async () => {
    const snapshot = await read({
      body: table(
        row(
          '<table:table-cell office:value-type="float" office:value="3"><office:annotation><dc:date>2026</dc:date><text:p>counted</text:p><text:p>twice</text:p></office:annotation><draw:custom-shape><text:p>shape</text:p></draw:custom-shape><text:p>3</text:p></table:table-cell>',
        ),
      ),
    });
    expect(snapshot.cells[0]).toMatchObject({ value: 3, text: '3' });
    expect(snapshot.cells[0]!.note).toBe('counted\ntwice');
  });
});

describe('repeated rows and columns (19.675, 19.677)', () => {
  test('stand as often as they say', async () => {
    const snapshot = await read({
      body: table(
        `${row(words('x', 'table:number-columns-repeated="3"'), float(1))}
         <table:table-row table:number-rows-repeated="2"><table:table-cell/>${float(7)}</table:table-row>${row(float(9))}`,
      ),
    });
    expect(brief(snapshot).map(([r, c, , value]) => [r, c, value])).toEqual([
      [1, 1, 'x'],
      [1, 2, 'x'],
      [1, 3, 'x'],
      [1, 4, 1],
      [2, 2, 7],
      [3, 2, 7],
      [4, 1, 9],
    ]);
  });

  test('fill the rest of the sheet without taking memory for it', async () => {
    const source = await open({
      body: table(
        `${row(float(1))}<table:table-row table:number-rows-repeated="1048570"><table:table-cell table:number-columns-repeated="16384"/></table:table-row>${row(float(2))}`,
      ),
    });
    const occupancy = await source.readOccupancy('S');
    expect(occupancy).toEqual({
      ok: true,
      value: {
        rows: [
          { row: 1, runs: [1, 1] },
          { row: 1_048_572, runs: [1, 1] },
        ],
      },
    });
    await source.close();
  });

  test('a billion of them are bounded by the sheet', async () => {
    const source = await open({
      body: table(
        `<table:table-row table:number-rows-repeated="1000000000"><table:table-cell table:number-columns-repeated="1000000000"/></table:table-row>${row(float(2))}`,
      ),
    });
    expect(await source.readOccupancy('S')).toMatchObject({ value: { rows: [] } });
    expect(await source.readArea('S', area('A1:B2'))).toMatchObject({ value: { cells: [] } });
    await source.close();
  });

  test.each(['0', '-3', 'many', ''])('%j repeats are one', async (times) => {
    const snapshot = await read({
      body: table(row(float(1, `table:number-columns-repeated="${times}"`), float(2))),
    });
    expect(brief(snapshot).map(([, c, , value]) => [c, value])).toEqual([
      [1, 1],
      [2, 2],
    ]);
  });

  test('in groups and headers count on', async () => {
    const snapshot = await read({
      body: table(
        `<table:table-header-rows>${row(words('head'))}</table:table-header-rows><table:table-row-group>${row(float(1))}<table:table-row-group>${row(float(2))}</table:table-row-group></table:table-row-group>`,
      ),
    });
    expect(brief(snapshot).map(([r, , , value]) => [r, value])).toEqual([
      [1, 'head'],
      [2, 1],
      [3, 2],
    ]);
  });
});

describe('the look', () => {
  const styles = `
    <number:number-style style:name="N1"><number:number number:decimal-places="2" number:min-integer-digits="1" number:grouping="true"/></number:number-style>
    <style:style style:name="co1" style:family="table-column"><style:table-column-properties style:column-width="2.258cm"/></style:style>
    <style:style style:name="co2" style:family="table-column"><style:table-column-properties style:column-width="5cm"/></style:style>
    <style:style style:name="ro1" style:family="table-row"><style:table-row-properties style:row-height="12.8pt"/></style:style>
    <style:style style:name="ro2" style:family="table-row"><style:table-row-properties style:row-height="30pt"/></style:style>
    <style:style style:name="ta2" style:family="table"><style:table-properties table:display="false"/></style:style>
    <style:style style:name="ce1" style:family="table-cell" style:parent-style-name="Head" style:data-style-name="N1">
      <style:table-cell-properties fo:border-bottom="0.74pt solid #0b4f5c" fo:wrap-option="wrap" style:vertical-align="middle" style:rotation-angle="315"/>
      <style:paragraph-properties fo:text-align="end"/></style:style>`;
  const common = `
    <style:default-style style:family="table-cell"><style:text-properties style:font-name="Carlito" fo:font-size="11pt"/></style:default-style>
    <style:style style:name="Head" style:family="table-cell"><style:table-cell-properties fo:background-color="#e9eef0"/><style:text-properties fo:font-weight="bold" fo:font-style="italic" style:text-underline-style="solid" fo:color="#b9772a"/></style:style>`;
  const fonts = '<style:font-face style:name="Carlito" svg:font-family="Carlito"/>';
  const body =
    table(
      `<table:table-column table:style-name="co1"/><table:table-column table:style-name="co2" table:visibility="collapse"/><table:table-column table:style-name="co1" table:number-columns-repeated="16382" table:default-cell-style-name="Head"/>
     <table:table-row table:style-name="ro2">${'<table:table-cell table:style-name="ce1" office:value-type="float" office:value="1234.5" table:number-columns-spanned="2" table:number-rows-spanned="2"/><table:covered-table-cell/>'}<table:table-cell/></table:table-row>
     <table:table-row table:style-name="ro1" table:visibility="filter"><table:covered-table-cell/>${words('under')}</table:table-row>
     <table:table-row table:style-name="ro1" table:number-rows-repeated="1000"><table:table-cell table:number-columns-repeated="16384"/></table:table-row>`,
    ) + table('', 'table:style-name="ta2"').replace('"S"', '"Hidden"');

  test.each([true, false])('styles with all they inherit (flat: %s)', async (isFlat) => {
    const source = await open({ body, styles, common, fonts }, isFlat);
    const snapshot = await source.readArea('S', area('A1:C2'));
    expect(source.sheets).toEqual([
      { name: 'S', state: 'visible' },
      { name: 'Hidden', state: 'hidden' },
    ]);
    await source.close();
    if (!snapshot.ok) throw new Error(snapshot.fault.message);
    const { cells, dresses, merges, rows, columns } = snapshot.value;
    expect(cells[0]).toMatchObject({ value: 1234.5, text: '1,234.50', format: '#,##0.00' });
    expect(dresses[cells[0]!.dress!]).toEqual({
      letters: {
        family: 'Carlito',
        size: 11,
        bold: true,
        italic: true,
        underline: true,
        colour: '#B9772A',
      },
      fill: '#E9EEF0',
      bottom: { style: 'thin', colour: '#0B4F5C' },
      horizontal: 'right',
      vertical: 'center',
      wrap: true,
      rotation: -45,
    });
    expect(merges).toEqual([area('A1:B2')]);
    expect(rows).toEqual([
      { index: 1, size: 30 },
      { index: 2, hidden: true },
    ]);
    expect(columns).toMatchObject([{ index: 2, hidden: true }]);
    // Column C is dressed by its column's default style although its cells say nothing.
    expect(cells.filter(({ column }) => column === 3).map(({ type }) => type)).toEqual(['blank']);
  });
});

// Format codes: what the number styles of ODF 1.3 Part 3, 16.29 mean, checked by what they show.
describe('number styles', () => {
  const code = (xml: string, others: Record<string, string> = {}) =>
    formatCode(
      parseXml(Buffer.from(xml)),
      new Map(Object.entries(others).map(([name, text]) => [name, parseXml(Buffer.from(text))])),
    );
  test.each<[string, number, string, string]>([
    [
      '<number-style><number decimal-places="0" min-integer-digits="1"/></number-style>',
      3.6,
      '0',
      '4',
    ],
    ['<number-style><number min-integer-digits="1"/></number-style>', 3.61, 'General', '3.61'],
    [
      '<number-style><number decimal-places="2" min-integer-digits="1" grouping="true"/></number-style>',
      12345.678,
      '#,##0.00',
      '12,345.68',
    ],
    [
      '<number-style><number decimal-places="3" min-decimal-places="1" min-integer-digits="3"/></number-style>',
      7.5,
      '000.0##',
      '007.5',
    ],
    [
      '<number-style><number decimal-places="0" min-integer-digits="1" grouping="true" display-factor="1000"/><text> k</text></number-style>',
      1_234_000,
      '#,##0," k"',
      '1,234 k',
    ],
    [
      '<percentage-style><number decimal-places="1" min-integer-digits="1"/><text>%</text></percentage-style>',
      0.425,
      '0.0%',
      '42.5%',
    ],
    [
      '<currency-style><currency-symbol>€</currency-symbol><text> </text><number decimal-places="2" min-integer-digits="1"/></currency-style>',
      3,
      '€ 0.00',
      '€ 3.00',
    ],
    [
      '<number-style><scientific-number decimal-places="2" min-integer-digits="1" min-exponent-digits="2"/></number-style>',
      1234,
      '0.00E+00',
      '1.23E+03',
    ],
    [
      '<number-style><fraction min-integer-digits="0" min-numerator-digits="1" min-denominator-digits="1"/></number-style>',
      2.5,
      '# ?/?',
      '2 1/2',
    ],
    [
      '<date-style><day/><text> </text><month textual="true"/><text> </text><year style="long"/></date-style>',
      46_300,
      'd mmm yyyy',
      '5 Oct 2026',
    ],
    [
      '<date-style><year style="long"/><text>-</text><month style="long"/><text>-</text><day style="long"/></date-style>',
      46_300,
      'yyyy-mm-dd',
      '2026-10-05',
    ],
    ['<date-style><day-of-week style="long"/></date-style>', 46_300, 'dddd', 'Monday'],
    [
      '<time-style><hours style="long"/><text>:</text><minutes style="long"/><text>:</text><seconds style="long" decimal-places="1"/></time-style>',
      0.25,
      'hh:mm:ss.0',
      '06:00:00.0',
    ],
    [
      '<time-style truncate-on-overflow="false"><hours/><text>:</text><minutes style="long"/></time-style>',
      1.5,
      '[h]:mm',
      '36:00',
    ],
    [
      '<time-style><hours/><text>:</text><minutes style="long"/><text> </text><am-pm/></time-style>',
      0.75,
      'h:mm AM/PM',
      '6:00 PM',
    ],
    [
      '<number-style><text>about </text><number decimal-places="0" min-integer-digits="1"/></number-style>',
      5,
      '"about "0',
      'about 5',
    ],
  ])('%s', (xml, value, expected, shown) => {
    expect(code(xml)).toBe(expected);
    expect(showNumber(value, expected)).toBe(shown);
  });

  test('maps are sections, colours too', () => {
    const negative =
      '<number-style><text-properties color="#ff0000"/><text>-</text><number decimal-places="1" min-integer-digits="1"/><map condition="value()&gt;=0" apply-style-name="P"/></number-style>';
    const positive =
      '<number-style><number decimal-places="1" min-integer-digits="1"/></number-style>';
    expect(code(negative, { P: positive })).toBe('0.0;[Red]-0.0');
    expect(showNumber(-2, '0.0;[Red]-0.0')).toBe('-2.0');
    const three =
      '<number-style><text>none</text><map condition="value()&gt;0" apply-style-name="P"/><map condition="value()&lt;0" apply-style-name="N"/></number-style>';
    expect(code(three, { P: positive, N: positive })).toBe('0.0;0.0;"none"');
    const other =
      '<number-style><number decimal-places="0" min-integer-digits="1"/><map condition="value()&gt;1000" apply-style-name="P"/></number-style>';
    expect(code(other, { P: positive })).toBe('[>1000]0.0;0');
  });
});

describe('formulas and references (OpenFormula, ODF 1.3 Part 4, 5)', () => {
  test.each([
    ['of:=SUM([.B2:.B5])', 'SUM(B2:B5)'],
    ['of:=[$Costs.A1]*2', 'Costs!A1*2'],
    ["of:=[$'My sheet'.$A$1]+[.C3]", "'My sheet'!$A$1+C3"],
    ['of:=IF([.A1]>0;"a;b";[.B1])', 'IF(A1>0,"a;b",B1)'],
    ['of:=SUM([.A1]~[.B1:.B2])', 'SUM(A1,B1:B2)'],
    ['of:={1;2|3;4}', '{1,2;3,4}'],
    ['of:="quote "" [x]"', '"quote "" [x]"'],
    ['of:=[Costs.A1:Costs.B2]', 'Costs!A1:B2'],
    ['of:=[.#REF!]', '#REF!'],
    ['of:=SUM([.A:.A])', 'SUM(A:A)'],
    ['msoxl:=A1+1', 'A1+1'],
  ])('%s', (text, expected) => expect(plainFormula(text)).toBe(expected));

  test.each([
    ['$Counts.$A$3:.$F$14', { sheet: 'Counts', area: area('A3:F14') }],
    ["$'It''s'.A1", { sheet: "It's", area: area('A1') }],
    ['.B2:.A1', { sheet: null, area: area('A1:B2') }],
    ['$S.A:.B', { sheet: 'S', area: area('A:B') }],
    ['nothing', null],
    ['', null],
  ])('%s', (text, expected) => expect(parseOdfRange(text)).toEqual(expected));
});

describe('names, databases, checks', () => {
  const body = `
    <table:content-validations><table:content-validation table:name="v1" table:condition="of:cell-content-is-whole-number() and cell-content-is-between(0;[.A1])" table:allow-empty-cell="false"><table:error-message table:title="Count"><text:p>Too many</text:p></table:error-message></table:content-validation>
    <table:content-validation table:name="v2" table:condition="of:cell-content-is-in-list(&quot;yes&quot;;&quot;no&quot;)"/></table:content-validations>
    ${table(
      `${row(words('Plot'), words('Planted'))}${row(words('SC-01'), float(240, 'table:content-validation-name="v1"'))}${row(words('SC-02'), float(180, 'table:content-validation-name="v1"'))}
       <table:named-expressions><table:named-range table:name="Local" table:cell-range-address="$S.$A$1"/></table:named-expressions>`,
      'table:protected="true" table:protection-key="abc"',
    )}
    <table:named-expressions><table:named-range table:name="Plots" table:base-cell-address="$S.$A$1" table:cell-range-address="$S.$A$1:.$B$3"/>
    <table:named-expression table:name="Twice" table:expression="of:=[$S.$B$2]*2"/></table:named-expressions>
    <table:database-ranges><table:database-range table:name="Planting" table:target-range-address="S.A1:S.B3"/><table:database-range table:name="__Anonymous_Sheet_DB__0" table:target-range-address="S.A1:S.B3"/></table:database-ranges>`;

  test('are found, and a reach follows them', async () => {
    const source = await open({ body });
    expect(source.names).toEqual([
      { name: 'Local', refersTo: 'S!$A$1', sheet: 'S', hidden: false },
      { name: 'Plots', refersTo: 'S!$A$1:$B$3', sheet: null, hidden: false },
      { name: 'Twice', refersTo: 'S!$B$2*2', sheet: null, hidden: false },
    ]);
    expect(await source.readTables()).toEqual({
      ok: true,
      value: [
        {
          name: 'Planting',
          sheet: 'S',
          area: area('A1:B3'),
          headerRows: 1,
          totalsRows: 0,
          columns: ['Plot', 'Planted'],
        },
      ],
    });
    for (const name of ['Plots', 'Planting']) {
      const taken = await takeReach(source, { kind: 'name', name, sheet: null });
      expect(taken).toMatchObject({ value: { snapshot: { area: area('A1:B3') } } });
    }
    expect(await takeReach(source, { kind: 'name', name: 'Twice', sheet: null })).toMatchObject({
      fault: { code: 'name-not-range' },
    });
    expect(await source.readRules('S')).toMatchObject({
      value: {
        protection: { isProtected: true, hasPassword: true },
        validations: [
          {
            kind: 'whole',
            comparison: 'between',
            operands: ['0', 'A1'],
            allowsBlank: false,
            message: 'Count: Too many',
            areas: [area('B2:B3')],
          },
        ],
      },
    });
    await source.close();
  });
});

describe('conditional formats', () => {
  const styles =
    '<style:style style:name="low" style:family="table-cell"><style:table-cell-properties fo:background-color="#f4cccc"/><style:text-properties fo:font-weight="bold"/></style:style>';
  const numbers = [10, 20, 30, 40].map((value) => row(float(value))).join('');
  const fills = ({ cells, dresses }: Snapshot) =>
    cells.map(({ dress }) => (dress === undefined ? undefined : dresses[dress]!.fill));
  const formatted = (inner: string) =>
    table(
      `${numbers}<calcext:conditional-formats><calcext:conditional-format calcext:target-range-address="S.A1:S.A4">${inner}</calcext:conditional-format></calcext:conditional-formats>`,
    );

  test('of a style with maps (16.3)', async () => {
    const mapped = `${styles}<style:style style:name="ce1" style:family="table-cell"><style:map style:condition="cell-content()&lt;25" style:apply-style-name="low" style:base-cell-address="S.A1"/></style:style>`;
    const body = table(
      [10, 30].map((value) => row(float(value, 'table:style-name="ce1"'))).join(''),
    );
    expect(fills(await read({ styles: mapped, body }))).toEqual(['#F4CCCC', undefined]);
  });
  test('is written for its base cell, wherever that stands', async () => {
    const mapped = `${styles}<style:style style:name="ce1" style:family="table-cell"><style:map style:condition="is-true-formula([.A2]&gt;25)" style:apply-style-name="low" style:base-cell-address="S.A2"/></style:style>`;
    // The base cell has another style: it is not dressed, and the others look at themselves.
    const cells = [
      row(float(30, 'table:style-name="ce1"')),
      row(float(30)),
      row(float(10, 'table:style-name="ce1"')),
    ];
    expect(fills(await read({ styles: mapped, body: table(cells.join('')) }))).toEqual([
      '#F4CCCC',
      undefined,
      undefined,
    ]);
  });
  test.each([
    ['&gt;=30', [3, 4]],
    ['between(15,35)', [2, 3]],
    ['formula-is(MOD([.A1];20)=0)', [2, 4]],
    ['top-elements(1)', [4]],
    ['below-average', [1, 2]],
    ['duplicate', []],
  ])('of the table: %s', async (value, rows) => {
    const snapshot = await read({
      styles,
      body: formatted(
        `<calcext:condition calcext:apply-style-name="low" calcext:value="${value}"/>`,
      ),
    });
    expect(fills(snapshot).flatMap((fill, index) => (fill ? [index + 1] : []))).toEqual(rows);
    const first = snapshot.cells.find(
      ({ dress }) => dress !== undefined && snapshot.dresses[dress]!.fill !== undefined,
    );
    if (first) expect(snapshot.dresses[first.dress!]!.letters.bold).toBe(true);
  });
  test('scales, bars and icons', async () => {
    const entry = (kind: string, value: number) =>
      `<calcext:formatting-entry calcext:type="${kind}" calcext:value="${value}"/>`;
    const snapshot = await read({
      body: formatted(
        `<calcext:color-scale><calcext:color-scale-entry calcext:type="minimum" calcext:color="#000000"/><calcext:color-scale-entry calcext:type="maximum" calcext:color="#ffffff"/></calcext:color-scale>
         <calcext:data-bar calcext:gradient="false" calcext:positive-color="#00ff00">${entry('auto-minimum', 0)}${entry('auto-maximum', 0)}</calcext:data-bar>
         <calcext:icon-set calcext:icon-set-type="3Arrows">${entry('percent', 0)}${entry('percent', 33)}${entry('percent', 66)}</calcext:icon-set>`,
      ),
    });
    expect(fills(snapshot)).toEqual(['#000000', '#555555', '#AAAAAA', '#FFFFFF']);
    expect(snapshot.cells.map(({ bar }) => bar?.to)).toEqual([0.25, 0.5, 0.75, 1]);
    expect(snapshot.cells.map(({ icon }) => icon?.index)).toEqual([0, 1, 2, 2]);
  });
  test.each<[string, unknown]>([
    [
      'cell-content-is-not-between(1,2)',
      { kind: 'cell', comparison: 'notBetween', operands: ['1', '2'] },
    ],
    ['is-true-formula([.A1]>[.B1])', { kind: 'formula', formula: 'A1>B1' }],
    ['begins-with("SC")', { kind: 'text', where: 'begins', text: 'SC' }],
    ['is-error', { kind: 'errors', isNegated: false }],
    ['something-new(3)', null],
  ])('%s', (text, expected) => expect(parseCondition(text)).toEqual(expected));
});

describe('charts (ODF 1.3 Part 3, 11)', () => {
  const chart = odfPart(`<office:automatic-styles>
      <style:style style:name="p" style:family="chart"><style:chart-properties chart:stacked="true"/></style:style>
      <style:style style:name="s" style:family="chart"><style:graphic-properties draw:fill-color="#0b4f5c"/></style:style></office:automatic-styles>
    <office:body><office:chart><chart:chart chart:class="chart:bar"><chart:title><text:p>Balance</text:p></chart:title><chart:legend chart:legend-position="bottom"/>
    <chart:plot-area chart:style-name="p"><chart:axis chart:dimension="x" chart:name="primary-x"><chart:categories table:cell-range-address="S.A2:S.A3"/></chart:axis>
    <chart:axis chart:dimension="y" chart:name="primary-y"><chart:title><text:p>Pounds</text:p></chart:title><chart:grid chart:class="major"/></chart:axis>
    <chart:series chart:style-name="s" chart:values-cell-range-address="S.B2:S.B3" chart:label-cell-address="S.B1" chart:class="chart:bar"/></chart:plot-area></chart:chart></office:chart></office:body>`);
  const rows = `${row(words('Package'), words('Spent'))}${row(words('Planting'), float(12))}${row(words('Sluice'), float(30), '<table:table-cell><draw:frame draw:name="Spent so far" table:end-cell-address="S.H14"><draw:object xlink:href="./Object 1"/></draw:frame></table:table-cell>')}`;

  test('are read with what they draw now', async () => {
    const source = await open(
      { body: table(rows), parts: { 'Object 1/content.xml': chart } },
      false,
    );
    const charts = await source.readCharts();
    const all = await source.readArea('S', area('A1:B3'));
    await source.close();
    if (!charts.ok || !all.ok) throw new Error('not read');
    expect(charts.value).toMatchObject([
      {
        name: 'Balance',
        place: area('C3:H14'),
        legend: 'bottom',
        groups: [{ kind: 'column', stacking: 'stacked', series: [{ colour: '#0B4F5C' }] }],
        axes: [{ role: 'category' }, { role: 'value', hasGrid: true, title: { text: 'Pounds' } }],
      },
    ]);
    const data = chartData(charts.value[0]!, (_, wanted) => ({
      ...all.value,
      area: wanted,
      cells: all.value.cells.filter(
        (cell) =>
          cell.row >= wanted.top &&
          cell.row <= wanted.bottom &&
          cell.column >= wanted.left &&
          cell.column <= wanted.right,
      ),
    }));
    expect(data).toMatchObject({
      title: 'Balance',
      labels: ['Planting', 'Sluice'],
      groups: [{ series: [{ name: 'Spent', values: [12, 30] }] }],
    });
  });
});

describe('files that are not right', () => {
  const codeOf = async (bytes: Uint8Array | string, name: string) => {
    const source = await openSource(await writeFixture(bytes, name));
    if (source.ok) await source.value.close();
    return source.ok ? 'opened' : source.fault.code;
  };
  const body = table(row(float(1)));
  test.each<[string, Uint8Array | string, string, string]>([
    ['an empty file', '', 'a.fods', 'source-empty'],
    [
      'another kind of document',
      packedSpreadsheet({ body, parts: { mimetype: 'application/vnd.oasis.opendocument.text' } }),
      'a.ods',
      'source-not-workbook',
    ],
    [
      'an encrypted one',
      packedSpreadsheet({
        body,
        parts: { 'META-INF/manifest.xml': '<manifest><encryption-data/></manifest>' },
      }),
      'a.ods',
      'source-password-protected',
    ],
    ['a cut one', flatSpreadsheet({ body }).slice(0, -40), 'a.fods', 'source-damaged'],
    ['one without sheets', flatSpreadsheet({ body: '' }), 'a.fods', 'source-not-workbook'],
    [
      'one that defines entities',
      `<!DOCTYPE x [<!ENTITY a "b">]>${flatSpreadsheet({ body })}`,
      'a.fods',
      'source-damaged',
    ],
    ['no XML at all', 'plain words', 'a.fods', 'source-damaged'],
    ['no package', 'plain words', 'a.ods', 'source-not-workbook'],
  ])('%s', async (_, bytes, name, code) => expect(await codeOf(bytes, name)).toBe(code));
  test('a missing one', async () => {
    expect(await openSource('/no/such/book.ods')).toMatchObject({
      fault: { code: 'source-missing' },
    });
    expect(await openSource('/no/such/book.fods')).toMatchObject({
      fault: { code: 'source-missing' },
    });
  });
  test('a missing sheet is named with those there are', async () => {
    const source = await open({ body });
    expect(await source.readArea('T', area('A1'))).toMatchObject({
      fault: { code: 'sheet-missing' },
    });
    await source.close();
  });
});

// An independent writer: xlsx 0.18.5.
test('what another program wrote is read cell by cell', async () => {
  const rows = Array.from({ length: 40 }, (_, r) =>
    Array.from({ length: 6 }, (__, c) =>
      c === 0 ? `plot ${r}` : c === 5 ? r % 2 === 0 : r * c + 0.25,
    ),
  );
  const sheet = xlsx.utils.aoa_to_sheet(rows);
  const book = xlsx.utils.book_new();
  xlsx.utils.book_append_sheet(book, sheet, 'Counts');
  const bytes = xlsx.write(book, { type: 'buffer', bookType: 'ods' }) as Buffer;
  const source = await openSource(await writeFixture(bytes, 'book.ods'));
  if (!source.ok) throw new Error(source.fault.message);
  const snapshot = await source.value.readArea('Counts', area('A1:F40'));
  await source.value.close();
  if (!snapshot.ok) throw new Error(snapshot.fault.message);
  const again = Array.from({ length: 40 }, () => new Array<unknown>(6));
  for (const cell of snapshot.value.cells) again[cell.row - 1]![cell.column - 1] = cell.value;
  expect(again).toEqual(rows);
});

describe('a long file', () => {
  const nested =
    '<table:table-cell><table:table table:name="inner"><table:table-row><table:table-cell office:value-type="float" office:value="666"/></table:table-row></table:table><text:p>has a table in it</text:p></table:table-cell>';
  /** Rows in groups, one in nine repeated, one in a thousand with a table of its own in a cell. */
  function longTable(name: string, rows: number, factor: number): string {
    let body = '';
    for (let index = 0; index < rows; index++) {
      const repeated = index % 9 === 8 ? ' table:number-rows-repeated="2"' : '';
      const second =
        index % 1000 === 500 ? nested : words(`row ${index} of a long, long table that goes on`);
      const inner = `<table:table-row${repeated}>${float(index * factor)}${second}</table:table-row>`;
      body +=
        index === 0
          ? `<table:table-header-rows>${inner}</table:table-header-rows>`
          : index % 500 === 1
            ? `<table:table-row-group>${inner}</table:table-row-group>`
            : inner;
    }
    return `<table:table table:name="${name}"><table:table-column table:number-columns-repeated="2"/>${body}<calcext:conditional-formats><calcext:conditional-format calcext:target-range-address="${name}.A1:${name}.A9"><calcext:condition calcext:value="&gt;=0" calcext:apply-style-name="x"/></calcext:conditional-format></calcext:conditional-formats></table:table>`;
  }
  const body = `${longTable('One', 18_000, 1)}${longTable('Two', 18_000, 2)}<table:named-expressions><table:named-range table:name="Ends" table:cell-range-address="$Two.$A$1:.$B$9"/></table:named-expressions>`;
  /** Value of column A in a row: every ninth stands twice. */
  const valueAt = (line: number, factor: number) => {
    const [tens, rest] = [Math.floor((line - 1) / 10), (line - 1) % 10];
    return (tens * 9 + Math.min(rest, 8)) * factor;
  };

  test('opens without its rows, and reads the same in pieces anywhere', async () => {
    const source = await open({ body }, false);
    expect(source.sheets.map(({ name }) => name)).toEqual(['One', 'Two']);
    expect(source.names).toMatchObject([{ name: 'Ends', sheet: null }]);
    for (const [sheet, factor] of [
      ['Two', 2],
      ['One', 1],
    ] as const) {
      for (const top of [1, 95, 5_551, 19_990]) {
        const piece = await source.readArea(sheet, { top, left: 1, bottom: top + 9, right: 2 });
        if (!piece.ok) throw new Error(piece.fault.message);
        const numbers = piece.value.cells.filter(({ column }) => column === 1);
        expect(numbers.map(({ row: line, value }) => [line, value])).toEqual(
          Array.from({ length: 10 }, (_, at) => [top + at, valueAt(top + at, factor)]),
        );
      }
    }
    const early = await source.readOccupancy('Two', 30);
    expect(early).toMatchObject({ value: { rows: { length: 30 } } });
    const all = await source.readOccupancy('Two');
    if (!all.ok) throw new Error(all.fault.message);
    expect(all.value.rows).toHaveLength(20_000);
    expect(all.value.rows.every(({ runs }) => runs.join() === '1,2')).toBe(true);
    expect(await source.readRules('One')).toMatchObject({ value: { conditions: { count: 1 } } });
    await source.close();
    // Forty thousand rows, on a machine that may be busy.
  }, 60_000);

  test('that ends within a row is damaged, when it is read', async () => {
    const text = flatSpreadsheet({ body });
    const cut = await openSource(await writeFixture(text.slice(0, text.length / 2), 'book.fods'));
    expect(cut).toMatchObject({ ok: false, fault: { code: 'source-damaged' } });
    const spoilt = text.replace('row 9000 of a long', 'row <b>9000 of a long');
    const source = await openSource(await writeFixture(spoilt, 'book.fods'));
    if (!source.ok) throw new Error(source.fault.message);
    expect(await source.value.readArea('One', area('A1:B5'))).toMatchObject({ ok: true });
    expect(await source.value.readOccupancy('One')).toMatchObject({
      fault: { code: 'source-damaged' },
    });
    await source.value.close();
  });
});

import { describe, expect, test } from '@jest/globals';
import { formatCell } from '@tether/core';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import * as xlsx from 'xlsx';
import { plainFormula } from '../read/formula.ts';
import { flatSpreadsheet, packedSpreadsheet } from '../spreadsheet.fixture.ts';
import { openFormula } from './formula-text.ts';
import { type ContentPatch, patchContent } from './patch-content.ts';

const float = (value: number, more = '') =>
  `<table:table-cell${more} office:value-type="float" office:value="${value}"><text:p>${value}</text:p></table:table-cell>`;
const sheet = (rows: string, name = 'Counts') =>
  `<table:table table:name="${name}"><table:table-column table:number-columns-repeated="3"/>${rows}</table:table>`;
const row = (...cells: string[]) => `<table:table-row>${cells.join('')}</table:table-row>`;
const at = (
  ref: string,
  value: ContentPatch['value'],
  how: ContentPatch['how'] = 'value',
): ContentPatch => {
  const { r, c } = xlsx.utils.decode_cell(ref);
  return { sheet: 'Counts', row: r + 1, column: c + 1, value, how };
};
const patched = (rows: string, ...patches: ContentPatch[]) => {
  const body = sheet(rows);
  const whole = flatSpreadsheet({ body });
  const done = patchContent(whole, patches);
  if (!done.ok) throw new Error(`${done.fault.code}: ${done.fault.message}`);
  const [before, after] = whole.split(body) as [string, string];
  expect(done.value.startsWith(before) && done.value.endsWith(after)).toBe(true);
  const inner = done.value.slice(before.length, done.value.length - after.length);
  return inner.slice(inner.indexOf('<table:table-row'), inner.lastIndexOf('</table:table>'));
};

describe('a cell of an open document', () => {
  test('has another value, its style and all else as it was', () => {
    const rows = row(float(1, ' table:style-name="ce1"'), float(2)) + row(float(3));
    expect(patched(rows, at('A1', 41.5))).toBe(
      rows.replace('office:value="1"><text:p>1<', 'office:value="41.5"><text:p>41.5<'),
    );
  });

  test.each<[string, ContentPatch['value'], string]>([
    ['a text', 'Alive & well', ' office:value-type="string"><text:p>Alive &amp; well</text:p>'],
    ['lines and spaces', ' a  b\nc', '><text:p><text:s/>a<text:s/> b</text:p><text:p>c</text:p>'],
    [
      'a truth',
      false,
      ' office:value-type="boolean" office:boolean-value="false"><text:p>FALSE</text:p>',
    ],
  ])('becomes %s', (_, value, said) => {
    expect(patched(row(float(1)), at('A1', value))).toContain(said);
  });

  test('holds nothing and keeps its style', () => {
    expect(patched(row(float(1, ' table:style-name="ce1"')), at('A1', null))).toBe(
      row('<table:table-cell table:style-name="ce1"/>'),
    );
  });

  test('is found below a chart that keeps rows of its own on the sheet', () => {
    const chart = `<table:shapes><draw:frame><draw:object><table:table table:name="local-table">${row(float(7))}</table:table></draw:object></draw:frame></table:shapes>`;
    const whole = flatSpreadsheet({
      body: `<table:table table:name="Counts">${chart}${row(float(1))}</table:table>`,
    });
    const done = patchContent(whole, [at('A1', 2)]);
    expect(done.ok && done.value).toBe(
      whole.replace('office:value="1"><text:p>1<', 'office:value="2"><text:p>2<'),
    );
  });

  test('keeps its note', () => {
    const note = '<office:annotation><text:p>by boat</text:p></office:annotation>';
    const cell = `<table:table-cell office:value-type="float" office:value="1">${note}<text:p>1</text:p></table:table-cell>`;
    expect(patched(row(cell), at('A1', 2))).toContain(`office:value="2">${note}<text:p>2</text:p>`);
  });

  test('of dates takes a day, one of shares a share', () => {
    const date =
      '<table:table-cell office:value-type="date" office:date-value="2026-10-05"><text:p>5 Oct</text:p></table:table-cell>';
    const share =
      '<table:table-cell office:value-type="percentage" office:value="0.5"><text:p>50%</text:p></table:table-cell>';
    const done = patched(row(date, share), at('A1', 46301), at('B1', 0.75));
    // 2026-10-06 is day 46301 from 1899-12-30 (ODF 1.3 Part 4, 4.3.1.2).
    expect(done).toContain('office:date-value="2026-10-06"');
    expect(done).toContain('office:value-type="percentage" office:value="0.75"');
  });

  test('with a formula is not written over by accident, and gets other results', () => {
    const rows = row(float(1, ' table:formula="of:=[.B1]*2"'));
    expect(() => patched(rows, at('A1', 2))).toThrow('write-formula');
    expect(patched(rows, at('A1', 2, 'result'))).toContain(
      'table:formula="of:=[.B1]*2" office:value-type="float" office:value="2"',
    );
    expect(patched(rows, at('A1', 2, 'formula too'))).not.toContain('formula');
    const matrix = row(
      float(
        1,
        ' table:formula="of:=X" table:number-matrix-rows-spanned="2" table:number-matrix-columns-spanned="1"',
      ),
    );
    expect(() => patched(matrix, at('A1', 2, 'formula too'))).toThrow('write-array');
  });
});

describe('a formula of an open document (OpenFormula, ODF 1.3 Part 4, 5)', () => {
  test.each([
    ['SUM(B2:B5,Costs!A1)', 'of:=SUM([.B2:.B5];[$Costs.A1])'],
    ["'My sheet'!$A$1*2", "of:=[$'My sheet'.$A$1]*2"],
    ['SUM({1,2;3,4})', 'of:=SUM({1;2|3;4})'],
    ['if(A1>=2,"a,b;c",B:B)', 'of:=IF([.A1]>=2;"a,b;c";[.B:.B])'],
  ])('%s is written as %s, and read back', (typed, written) => {
    expect(openFormula(typed)).toEqual({ ok: true, value: written });
    expect(plainFormula(written).toUpperCase()).toBe(typed.toUpperCase());
  });

  test('stands in its cell, in place of another or of a value', () => {
    const put = (ref: string, formula: string, value: number | null) => ({
      ...at(ref, value, 'formula'),
      formula,
    });
    const rows = row(float(1, ' table:formula="of:=[.B1]*2"'), float(2));
    const done = patched(rows, put('A1', 'B1&"x"', 3), put('D1', 'A1<2', null));
    expect(done).toContain('table:formula="of:=[.B1]&amp;&quot;x&quot;" office:value-type="float"');
    expect(done).toContain('<table:table-cell table:formula="of:=[.A1]&lt;2"/>');
    expect(() => patched(rows, put('A1', 'Plots[Planted]', 3))).toThrow('write-not-possible');
  });
});

describe('rows and cells that stand for several', () => {
  test('are parted where one of them changes', () => {
    const rows = `<table:table-row table:number-rows-repeated="5">${float(1, ' table:number-columns-repeated="4"')}</table:table-row>`;
    const done = patched(rows, at('B3', 9));
    expect(done.match(/number-rows-repeated="2"/g)).toHaveLength(2);
    expect(done).toContain(
      row(
        float(1),
        float(9),
        float(1, '').replace(
          '<table:table-cell',
          '<table:table-cell table:number-columns-repeated="2"',
        ),
      ),
    );
  });

  test('are put in behind the last', () => {
    const done = patched(row(float(1)), at('C1', 3), at('A4', 4));
    expect(done).toBe(
      row(float(1), '<table:table-cell/>', float(3)) +
        '<table:table-row table:number-rows-repeated="2"><table:table-cell/></table:table-row>' +
        row(float(4)),
    );
  });
});

test('what may hide cells, and other prefixes, are refused', () => {
  expect(() => patched(`<!-- -->${row(float(1))}`, at('A1', 2))).toThrow('write-not-possible');
  const other = flatSpreadsheet({ body: sheet(row(float(1))) }).replaceAll('table:', 't:');
  expect(patchContent(other, [at('A1', 2)])).toMatchObject({
    fault: { code: 'write-not-possible' },
  });
  const gone = patchContent(flatSpreadsheet({ body: sheet('') }), [
    { ...at('A1', 1), sheet: 'Gone' },
  ]);
  expect(gone).toMatchObject({ fault: { code: 'sheet-missing' } });
});

const MANIFEST =
  '<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"><manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/></manifest:manifest>';

/** Values of all cells, as an independent reader (xlsx 0.18.5) has them. */
function valuesIn(xml: string): Map<string, unknown> {
  const body = /<office:spreadsheet>([\s\S]*)<\/office:spreadsheet>/.exec(xml)![1]!;
  const cells = xlsx.read(
    packedSpreadsheet({ body, parts: { 'META-INF/manifest.xml': MANIFEST } }),
    { type: 'array' },
  ).Sheets.Counts!;
  return new Map(
    Object.entries(cells)
      .filter(([ref, cell]) => !ref.startsWith('!') && cell.t !== 'z')
      .map(([ref, cell]) => [ref, cell.v as unknown]),
  );
}

test('random cells of random sheets are read back as written, and all others as before', () => {
  const number = fc.integer({ min: 1, max: 999 });
  const cell = fc.tuple(fc.option(number), fc.integer({ min: 1, max: 3 }));
  const rows = fc.array(
    fc.tuple(fc.array(cell, { minLength: 1, maxLength: 4 }), fc.integer({ min: 1, max: 3 })),
    { minLength: 1, maxLength: 5 },
  );
  const edit = fc.tuple(
    fc.integer({ min: 1, max: 12 }),
    fc.integer({ min: 1, max: 10 }),
    fc.oneof(number, fc.constantFrom('wet', 'a & b', true)),
  );
  fc.assert(
    fc.property(
      rows,
      fc.uniqueArray(edit, { minLength: 1, maxLength: 8, selector: ([r, c]) => `${r} ${c}` }),
      (given, edits) => {
        const body = given
          .map(([cells, repeated]) => {
            const inner = cells
              .map(([value, columns]) => {
                const more = columns > 1 ? ` table:number-columns-repeated="${columns}"` : '';
                return value === null ? `<table:table-cell${more}/>` : float(value, more);
              })
              .join('');
            return `<table:table-row${repeated > 1 ? ` table:number-rows-repeated="${repeated}"` : ''}>${inner}</table:table-row>`;
          })
          .join('');
        const before = flatSpreadsheet({ body: sheet(body) });
        const expected = new Map(valuesIn(before));
        for (const [r, c, value] of edits) expected.set(formatCell({ row: r, column: c }), value);
        const done = patchContent(
          before,
          edits.map(([r, column, value]) => ({
            sheet: 'Counts',
            row: r,
            column,
            value,
            how: 'value',
          })),
        );
        expect(done.ok && valuesIn(done.value)).toEqual(expected);
      },
    ),
    { seed: 26300, numRuns: runs(150) },
  );
});

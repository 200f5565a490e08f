import { describe, expect, test } from '@jest/globals';
import { formulaText } from './formula-text.ts';
import { type CellPatch, patchSheet } from './patch-sheet.ts';

const sheet = (rows: string, around = '') =>
  Buffer.from(
    `<?xml version="1.0"?><worksheet xmlns="m"><dimension ref="A1:B3"/>${rows}${around}</worksheet>`,
  );
const patched = (from: Buffer, ...patches: (Partial<CellPatch> & Pick<CellPatch, 'value'>)[]) => {
  const done = patchSheet(
    from,
    patches.map((each) => ({ row: 1, column: 1, how: 'value', ...each })),
    'book.xlsx',
  );
  if (!done.ok) throw new Error(`${done.fault.code}: ${done.fault.message}`);
  return done.value.bytes.toString();
};
const rows =
  '<sheetData><row r="1" spans="1:2"><c r="A1" t="s" s="4"><v>0</v></c><c r="B1" s="5"><v>12</v></c></row>' +
  '<row r="3"><c r="A3"><f>B1*2</f><v>24</v></c></row></sheetData>';

describe('a cell that is there', () => {
  test('keeps its look and loses its type; all other bytes stay', () => {
    const from = sheet(rows, '<mergeCells count="1"><mergeCell ref="D1:E1"/></mergeCells>');
    expect(patched(from, { column: 2, value: 41.5 })).toBe(
      from
        .toString()
        .replace(' spans="1:2"', '')
        .replace('<c r="B1" s="5"><v>12</v></c>', '<c r="B1" s="5"><v>41.5</v></c>'),
    );
    expect(patched(from, { value: 7 })).toContain('<c r="A1" s="4"><v>7</v></c>');
  });

  test.each<[string, CellPatch['value'], string]>([
    [
      'a text',
      'Alive & well',
      '<c r="B1" s="5" t="inlineStr"><is><t>Alive &amp; well</t></is></c>',
    ],
    [
      'a text with space at its ends',
      ' dry ',
      '<c r="B1" s="5" t="inlineStr"><is><t xml:space="preserve"> dry </t></is></c>',
    ],
    ['a truth', true, '<c r="B1" s="5" t="b"><v>1</v></c>'],
    ['nothing', null, '<c r="B1" s="5"/>'],
    ['a very small number', 1e-9, '<c r="B1" s="5"><v>1E-9</v></c>'],
    // What XML cannot hold: ECMA-376 Part 1, 22.9.2.19 (ST_Xstring).
    ['a sign of control', 'a\u0001b_x0041_', '<t>a_x0001_b_x005F_x0041_</t>'],
  ])('becomes %s', (_, value, expected) => {
    expect(patched(sheet(rows), { column: 2, value })).toContain(expected);
  });
});

describe('a formula', () => {
  test('is not written over by accident', () => {
    expect(() => patched(sheet(rows), { row: 3, value: 1 })).toThrow(/^write-formula: A3/);
  });

  test('goes when that is wanted, and is told as gone', () => {
    const done = patchSheet(
      sheet(rows),
      [{ row: 3, column: 1, value: 1, how: 'formula too' }],
      'book.xlsx',
    );
    expect(done).toMatchObject({ ok: true, value: { freed: [{ row: 3, column: 1 }] } });
    if (done.ok) expect(done.value.bytes.toString()).toContain('<c r="A3"><v>1</v></c>');
  });

  test('gets another result, of whatever type', () => {
    const from = sheet(rows);
    const cell = (value: CellPatch['value']) => patched(from, { row: 3, value, how: 'result' });
    expect(cell(83)).toContain('<c r="A3"><f>B1*2</f><v>83</v></c>');
    expect(cell('none')).toContain('<c r="A3" t="str"><f>B1*2</f><v>none</v></c>');
    expect(cell(false)).toContain('<c r="A3" t="b"><f>B1*2</f><v>0</v></c>');
  });

  test('that fills several cells stays whole', () => {
    const array = sheet(
      '<sheetData><row r="1"><c r="A1"><f t="array" ref="A1:A2">B1:B2*2</f><v>2</v></c></row></sheetData>',
    );
    expect(() => patched(array, { value: 1, how: 'formula too' })).toThrow(/^write-array: A1/);
  });
});

describe('a formula that is put in', () => {
  const put = (formula: string, value: CellPatch['value'], more: Partial<CellPatch> = {}) => ({
    value,
    how: 'formula' as const,
    formula,
    ...more,
  });

  test('stands in its cell with what it comes to, whatever was there', () => {
    expect(patched(sheet(rows), put('B1&"<"&A3', '12<24', { row: 3 }))).toContain(
      '<c r="A3" t="str"><f>B1&amp;"&lt;"&amp;A3</f><v>12&lt;24</v></c>',
    );
    expect(patched(sheet(rows), put('sum(B1:B3)', 12, { row: 2 }))).toContain(
      '<row r="2"><c r="A2"><f>SUM(B1:B3)</f><v>12</v></c></row>',
    );
    // Nobody can say here what it comes to.
    expect(patched(sheet(rows), put('CUBEVALUE("a")', null))).toContain(
      '<c r="A1" s="4"><f>CUBEVALUE("a")</f></c>',
    );
  });

  // Functions that are later than ECMA-376 Part 1, 18.17.7: common practice of files, read so by `exceljs` and `xlsx`.
  test.each([
    ['IFNA(VLOOKUP(A1,B:C,2),0)', '_xlfn.IFNA(VLOOKUP(A1,B:C,2),0)'],
    ['SUM(FILTER(A1:A3,B1:B3>1))', 'SUM(_xlfn._xlws.FILTER(A1:A3,B1:B3>1))'],
    ['SUMIFS(A:A,B:B,"XOR(1)")', 'SUMIFS(A:A,B:B,"XOR(1)")'],
  ])('%s names its functions as files do', (typed, written) => {
    expect(formulaText(typed)).toBe(written);
  });

  const shared = sheet(
    '<sheetData><row r="1"><c r="B1"><f t="shared" ref="B1:B3" si="0">A1*2&amp;"A1"</f><v>2</v></c></row>' +
      '<row r="2"><c r="B2"><f t="shared" si="0"/><v>4</v></c></row>' +
      '<row r="3"><c r="B3"><f t="shared" si="0"/><v>6</v></c></row></sheetData>',
  );

  test('takes the place of one that others share: the next of them says it', () => {
    const done = patched(shared, { column: 2, value: 1, how: 'formula too' });
    expect(done).toContain('<c r="B1"><v>1</v></c>');
    expect(done).toContain(
      '<c r="B2"><f t="shared" ref="B1:B3" si="0">A2*2&amp;"A1"</f><v>4</v></c>',
    );
    expect(done).toContain('<c r="B3"><f t="shared" si="0"/><v>6</v></c>');
  });

  test('takes the place of several that share one', () => {
    const done = patched(
      shared,
      put('A1+1', 2, { column: 2 }),
      put('A2+1', 3, { row: 2, column: 2 }),
      { row: 3, column: 2, value: 7, how: 'result' },
    );
    expect(done).toContain('<c r="B2"><f>A2+1</f><v>3</v></c>');
    expect(done).toContain('<f t="shared" ref="B1:B3" si="0">A3*2&amp;"A1"</f><v>7</v></c>');
    const all = patched(
      shared,
      ...[1, 2, 3].map((row) => ({ row, column: 2, value: row, how: 'formula too' as const })),
    );
    expect(all).not.toContain('<f');
  });
});

describe('a cell that is not there', () => {
  test('comes at its place among those of its row', () => {
    const from = sheet(
      '<sheetData><row r="2"><c r="B2"><v>2</v></c><c r="D2"><v>4</v></c></row></sheetData>',
    );
    expect(
      patched(
        from,
        { row: 2, column: 5, value: 5 },
        { row: 2, column: 1, value: 1 },
        { row: 2, column: 3, value: 3 },
      ),
    ).toContain(
      '<c r="A2"><v>1</v></c><c r="B2"><v>2</v></c><c r="C2"><v>3</v></c><c r="D2"><v>4</v></c><c r="E2"><v>5</v></c></row>',
    );
  });

  test('comes with its row, before, between and behind the others, and the used area is widened', () => {
    const done = patched(
      sheet(rows),
      { row: 2, column: 3, value: 2 },
      { row: 9, value: 9 },
      { row: 9, column: 30, value: 'far' },
    );
    expect(done).toContain('</row><row r="2"><c r="C2"><v>2</v></c></row><row r="3">');
    expect(done).toMatch(/<row r="9"><c r="A9"><v>9<\/v><\/c><c r="AD9" .*<\/row><\/sheetData>/);
    expect(done).toContain('<dimension ref="A1:AD9"/>');
  });

  test('that is to hold nothing does not come', () => {
    expect(patched(sheet(rows), { row: 9, value: null })).toBe(sheet(rows).toString());
  });

  test('comes into a sheet or row that holds nothing yet', () => {
    expect(patched(sheet('<sheetData/>'), { value: 1 })).toContain(
      '<sheetData><row r="1"><c r="A1"><v>1</v></c></row></sheetData>',
    );
    expect(patched(sheet('<sheetData><row r="1" ht="30"/></sheetData>'), { value: 1 })).toContain(
      '<row r="1" ht="30"><c r="A1"><v>1</v></c></row>',
    );
  });
});

describe('sheets that are written in odd ways', () => {
  test('rows and cells without numbers are counted', () => {
    const from = sheet(
      '<sheetData><row><c><v>1</v></c><c><v>2</v></c></row><row><c><v>3</v></c></row></sheetData>',
    );
    expect(patched(from, { row: 1, column: 2, value: 20 }, { row: 2, value: 30 })).toContain(
      '<row><c><v>1</v></c><c><v>20</v></c></row><row><c><v>30</v></c></row>',
    );
  });

  test('prefixes, other quotes and space are kept', () => {
    const from = Buffer.from(
      `<x:worksheet xmlns:x="m"><x:sheetData><x:row r='1' ><x:c  r='A1' s='2' ><x:v>1</x:v></x:c></x:row></x:sheetData></x:worksheet>`,
    );
    expect(patched(from, { value: 2 }, { column: 2, value: 'two' })).toBe(
      `<x:worksheet xmlns:x="m"><x:sheetData><x:row r='1' ><x:c  r='A1' s='2'><x:v>2</x:v></x:c><x:c r="B1" t="inlineStr"><x:is><x:t>two</x:t></x:is></x:c></x:row></x:sheetData></x:worksheet>`,
    );
  });

  test('what may hide cells is refused, and nothing is written', () => {
    expect(() => patched(sheet('<!-- <row r="1"> --><sheetData/>'), { value: 1 })).toThrow(
      /^write-not-possible/,
    );
  });

  test('what is cut short is refused', () => {
    expect(() =>
      patched(Buffer.from('<worksheet><sheetData><row r="1"><c r="A1">'), { value: 1 }),
    ).toThrow(/^source-damaged/);
    expect(() => patched(Buffer.from('<worksheet/>'), { value: 1 })).toThrow(/^source-damaged/);
  });
});

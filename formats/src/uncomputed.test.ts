import { afterEach, describe, expect, it } from '@jest/globals';
import type { Reach } from '@tether/core';
import { flatSpreadsheet } from './odf/spreadsheet.fixture.ts';
import { buildWorkbook, writeFixture } from './ooxml/workbook.fixture.ts';
import { openSource } from './open-source.ts';
import type { OpenSource } from './source.ts';
import { takeReach } from './taking/take-reach.ts';

const opened: OpenSource[] = [];
afterEach(async () => {
  for (const source of opened.splice(0)) await source.close();
});

async function open(bytes: Uint8Array | string, name?: string): Promise<OpenSource> {
  const source = await openSource(await writeFixture(bytes, name));
  if (!source.ok) throw new Error(source.fault.message);
  opened.push(source.value);
  return source.value;
}

// As libraries write formulas that they do not compute: without a value, or with an empty one.
const workbook = buildWorkbook({
  sheets: {
    Sheet1: `<sheetData>
      <row r="1"><c r="A1" t="str"><v>Plot</v></c><c r="B1" t="str"><v>Planted</v></c></row>
      <row r="2"><c r="A2"><f>UPPER("sc-01")</f></c><c r="B2"><f t="shared" ref="B2:B3" si="0">7*A9</f></c></row>
      <row r="3"><c r="A3" t="str"><f>""</f><v></v></c><c r="B3"><f t="shared" si="0"/><v/></c></row>
      <row r="4"><c r="A4" t="str"><v>Total</v></c><c r="B4"><f>SUM(B2:B3)</f><v></v></c></row>
    </sheetData>`,
  },
});

const document = flatSpreadsheet({
  body: `<table:table table:name="Sheet1">
    <table:table-row><table:table-cell office:value-type="string"><text:p>Plot</text:p></table:table-cell><table:table-cell office:value-type="string"><text:p>Planted</text:p></table:table-cell></table:table-row>
    <table:table-row><table:table-cell table:formula="of:=UPPER(&quot;sc-01&quot;)"/><table:table-cell table:formula="of:=7*[.A9]"/></table:table-row>
    <table:table-row><table:table-cell table:formula="of:=&quot;&quot;" office:value-type="string" office:string-value=""/><table:table-cell table:formula="of:=7*[.A10]" office:value-type="float"/></table:table-row>
    <table:table-row><table:table-cell office:value-type="string"><text:p>Total</text:p></table:table-cell><table:table-cell table:formula="of:=SUM([.B2:.B3])"/></table:table-row>
  </table:table>`,
});

describe.each([
  ['a workbook', workbook, 'book.xlsx'],
  ['an open document', document, 'book.fods'],
])('formulas without a stored value in %s', (_, bytes, name) => {
  it('are said to be not computed, cell by cell; an empty text is one', async () => {
    const source = await open(bytes, name);
    const read = await source.readArea('Sheet1', { top: 1, left: 1, bottom: 4, right: 2 });
    expect(
      read.ok &&
        read.value.cells.map(({ row, column, type, text, formula }) => [
          row,
          column,
          type,
          text,
          formula,
        ]),
    ).toEqual([
      [1, 1, 'text', 'Plot', undefined],
      [1, 2, 'text', 'Planted', undefined],
      [2, 1, 'uncomputed', 'not computed', 'UPPER("sc-01")'],
      [2, 2, 'uncomputed', 'not computed', '7*A9'],
      [3, 2, 'uncomputed', 'not computed', '7*A10'],
      [4, 1, 'text', 'Total', undefined],
      [4, 2, 'uncomputed', 'not computed', 'SUM(B2:B3)'],
    ]);
  });

  it('do not end a growing block, and are counted in a warning', async () => {
    const reach: Reach = {
      kind: 'growing block',
      sheet: 'Sheet1',
      header: { row: 1, left: 2, right: 2 },
    };
    const taken = await takeReach(await open(bytes, name), reach);
    expect(taken.ok && taken.value.snapshot.area.bottom).toBe(4);
    expect(taken.ok && taken.value.warnings.find(({ code }) => code === 'not computed')).toEqual({
      code: 'not computed',
      message:
        '3 formulas have no stored value (B2 and 2 more): the program that wrote the file did not compute them. Open it in a spreadsheet program and save it.',
      area: { top: 2, left: 2, bottom: 2, right: 2 },
    });
  });
});

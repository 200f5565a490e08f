import { readFile } from 'node:fs/promises';
import { describe, expect, test } from '@jest/globals';
import { formatCell, type LineChange } from '@tether/core';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import { strFromU8, unzipSync } from 'fflate';
import papaparse from 'papaparse';
import * as xlsx from 'xlsx';
import { flatSpreadsheet, odfPart, packedSpreadsheet } from './odf/spreadsheet.fixture.ts';
import { writeFixture } from './ooxml/workbook.fixture.ts';
import { openSource } from './open-source.ts';
import { planLines } from './plan-lines.ts';

const change = (
  kind: LineChange['kind'],
  axis: LineChange['axis'],
  at: number,
  count = 1,
): LineChange => ({ sheet: 'Counts', kind, axis, at, count });

async function planned(bytes: Uint8Array | string, name: string, made: LineChange) {
  const file = typeof bytes === 'string' ? Buffer.from(bytes) : bytes;
  const done = await planLines(await writeFixture(file, name), name, made);
  if (!done.ok) throw new Error(`${done.fault.code}: ${done.fault.message}`);
  return done.value;
}

const cell = (value: number) =>
  `<table:table-cell office:value-type="float" office:value="${value}"><text:p>${value}</text:p></table:table-cell>`;
const formula = (text: string, value: number) =>
  `<table:table-cell table:formula="of:=${text}" office:value-type="float" office:value="${value}"><text:p>${value}</text:p></table:table-cell>`;
const word = (text: string, more = '') =>
  `<table:table-cell office:value-type="string"${more}><text:p>${text}</text:p></table:table-cell>`;
const row = (...cells: string[]) => `<table:table-row>${cells.join('')}</table:table-row>`;

/** A document with about everything on a sheet that says where it stands. */
const body = [
  '<table:content-validations><table:content-validation table:name="val1" table:condition="of:cell-content-is-whole-number() and cell-content-is-between(0,[.$B3])" table:base-cell-address="Counts.C3"/></table:content-validations>',
  '<table:table table:name="Counts" table:print-ranges="Counts.A1:Counts.D8">',
  '<table:table-column table:style-name="co1" table:number-columns-repeated="2"/><table:table-column table:style-name="co2" table:number-columns-repeated="16382"/>',
  `<table:table-header-rows>${row(word('Plot'), word('Planted'), word('Surviving'))}</table:table-header-rows>`,
  row(word('SC-01'), cell(240), cell(221), formula('[.C2]/[.B2]', 221 / 240)),
  row(
    word('SC-02', ' table:style-name="ce1"'),
    cell(180),
    `<table:table-cell table:content-validation-name="val1" office:value-type="float" office:value="97"><text:p>97</text:p></table:table-cell>`,
    formula('[.C3]/[.B3]', 97 / 180),
    word('by boat', ' table:number-columns-spanned="2" table:number-rows-spanned="2"'),
    '<table:covered-table-cell/>',
  ),
  row(
    word('SC-03'),
    cell(120),
    `<table:table-cell table:content-validation-name="val1" office:value-type="float" office:value="88"><text:p>88</text:p></table:table-cell>`,
    '<table:table-cell/><table:covered-table-cell table:number-columns-repeated="2"/>',
  ),
  '<table:table-row><table:table-cell table:number-columns-repeated="16384"/></table:table-row>',
  row(word('Total'), formula('SUM([.B2:.B4])', 540), formula('SUM([$Counts.$C$2:.$C$4])', 406)),
  row(word('&lt;see [.B2]&gt;'), formula('IF([.B2]&gt;1;LEN(&quot;[.B2]&quot;);0)', 5)),
  '<table:table-row table:number-rows-repeated="1048569"><table:table-cell table:number-columns-repeated="16384"/></table:table-row>',
  '<calcext:conditional-formats><calcext:conditional-format calcext:target-range-address="Counts.C2:Counts.C4"><calcext:condition calcext:apply-style-name="low" calcext:value="formula-is([.$C2]&lt;[.$B2]/2)" calcext:base-cell-address="Counts.C2"/></calcext:conditional-format></calcext:conditional-formats>',
  '</table:table>',
  `<table:table table:name="Notes">${row(formula('[$Counts.B6]*2', 1080))}${row(formula('ROW([$Counts.B6])', 6))}</table:table>`,
  '<table:named-expressions><table:named-range table:name="Planted" table:base-cell-address="$Counts.$A$1" table:cell-range-address="$Counts.$B$2:.$B$4"/></table:named-expressions>',
  '<table:database-ranges><table:database-range table:name="Plots" table:target-range-address="Counts.A1:Counts.C4"/></table:database-ranges>',
].join('');
const parts = {
  'META-INF/manifest.xml':
    '<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"/>',
  'Object 1/content.xml': odfPart(
    '<chart:series chart:values-cell-range-address="Counts.C2:Counts.C4" chart:label-cell-address="Counts.C1"/>',
  ),
};
const rich = () => packedSpreadsheet({ body, parts });

const shown = (bytes: Uint8Array) => xlsx.read(bytes, { cellFormula: true }).Sheets;
const content = (bytes: Uint8Array) => strFromU8(unzipSync(bytes)['content.xml']!);

describe('rows of an open document', () => {
  test('that are put in take all along that says where it stands, by an independent reader', async () => {
    const { bytes, follows, recalculated, notFinal, parts } = await planned(
      rich(),
      'counts.ods',
      change('put in', 'rows', 3, 2),
    );
    const { Counts, Notes } = shown(bytes);
    expect([Counts!.A2.v, Counts!.A3, Counts!.A5.v]).toEqual(['SC-01', undefined, 'SC-02']);
    expect([Counts!.B8.f, Counts!.B8.v]).toEqual(['SUM(B2:B6)', 540]);
    expect(Counts!.D5.f).toBe('C5/B5');
    expect(content(bytes)).toContain('table:formula="of:=[$Counts.B8]*2"');
    // What it comes to follows as well.
    expect(Notes!.A2.v).toBe(8);
    expect([recalculated, notFinal, follows.lost]).toEqual([1, [], 0]);
    expect(parts.changed).toEqual(['content.xml', 'object 1/content.xml']);
    const xml = content(bytes);
    expect(xml).toContain('table:cell-range-address="$Counts.$B$2:.$B$6"');
    expect(xml).toContain('table:target-range-address="Counts.A1:Counts.C6"');
    expect(xml).toContain('calcext:target-range-address="Counts.C2:Counts.C6"');
    expect(xml).toContain('formula-is([.$C2]&lt;[.$B2]/2)');
    expect(xml).toContain('cell-content-is-between(0,[.$B5])" table:base-cell-address="Counts.C5"');
    expect(xml).toContain('table:print-ranges="Counts.A1:Counts.D10"');
    // What is in quotes is no reference, and what a cell says is none.
    expect(xml).toContain('IF([.B2]&gt;1;LEN(&quot;[.B2]&quot;);0)');
    expect(xml).toContain('<text:p>&lt;see [.B2]&gt;</text:p>');
    expect(strFromU8(unzipSync(bytes)['Object 1/content.xml']!)).toContain(
      'chart:values-cell-range-address="Counts.C2:Counts.C6" chart:label-cell-address="Counts.C1"',
    );
    // The sheet has as many rows as it had (ODF leaves that open; common practice is 1,048,576).
    expect(xml).toContain('table:number-rows-repeated="1048567"');
  });

  test('within merged cells and checks become part of them, and look like the row above', async () => {
    const { bytes } = await planned(rich(), 'counts.ods', change('put in', 'rows', 4));
    expect(shown(bytes).Counts!['!merges']).toEqual([xlsx.utils.decode_range('E3:F5')]);
    expect(content(bytes)).toContain(
      '<table:table-row><table:table-cell table:style-name="ce1"/><table:table-cell/><table:table-cell table:content-validation-name="val1"/><table:table-cell/><table:covered-table-cell/><table:covered-table-cell/></table:table-row>',
    );
  });

  test('that are taken out take with them what stood in them; merged cells begin at the next', async () => {
    const { bytes, follows } = await planned(rich(), 'counts.ods', change('take out', 'rows', 3));
    const { Counts, Notes } = shown(bytes);
    expect(Counts!.A3.v).toBe('SC-03');
    expect([Counts!.B5.f, Counts!.B5.v]).toEqual(['SUM(B2:B3)', 360]);
    expect([Counts!.C5.v, Notes!.A1.v]).toEqual([309, 720]);
    expect(content(bytes)).toContain(
      '<table:table-cell/><table:table-cell table:number-rows-spanned="1" table:number-columns-spanned="2"/><table:covered-table-cell/></table:table-row>',
    );
    expect(follows.lost).toBe(0);
    // The check was said for C3, which went: the next one says it in the same way.
    expect(content(bytes)).toContain('(0,[.$B3])" table:base-cell-address="Counts.C3"');
  });

  test('that a formula reads leave it with an error, which is told', async () => {
    const { bytes, follows } = await planned(rich(), 'counts.ods', change('take out', 'rows', 6));
    expect(content(bytes)).toContain('table:formula="of:=[$Counts.#REF!]*2"');
    expect(follows.lost).toBe(2);
    const read = await openSource(await writeFixture(bytes, 'counts.ods'), 'counts.ods', {});
    if (!read.ok) throw new Error(read.fault.code);
    const notes = await read.value.readArea('Notes', { top: 1, left: 1, bottom: 1, right: 1 });
    await read.value.close();
    expect(notes.ok && notes.value.cells[0]?.text).toBe('#REF!');
  });

  test('go with a condition and a range of which nothing is left; a name cannot', async () => {
    const alone = body.replace(/<table:named-expressions>.*<\/table:named-expressions>/, '');
    const { bytes } = await planned(
      packedSpreadsheet({ body: alone }),
      'counts.ods',
      change('take out', 'rows', 1, 5),
    );
    expect(content(bytes)).not.toMatch(/conditional-format |database-range |header-rows/);
    await expect(planned(rich(), 'counts.ods', change('take out', 'rows', 1, 5))).rejects.toThrow(
      'a name stands for nothing else',
    );
  });

  test('of a flat document move too', async () => {
    const { bytes } = await planned(
      flatSpreadsheet({ body }),
      'counts.fods',
      change('put in', 'rows', 1),
    );
    expect(bytes.toString()).toContain('table:formula="of:=SUM([.B3:.B5])"');
    expect(bytes.toString()).toContain('calcext:value="formula-is([.$C3]&lt;[.$B3]/2)"');
  });

  test('that one formula fills stay together', async () => {
    const matrix = `<table:table table:name="Counts">${row(
      '<table:table-cell table:formula="of:=[.C1:.C2]*2" table:number-matrix-columns-spanned="1" table:number-matrix-rows-spanned="2" office:value-type="float" office:value="2"><text:p>2</text:p></table:table-cell>',
    )}${row(cell(4))}</table:table>`;
    for (const made of [change('put in', 'rows', 2), change('take out', 'rows', 2)]) {
      await expect(
        planned(packedSpreadsheet({ body: matrix }), 'counts.ods', made),
      ).rejects.toThrow('fills cells on both sides');
    }
  });

  test('whose figures would not be certain are not moved', async () => {
    const unknown = `<table:table table:name="Counts">${row(formula('OWN.SCORE([.B1])', 5))}</table:table>`;
    await expect(
      planned(packedSpreadsheet({ body: unknown }), 'counts.ods', change('put in', 'rows', 1)),
    ).rejects.toThrow('write-not-possible');
  });
});

describe('columns of an open document', () => {
  test('are put in with the look of the one before, within merged cells too', async () => {
    const { bytes } = await planned(rich(), 'counts.ods', change('put in', 'columns', 2));
    const { Counts } = shown(bytes);
    expect([Counts!.A1.v, Counts!.B1, Counts!.C1.v]).toEqual(['Plot', undefined, 'Planted']);
    expect(Counts!.E3.f).toBe('D3/C3');
    expect(content(bytes)).toMatch(
      /^.*?<table:table-column table:style-name="co1"\/><table:table-column table:style-name="co1"\/><table:table-column table:style-name="co1"\/><table:table-column [^>]*table:number-columns-repeated="16381"/s,
    );
    const within = await planned(rich(), 'counts.ods', change('put in', 'columns', 6, 2));
    expect(shown(within.bytes).Counts!['!merges']).toEqual([xlsx.utils.decode_range('E3:H4')]);
    const out = await planned(rich(), 'counts.ods', change('take out', 'columns', 5));
    expect(content(out.bytes)).toContain(
      '<table:table-cell table:number-rows-spanned="2" table:number-columns-spanned="1"/></table:table-row>',
    );
  });

  test('that a filter counts stay', async () => {
    const filtered = body.replace(
      'table:target-range-address="Counts.A1:Counts.C4"/>',
      'table:target-range-address="Counts.A1:Counts.C4"><table:filter><table:filter-condition table:field-number="1" table:operator="=" table:value="1"/></table:filter></table:database-range>',
    );
    const file = packedSpreadsheet({ body: filtered });
    await expect(planned(file, 'counts.ods', change('put in', 'columns', 2))).rejects.toThrow(
      'a filter counts its columns',
    );
    await planned(file, 'counts.ods', change('put in', 'columns', 9));
  });
});

// Reference: the workbook road, itself compared with an independent engine; files by and for xlsx 0.18.5.
test('random documents come out as the same workbooks do', async () => {
  const SIZE = 6;
  const place = fc.tuple(fc.integer({ min: 1, max: SIZE }), fc.integer({ min: 1, max: SIZE }));
  type Figures = readonly (number | null)[];
  const valueAt = (figures: Figures, row: number, column: number) =>
    figures[(row - 1) * SIZE + column - 1] ?? 0;
  const text = fc.oneof(
    fc.tuple(place, place).map(([a, b]) => {
      const [top, bottom] = [Math.min(a[0], b[0]), Math.max(a[0], b[0])];
      const [left, right] = [Math.min(a[1], b[1]), Math.max(a[1], b[1])];
      const value = (figures: Figures) => {
        let sum = 0;
        for (let row = top; row <= bottom; row++) {
          for (let column = left; column <= right; column++) sum += valueAt(figures, row, column);
        }
        return sum;
      };
      const [from, to] = [
        formatCell({ row: top, column: left }),
        formatCell({ row: bottom, column: right }),
      ];
      return { f: `SUM(${from}:${to})`, value };
    }),
    fc.tuple(place, place).map(([a, b]) => {
      const [from, to] = [a, b].map(([row, column]) => formatCell({ row, column }));
      const value = (figures: Figures) => valueAt(figures, ...a) * 2 + valueAt(figures, ...b);
      return { f: `${from}*2+${to}`, value };
    }),
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
      fc.array(text, { minLength: 2, maxLength: 6 }),
      lines,
      async (figures, formulas, made) => {
        const book = xlsx.utils.book_new();
        const sheet: xlsx.WorkSheet = { '!ref': `A1:${formatCell({ row: 16, column: 12 })}` };
        figures.forEach((v, at) => {
          const where = { row: Math.floor(at / SIZE) + 1, column: (at % SIZE) + 1 };
          if (v !== null) sheet[formatCell(where)] = { t: 'n', v };
        });
        formulas.forEach(({ f, value }, at) => {
          const v = value(figures);
          sheet[formatCell({ row: SIZE + 2 + at, column: SIZE + 2 })] = { t: 'n', f, v };
        });
        xlsx.utils.book_append_sheet(book, sheet, 'Counts');
        const files = (['xlsx', 'ods'] as const).map(
          (bookType) => new Uint8Array(xlsx.write(book, { type: 'array', bookType })),
        );
        const wish = { sheet: 'Counts', ...made };
        const theirs = shown((await planned(files[0]!, 'counts.xlsx', wish)).bytes).Counts!;
        const ours = shown((await planned(files[1]!, 'counts.ods', wish)).bytes).Counts!;
        for (let row = 1; row <= 20; row++) {
          for (let column = 1; column <= 16; column++) {
            const at = formatCell({ row, column });
            const [a, b] = [theirs[at], ours[at]];
            // Where a formula lost what it read, each kind of file has its own word for it.
            if (a?.f?.includes('#REF!')) continue;
            const said = (cell: typeof a) => cell && [cell.f, cell.v];
            expect([at, said(b)]).toEqual([at, said(a)]);
          }
        }
      },
    ),
    { numRuns: runs(60) },
  );
}, 60_000);

describe('rows and columns of a text', () => {
  const csv = 'Plot;Planted\r\n"SC-01";240\r\nSC-02;"1;180"';

  test.each([
    [
      'rows in',
      change('put in', 'rows', 2, 2),
      'Plot;Planted\r\n;\r\n;\r\n"SC-01";240\r\nSC-02;"1;180"',
    ],
    ['first row out', change('take out', 'rows', 1), '"SC-01";240\r\nSC-02;"1;180"'],
    ['last row out', change('take out', 'rows', 3, 5), 'Plot;Planted\r\n"SC-01";240'],
    [
      'column in',
      change('put in', 'columns', 2),
      'Plot;;Planted\r\n"SC-01";;240\r\nSC-02;;"1;180"',
    ],
    ['column out', change('take out', 'columns', 1), 'Planted\r\n240\r\n"1;180"'],
    ['last column out', change('take out', 'columns', 2, 3), 'Plot\r\n"SC-01"\r\nSC-02'],
    ['behind the last', change('put in', 'rows', 9), csv],
  ])('%s', async (_, made, expected) => {
    const { bytes, recalculated } = await planned(csv, 'counts.csv', { ...made, sheet: 'counts' });
    expect([bytes.toString(), recalculated]).toEqual([expected, 0]);
  });

  // Reference: papaparse 5.7.1, an independent reader.
  test('random ones are read back as arrays that were spliced', async () => {
    const field = fc.string({
      unit: fc.constantFrom('a', 'é', ',', '"', ' ', '\n', '1'),
      maxLength: 4,
    });
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 2, max: 4 }).chain((width) =>
          fc.array(fc.array(field, { minLength: width, maxLength: width }), {
            minLength: 2,
            maxLength: 6,
          }),
        ),
        fc.constantFrom<LineChange['kind']>('put in', 'take out'),
        fc.constantFrom<LineChange['axis']>('rows', 'columns'),
        fc.integer({ min: 1, max: 4 }),
        fc.integer({ min: 1, max: 2 }),
        async (rows, kind, axis, at, count) => {
          const width = rows[0]!.length;
          const size = axis === 'rows' ? rows.length : width;
          fc.pre(at <= size && (kind === 'put in' || count < size));
          const made = { ...change(kind, axis, at, count), sheet: 'counts' };
          const file = papaparse.unparse(rows, { newline: '\n', quotes: true });
          const { bytes } = await planned(file, 'counts.csv', made);
          const expected = axis === 'rows' ? [...rows] : rows.map((each) => [...each]);
          const gone = kind === 'put in' ? 0 : count;
          const blank = kind === 'put in' ? count : 0;
          const empty = Array.from({ length: blank }, () => '');
          if (axis === 'rows') {
            expected.splice(
              at - 1,
              gone,
              ...empty.map(() => Array.from({ length: width }, () => '')),
            );
          } else for (const each of expected) each.splice(at - 1, gone, ...empty);
          expect(papaparse.parse(bytes.toString(), { delimiter: ',', newline: '\n' }).data).toEqual(
            expected,
          );
        },
      ),
      { numRuns: runs(200) },
    );
  });

  test('a mark and an encoding stay', async () => {
    const from = Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from('a,b\nç,1\n', 'utf16le')]);
    const { bytes } = await planned(from, 'counts.csv', {
      ...change('put in', 'rows', 2),
      sheet: 'counts',
    });
    expect(Buffer.from(bytes).toString('utf16le')).toBe('\ufeffa,b\n,\nç,1\n');
  });
});

test('the file itself is not touched', async () => {
  const path = await writeFixture(rich(), 'counts.ods');
  await planLines(path, 'counts.ods', change('put in', 'rows', 1));
  expect((await readFile(path)).equals(Buffer.from(rich()))).toBe(true);
});

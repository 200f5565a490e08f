import { describe, expect, test } from '@jest/globals';
import type { Area } from '@tether/core';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import { openSource, type ReadingOptions } from '../../../open-source.ts';
import { buildWorkbook, writeFixture } from '../../workbook.fixture.ts';

/** So many rows that the sheet is not unpacked at once. */
const ROWS = 12_000;

const rows = Array.from({ length: ROWS }, (_, n) => {
  // The strings stand in the table in another order than in the sheet.
  const index = (n * 7919) % ROWS;
  return `<row r="${n + 1}"><c r="A${n + 1}" t="s"><v>${index}</v></c><c r="B${n + 1}"><v>${n * 3.25}</v></c></row>`;
}).join('');

const strings = Array.from({ length: ROWS }, (_, n) => {
  if (n % 97 === 0) return '<si/>';
  if (n % 89 === 0) return `<si><r><rPr><b/></rPr><t>bold</t></r><r><t> ${n}</t></r></si>`;
  if (n % 83 === 0) return `<si>\n <t xml:space="preserve"> ${n} &amp; more </t>\n</si>`;
  return `<si><t>plot ${n}</t></si>`;
}).join('');

const workbook = (merge: string, format = 0) =>
  buildWorkbook({
    sheets: {
      Long: `<sheetData>${rows}</sheetData><mergeCells><mergeCell ref="${merge}"/></mergeCells>`,
    },
    strings,
    styles: `<fonts count="1"><font/></fonts><cellXfs count="1"><xf numFmtId="${format}"/></cellXfs>`,
    afterSheets: `<definedNames><definedName name="Named${format}">Long!$A$1</definedName></definedNames>`,
  });

const area = (top: number, bottom: number): Area => ({ top, bottom, left: 1, right: 2 });

async function read(path: string, wanted: Area[], options: ReadingOptions = {}) {
  const source = await openSource(path, path, options);
  if (!source.ok) throw new Error(source.fault.message);
  const found = [];
  for (const each of wanted) found.push(await source.value.readArea('Long', each));
  await source.value.close();
  return found;
}

/** The same file, of whose large sheet the middle cannot be unpacked any more. */
function spoiltInTheMiddle(bytes: Uint8Array): Uint8Array {
  const spoilt = Buffer.from(bytes);
  const part = spoilt.indexOf('xl/worksheets/sheet1.xml');
  spoilt.fill(0xff, part + 40_000, part + 50_000);
  return spoilt;
}

describe('what is asked again', () => {
  test('texts are the same in whatever order the rows are asked for', async () => {
    const path = await writeFixture(workbook('A1:B1'));
    const [whole] = await read(path, [area(1, ROWS)]);
    if (!whole?.ok) throw new Error('the whole sheet can be read');
    const { cells } = whole.value;
    expect(cells.find(({ row }) => row === 4)?.text).toBe(`plot ${(3 * 7919) % ROWS}`);
    const tops = fc.array(fc.integer({ min: 1, max: ROWS - 40 }), { minLength: 2, maxLength: 6 });
    await fc.assert(
      fc.asyncProperty(tops, fc.boolean(), async (wanted, isBrowsed) => {
        const areas = wanted.map((top) => area(top, top + 40));
        for (const [n, found] of (await read(path, areas, { isBrowsed })).entries()) {
          if (!found.ok) throw new Error(found.fault.message);
          const { top, bottom } = areas[n]!;
          const expected = cells.filter(({ row }) => row >= top && row <= bottom);
          expect(found.value.cells).toEqual(expected);
        }
      }),
      { numRuns: runs(12) },
    );
  });

  test('a string that nobody may read is found out whoever asks first', async () => {
    const bytes = buildWorkbook({
      sheets: { Long: `<sheetData>${rows}</sheetData>` },
      // So long that they come in pieces.
      strings: strings.replace('plot 11999', 'plot \u0000').replaceAll('plot', 'plot'.repeat(40)),
    });
    const path = await writeFixture(bytes);
    const row = Array.from({ length: ROWS }, (_, n) => (n * 7919) % ROWS).indexOf(11_999) + 1;
    const [alone] = await read(path, [area(row, row)]);
    // The third row has a string far in front of it.
    const found = await read(path, [area(3, 3), area(row, row)]);
    expect(found[1]).toEqual(alone);
  });

  test('what stands behind the rows is not looked for again in the same bytes', async () => {
    const bytes = workbook('A2:B3');
    const good = await writeFixture(bytes);
    const [first] = await read(good, [area(1, 9)], { hash: 'the same bytes' });
    expect(first?.ok && first.value.merges).toEqual([{ top: 2, bottom: 3, left: 1, right: 2 }]);
    // Nobody who unpacks to the end can read this one.
    const spoilt = await writeFixture(spoiltInTheMiddle(bytes));
    const [unknown] = await read(spoilt, [area(1, 9)]);
    expect(unknown?.ok === false && unknown.fault.code).toBe('source-damaged');
    const [again] = await read(spoilt, [area(1, 9)], { hash: 'the same bytes' });
    expect(again).toEqual(first);
    const [other] = await read(spoilt, [area(1, 9)], { hash: 'other bytes' });
    expect(other?.ok).toBe(false);
  });

  test('a file that was written after its hash was taken keeps its own', async () => {
    await read(await writeFixture(workbook('A2:B3')), [area(1, 9)], { hash: 'taken too early' });
    const written = await writeFixture(workbook('A5:B6', 2));
    const [found] = await read(written, [area(1, 9)], { hash: 'taken too early' });
    expect(found?.ok && found.value.merges).toEqual([{ top: 5, bottom: 6, left: 1, right: 2 }]);
    // Its styles and names are its own as well: the number format 2 shows two decimals (ECMA-376 Part 1, 18.8.30).
    expect(found?.ok && found.value.cells.at(-1)?.text).toBe('26.00');
    const source = await openSource(written, written, { hash: 'taken too early' });
    expect(source.ok && source.value.names.map(({ name }) => name)).toEqual(['Named2']);
    if (source.ok) await source.value.close();
  });
});

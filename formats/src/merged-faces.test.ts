import { expect, test } from '@jest/globals';
import { type Area, formatCell, spansIn } from '@tether/core';
import { runs } from '@tether/core/testing';
import exceljs from 'exceljs';
import fc from 'fast-check';
import * as xlsx from 'xlsx';
import { writeFixture } from './ooxml/workbook.fixture.ts';
import { openSource } from './open-source.ts';

/*
 * Merged cells as a table draws them, against an independent reader: workbooks that exceljs 4.4.0 (MIT) writes, and the
 * table that xlsx 0.18.5 (Apache-2.0) makes of them.
 */

const SIZE = { rows: 12, columns: 9 };

/** Areas within the sheet that do not meet. */
const merges = fc
  .array(
    fc.record({
      top: fc.integer({ min: 1, max: SIZE.rows }),
      left: fc.integer({ min: 1, max: SIZE.columns }),
      down: fc.nat(4),
      across: fc.nat(4),
    }),
    { maxLength: 12 },
  )
  .map((wanted) => {
    const taken: Area[] = [];
    for (const { top, left, down, across } of wanted) {
      const area = {
        top,
        left,
        bottom: Math.min(SIZE.rows, top + down),
        right: Math.min(SIZE.columns, left + across),
      };
      const isOne = area.top === area.bottom && area.left === area.right;
      const meets = taken.some(
        (each) =>
          each.top <= area.bottom &&
          each.bottom >= area.top &&
          each.left <= area.right &&
          each.right >= area.left,
      );
      if (!isOne && !meets) taken.push(area);
    }
    return taken;
  });

/** What each cell of the other reader's table spans, and which cells it has at all. */
function drawnByXlsx(sheet: xlsx.WorkSheet): Map<string, string> {
  const drawn = new Map<string, string>();
  for (const [tag] of xlsx.utils.sheet_to_html(sheet).matchAll(/<td [^>]*>/g)) {
    const place = /id="sjs-([A-Z]+\d+)"/.exec(tag)?.[1];
    const count = (name: string) => new RegExp(`${name}="(\\d+)"`).exec(tag)?.[1] ?? '1';
    if (place) drawn.set(place, `${count('rowspan')} x ${count('colspan')}`);
  }
  return drawn;
}

test('merged cells are drawn as another reader draws them', async () => {
  await fc.assert(
    fc.asyncProperty(merges, async (areas) => {
      const book = new exceljs.Workbook();
      const sheet = book.addWorksheet('S');
      for (let row = 1; row <= SIZE.rows; row++) {
        for (let column = 1; column <= SIZE.columns; column++) {
          sheet.getCell(row, column).value = `${row}.${column}`;
        }
      }
      for (const { top, left, bottom, right } of areas) sheet.mergeCells(top, left, bottom, right);
      const bytes = new Uint8Array(await book.xlsx.writeBuffer());

      const source = await openSource(await writeFixture(bytes));
      if (!source.ok) throw new Error(source.fault.message);
      const area = { top: 1, left: 1, bottom: SIZE.rows, right: SIZE.columns };
      const read = await source.value.readArea('S', area);
      await source.value.close();
      if (!read.ok) throw new Error(read.fault.message);
      const count = (length: number) => Array.from({ length }, (_, at) => at);
      const [rows, columns] = [count(SIZE.rows), count(SIZE.columns)];
      const spans = spansIn(read.value, [rows], columns);
      const ours = new Map<string, string>();
      for (const r of rows) {
        for (const c of columns) {
          const span = spans.get(`${r},${c}`);
          if (span === null) continue;
          const place = formatCell({ row: r + 1, column: c + 1 });
          ours.set(place, span ? `${span.rows} x ${span.columns}` : '1 x 1');
        }
      }
      expect(ours).toEqual(drawnByXlsx(xlsx.read(bytes).Sheets.S!));
    }),
    { numRuns: runs(40) },
  );
});

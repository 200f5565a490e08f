import { readFile, writeFile } from 'node:fs/promises';
import { expect, test } from '@jest/globals';
import { mooredAt, mooringName, mooringReference, type Reach } from '@tether/core';
import exceljs from 'exceljs';
import { strFromU8, unzipSync } from 'fflate';
import * as xlsx from 'xlsx';
import { openSource } from '../../open-source.ts';
import { planLines } from '../../plan-lines.ts';
import { takeReach } from '../../taking/take-reach.ts';
import { buildWorkbook, writeFixture } from '../workbook.fixture.ts';
import { type NameChange, writeNames } from './write-names.ts';

/*
 * Names are read back by two independent readers (exceljs 4.4.0, xlsx 0.18.5). Where they stand in the workbook part, and what
 * they may be called: ECMA-376 Part 1, 18.2.5, 18.2.6 and 18.2.27.
 */

const NAME = mooringName('3f2b1c9e-77aa-4d52-9d3f-0a1b2c3d4e5f');
const AREA = { top: 3, left: 1, bottom: 14, right: 6 };
const none: NameChange = { add: [], remove: [] };

async function changed(bytes: Uint8Array, change: Partial<NameChange>): Promise<Buffer> {
  const path = await writeFixture(bytes);
  const done = await writeNames(path, 'book.xlsx', { ...none, ...change });
  if (!done.ok) throw new Error(done.fault.message);
  expect(done.value.before.equals(await readFile(path))).toBe(true);
  return done.value.bytes;
}
const workbookOf = (bytes: Uint8Array) => strFromU8(unzipSync(bytes)['xl/workbook.xml']!);
/** Names as an independent reader has them. */
const namesOf = (bytes: Uint8Array) =>
  (xlsx.read(bytes, { type: 'buffer' }).Workbook?.Names ?? []).map((each) => [
    each.Name,
    each.Ref,
    'Hidden' in each && each.Hidden === true,
  ]);

async function counts(): Promise<Buffer> {
  const book = new exceljs.Workbook();
  const sheet = book.addWorksheet("Plots o'clock");
  for (let row = 1; row <= 20; row++) sheet.addRow([`SC-${row}`, row * 7, row * 3]);
  book.definedNames.add("'Plots o''clock'!$A$1:$A$4", 'Plots');
  return Buffer.from(await book.xlsx.writeBuffer());
}

test('a name is put into a workbook, hidden, and taken out again: nothing else changes', async () => {
  const before = await counts();
  const refersTo = mooringReference("Plots o'clock", AREA);
  expect(refersTo).toBe("'Plots o''clock'!$A$3:$F$14");
  const moored = await changed(before, { add: [{ name: NAME, refersTo }] });
  expect(namesOf(moored)).toEqual([
    [NAME, refersTo, true],
    ['Plots', "'Plots o''clock'!$A$1:$A$4", false],
  ]);
  const book = new exceljs.Workbook();
  await book.xlsx.load(moored as never);
  expect(book.definedNames.getRanges(NAME).ranges).toEqual([refersTo]);
  const [old, now] = [unzipSync(before), unzipSync(moored)];
  expect(Object.keys(now)).toEqual(Object.keys(old));
  for (const [part, bytes] of Object.entries(old)) {
    if (part !== 'xl/workbook.xml') expect(Buffer.from(now[part]!).equals(bytes)).toBe(true);
  }
  // It is valid: begins with a letter or `_`, and has no more than 255 letters.
  expect(NAME).toMatch(/^[A-Za-z_][A-Za-z0-9_]{0,254}$/);
  // Said again it refers to other cells, and is there once.
  const again = await changed(moored, { add: [{ name: NAME, refersTo: "'Plots o''clock'!$B$2" }] });
  expect(namesOf(again)[0]).toEqual([NAME, "'Plots o''clock'!$B$2", true]);
  expect(namesOf(again)).toHaveLength(2);
  const lifted = await changed(again, { remove: [NAME, 'never there'] });
  expect(workbookOf(lifted)).toBe(workbookOf(before));
  const same = await changed(before, { remove: [NAME] });
  expect(same.equals(before)).toBe(true);
});

test('names come where the schema has them, also where there were none, and in prefixed parts', async () => {
  const add = [{ name: NAME, refersTo: 'Counts!$A$1' }];
  const plain = buildWorkbook({
    sheets: { Counts: '<sheetData/>' },
    afterSheets: '<externalReferences/><calcPr/>',
  });
  const moored = await changed(plain, { add });
  expect(workbookOf(moored)).toContain(
    `<externalReferences/><definedNames><definedName name="${NAME}" hidden="1">Counts!$A$1</definedName></definedNames><calcPr/>`,
  );
  // The list is not left empty: one without names is not valid (18.2.6).
  expect(workbookOf(await changed(moored, { remove: [NAME] }))).toBe(workbookOf(plain));

  const own = `<definedName name="${NAME}" localSheetId="0">Counts!$B$9</definedName>`;
  const others = `<definedName name="Zone">Counts!$B$1</definedName>${own}`;
  const named = buildWorkbook({
    sheets: { Counts: '<sheetData/>' },
    afterSheets: `<definedNames>${others}</definedNames>`,
  });
  // A sheet's own name is not the workbook's.
  expect(workbookOf(await changed(named, { add, remove: [NAME] }))).toContain(own);
  expect(workbookOf(await changed(named, { add }))).toContain(
    `<definedNames><definedName name="${NAME}" hidden="1">Counts!$A$1</definedName><definedName name="Zone">`,
  );
});

test('what is moored is taken wherever the workbook says that it is, and rows that come inside are in it', async () => {
  const refersTo = mooringReference("Plots o'clock", AREA);
  const moored = await changed(await counts(), { add: [{ name: NAME, refersTo }] });
  const path = await writeFixture(moored);
  const reach: Reach = { kind: 'block', sheet: "Plots o'clock", area: AREA, mooring: NAME };
  const at = async () => {
    const source = await openSource(path, 'book.xlsx');
    if (!source.ok) throw new Error(source.fault.message);
    try {
      const taken = await takeReach(source.value, reach);
      if (!taken.ok) throw new Error(taken.fault.message);
      expect(mooredAt(reach, source.value.names)?.area).toEqual(taken.value.snapshot.area);
      return taken.value.snapshot.area;
    } finally {
      await source.value.close();
    }
  };
  expect(await at()).toEqual(AREA);
  for (const [row, count] of [
    [1, 4],
    [10, 2],
  ] as const) {
    const change = {
      sheet: "Plots o'clock",
      axis: 'rows',
      kind: 'put in',
      at: row,
      count,
    } as const;
    const plan = await planLines(path, 'book.xlsx', change);
    if (!plan.ok) throw new Error(plan.fault.message);
    await writeFile(path, plan.value.bytes);
  }
  expect(await at()).toEqual({ ...AREA, top: 7, bottom: 20 });
});

import { expect, test } from '@jest/globals';
import type { Reach } from '@tether/core';
import { runs } from '@tether/core/testing';
import exceljs from 'exceljs';
import fc from 'fast-check';
import * as xlsx from 'xlsx';
import { writeFixture } from '../ooxml/workbook.fixture.ts';
import { openSource } from '../open-source.ts';
import { takeReach, takeReaches } from './take-reach.ts';

const block = (row: number, column: number): Reach => ({
  kind: 'block',
  sheet: 'Tides',
  area: { top: row, left: column, bottom: row, right: column },
});

/** A tide table of 3,000 rows with columns of two years, under a title. */
function tides(): (string | number | Date | null)[][] {
  const rows: (string | number | Date | null)[][] = [
    ['High water at the sluice'],
    [],
    ['Gauge', 'Read on', 2023, 2024],
  ];
  for (let n = 1; n <= 3_000; n++) {
    rows.push([`G-${n}`, new Date(Date.UTC(2024, 0, 1)), n, n / 2]);
  }
  return rows;
}

async function landmarksIn(bytes: Uint8Array, name: string) {
  const source = await openSource(await writeFixture(bytes, name), name);
  if (!source.ok) throw new Error(source.fault.message);
  const sheet = source.value.sheets[0]!.name;
  // Near each other they are read as one, far from each other each by itself.
  const reaches = [block(5, 4), block(6, 3), block(2_999, 4)].map((each) => ({ ...each, sheet }));
  const together = await takeReaches(source.value, reaches as Reach[]);
  const alone = [];
  for (const reach of reaches) alone.push(await takeReach(source.value, reach as Reach));
  await source.value.close();
  expect(alone).toEqual(together);
  return together.map((taken) => (taken.ok ? taken.value.snapshot.landmarks : taken.fault));
}

const EXPECTED = [
  { rows: ['G-2'], columns: ['2024'] },
  { rows: ['G-3'], columns: ['2023'] },
  { rows: ['G-2996'], columns: ['2024'] },
];

test('cells scattered over a sheet come out the same together and one by one', async () => {
  const book = new exceljs.Workbook();
  book.addWorksheet('Tides').addRows(tides());
  const bytes = new Uint8Array(await book.xlsx.writeBuffer());
  const source = await openSource(await writeFixture(bytes, 'scattered.xlsx'), 'scattered.xlsx');
  if (!source.ok) throw new Error(source.fault.message);
  const cells = fc
    .tuple(fc.integer({ min: 1, max: 3_010 }), fc.integer({ min: 1, max: 5 }), fc.nat(40))
    .map(([row, column, down]): Reach => {
      const area = { top: row, left: column, bottom: row + (down > 20 ? down : 0), right: column };
      return { kind: 'block', sheet: 'Tides', area };
    });
  await fc.assert(
    fc.asyncProperty(fc.array(cells, { minLength: 2, maxLength: 30 }), async (reaches) => {
      const together = await takeReaches(source.value, reaches);
      for (const [at, reach] of reaches.entries()) {
        expect(JSON.stringify(together[at])).toBe(
          JSON.stringify(await takeReach(source.value, reach)),
        );
      }
    }),
    { numRuns: runs(8) },
  );
  await source.value.close();
});

test('a name of a few cells has landmarks like a block', async () => {
  const book = new exceljs.Workbook();
  book.addWorksheet('Tides').addRows(tides());
  book.definedNames.add('Tides!$D$900', 'LastRead');
  const bytes = new Uint8Array(await book.xlsx.writeBuffer());
  const source = await openSource(await writeFixture(bytes, 'named.xlsx'), 'named.xlsx');
  if (!source.ok) throw new Error(source.fault.message);
  const name: Reach = { kind: 'name', name: 'LastRead', sheet: null };
  // A block higher up has read less of the sheet than the name lies down.
  const taken = await takeReaches(source.value, [block(5, 4), name]);
  await source.value.close();
  const landmarks = taken.map((each) => each.ok && each.value.snapshot.landmarks);
  expect(landmarks).toEqual([EXPECTED[0], { rows: ['G-897'], columns: ['2024'] }]);
});

test('landmarks of a workbook are found near and far from its single cells', async () => {
  const book = new exceljs.Workbook();
  book.addWorksheet('Tides').addRows(tides());
  expect(await landmarksIn(new Uint8Array(await book.xlsx.writeBuffer()), 'tides.xlsx')).toEqual(
    EXPECTED,
  );
});

test.each(['ods', 'csv'] as const)('and those of a source as %s', async (kind) => {
  const book = xlsx.utils.book_new();
  xlsx.utils.book_append_sheet(book, xlsx.utils.aoa_to_sheet(tides()), 'Tides');
  const bytes: Uint8Array = xlsx.write(book, { type: 'array', bookType: kind });
  expect(await landmarksIn(new Uint8Array(bytes), `tides.${kind}`)).toEqual(EXPECTED);
});

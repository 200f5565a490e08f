import { afterEach, describe, expect, it } from '@jest/globals';
import { formatArea, type Reach } from '@tether/core';
import exceljs from 'exceljs';
import { writeFixture } from '../ooxml/workbook.fixture.ts';
import { openSource } from '../open-source.ts';
import type { OpenSource } from '../source.ts';
import { takeReach } from './take-reach.ts';

const opened: OpenSource[] = [];
afterEach(async () => {
  for (const source of opened.splice(0)) await source.close();
});

type Value = string | number | { formula: string; result: number } | null;

async function open(rows: Value[][], names: Record<string, string> = {}): Promise<OpenSource> {
  const book = new exceljs.Workbook();
  const sheet = book.addWorksheet('Counts');
  rows.forEach((row, at) => {
    sheet.getRow(at + 1).values = row;
  });
  for (const [name, range] of Object.entries(names)) book.definedNames.add(range, name);
  const source = await openSource(
    await writeFixture(new Uint8Array(await book.xlsx.writeBuffer())),
  );
  if (!source.ok) throw new Error(source.fault.message);
  opened.push(source.value);
  return source.value;
}

async function take(source: OpenSource, reach: Reach) {
  const taken = await takeReach(source, reach);
  if (!taken.ok) return { fault: taken.fault.code, warnings: [], area: '' };
  const { snapshot, warnings } = taken.value;
  return {
    fault: null,
    area: formatArea(snapshot.area),
    warnings: warnings.map(({ code, message }) => [code, message]),
  };
}

const PLOTS: Value[][] = [
  ['Plot', 'Planted', 'Alive'],
  ['SC-01', 120, 96],
  ['SC-02', 80, 71],
  ['SC-03', 60, 12],
];
const TOTAL: Value[] = [
  'All',
  { formula: 'SUM(B2:B4)', result: 260 },
  { formula: 'SUM(C2:C4)', result: 179 },
];

describe('a growing block', () => {
  const growing: Reach = {
    kind: 'growing block',
    sheet: 'Counts',
    header: { row: 1, left: 1, right: 3 },
    words: ['Plot', 'Planted', 'Alive'],
  };

  it('follows its header down when rows came above it', async () => {
    const moved = await open([['Counts of autumn'], [], ...PLOTS]);
    expect(await take(moved, growing)).toMatchObject({
      area: 'A3:C6',
      warnings: [['header moved', 'The header moved from row 1 to row 3.']],
    });
  });

  it('asks where its header is nowhere, and where its row is blank', async () => {
    expect((await take(await open(PLOTS.slice(1)), growing)).fault).toBe('header-missing');
    const { words: _, ...unsaid } = growing;
    expect((await take(await open([[], ...PLOTS.slice(1)]), unsaid)).fault).toBe('header-missing');
  });
});

describe('totals', () => {
  const block = (bottom: number): Reach => ({
    kind: 'block',
    sheet: 'Counts',
    area: { top: 1, left: 1, bottom, right: 3 },
  });

  it('just below a block are told as its totals', async () => {
    const source = await open([...PLOTS, TOTAL]);
    expect((await take(source, block(4))).warnings).toEqual([
      ['total below', 'Row 5 below it is its total and is not taken.'],
    ]);
    expect((await take(source, block(5))).warnings).toEqual([
      ['total inside', 'Row 5 is a total and is taken along.'],
    ]);
  });

  it('under an empty row, and typed as numbers, are told too; other data are data', async () => {
    const typed = await open([...PLOTS, [], ['All', 260, 179]]);
    expect((await take(typed, block(4))).warnings).toEqual([
      ['total below', 'Row 6 below it is its total and is not taken.'],
    ]);
    const data = await open([...PLOTS, [], ['SC-04', 26, 17]]);
    expect((await take(data, block(4))).warnings[0]![0]).toBe('data below');
  });
});

describe('names', () => {
  it('of exactly a block are offered for it, whatever its size', async () => {
    const source = await open(PLOTS, { Plots: 'Counts!$A$1:$C$4' });
    const reach: Reach = {
      kind: 'block',
      sheet: 'Counts',
      area: { top: 1, left: 1, bottom: 4, right: 3 },
    };
    expect((await take(source, reach)).warnings).toMatchObject([
      ['named', expect.stringContaining('“Plots”')],
    ]);
  });

  it('of whole columns end where what stands in them does', async () => {
    const source = await open(PLOTS, { Plots: 'Counts!$A$1:$C$1048576' });
    expect((await take(source, { kind: 'name', name: 'Plots', sheet: null })).area).toBe('A1:C4');
  });
});

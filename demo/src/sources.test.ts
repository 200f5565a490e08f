import { mkdtemp, readFile, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { formatCell, isoToSerial } from '@tether/core';
import { openSource, takeChart } from '@tether/formats';
import * as independent from 'xlsx';
import { parseEdit, saveAsColleague, setCell } from './colleague.ts';
import { writeDemoSources } from './sources.ts';

let root: string;
const counts = () => join(root, 'monitoring/planting-counts.xlsx');

beforeAll(async () => {
  root = await mkdtemp(join(tmpdir(), 'tether-demo-'));
  await writeDemoSources(root);
});
afterAll(() => rm(root, { recursive: true, force: true }));

async function readSheet(path: string, sheet: string) {
  const source = await openSource(path);
  if (!source.ok) throw new Error(source.fault.message);
  const area = await source.value.readArea(sheet, { top: 1, left: 1, bottom: 40, right: 20 });
  await source.value.close();
  if (!area.ok) throw new Error(area.fault.message);
  return new Map(area.value.cells.map((cell) => [formatCell(cell), cell]));
}

// The reference is the reader of the package `xlsx` 0.18.5, which shares no code with ours: each cell's value and type,
// and its shown text under the number format.
describe.each([
  ['monitoring/planting-counts.xlsx', 'Counts'],
  ['monitoring/planting-counts.xlsx', 'Notes'],
  ['works/boardwalk-piles.xlsx', 'Piles'],
  ['works/boardwalk-piles.xlsx', 'Drive log'],
  ['finance/grant-budget.ods', 'Budget'],
])('%s, sheet %s', (path, sheet) => {
  test('reads as an independent reader reads it', async () => {
    const ours = await readSheet(join(root, path), sheet);
    const book = independent.read(await readFile(join(root, path)), { cellNF: true });
    const theirs = Object.entries(book.Sheets[sheet]!).filter(
      (entry): entry is [string, independent.CellObject] =>
        // Entries with `!` are not cells; an empty text shows nothing and counts as no value with us.
        !entry[0].startsWith('!') && (entry[1] as independent.CellObject).v !== '',
    );
    expect(theirs.length).toBeGreaterThan(5);
    for (const [reference, cell] of theirs) {
      const own = ours.get(reference)!;
      const value = own.type === 'date' ? isoToSerial(String(own.value), '1900') : own.value;
      expect([reference, value]).toEqual([reference, cell.v]);
      expect([reference, own.text]).toEqual([reference, cell.w ?? String(cell.v)]);
      expect([reference, own.formula]).toEqual([reference, cell.f]);
    }
    const filled = [...ours.values()].filter(({ type }) => type !== 'blank');
    expect(filled).toHaveLength(theirs.length);
  });
});

test('a colleague who inserts a row keeps the chart, and it follows', async () => {
  const home = await mkdtemp(join(tmpdir(), 'tether-demo-chart-'));
  await writeDemoSources(home);
  const path = join(home, 'monitoring/planting-counts.xlsx');
  await saveAsColleague(path, [
    { kind: 'insert row', sheet: 'Counts', row: 9, values: ['SC-13', 'Sea aster', 150, 120] },
  ]);
  const source = await openSource(path);
  if (!source.ok) throw new Error(source.fault.message);
  const charts = await source.value.readCharts();
  const drawn = await takeChart(source.value, 'Counts/1');
  await source.value.close();
  expect(charts).toMatchObject({
    value: [{ name: 'Planted and surviving', place: { top: 4, left: 9 } }],
  });
  if (!drawn.ok) throw new Error(drawn.fault.message);
  expect(drawn.value.labels).toContain('SC-13');
  expect(drawn.value.labels).toHaveLength(13);
  expect(drawn.value.groups[0]!.series.map(({ name }) => name)).toEqual(['Planted', 'Surviving']);
  await rm(home, { recursive: true, force: true });
});

describe('a colleague', () => {
  test('sets cells, and the sums follow', async () => {
    await saveAsColleague(counts(), [setCell('Counts', 'D8', 104)]);
    const cells = await readSheet(counts(), 'Counts');
    expect(cells.get('D8')!.value).toBe(104);
    expect(cells.get('D17')!.value).toBe(1822);
    expect(cells.get('E8')!.value).toBeCloseTo(104 / 180, 12);
  });

  const placeOf = async (name: string) => {
    const source = await openSource(counts());
    if (!source.ok) throw new Error(source.fault.message);
    await source.value.close();
    return source.value.names.find((each) => each.name === name)?.refersTo;
  };

  test('puts in and takes out a row, and the sums stretch with it', async () => {
    await saveAsColleague(counts(), [parseEdit('+Counts!9=SC-13,Sea aster,150,120')]);
    let cells = await readSheet(counts(), 'Counts');
    expect(cells.get('A9')!.value).toBe('SC-13');
    expect(cells.get('D18')).toMatchObject({ value: 1942, formula: 'SUM(D5:D17)' });
    expect(await placeOf('PlantsSurviving')).toBe('Counts!$D$18');
    // A range in which the row stands grows by it and stays one.
    expect(await placeOf('PlotCounts')).toBe('Counts!$A$4:$G$18');
    await saveAsColleague(counts(), [parseEdit('-Counts!9')]);
    cells = await readSheet(counts(), 'Counts');
    expect(cells.get('D17')).toMatchObject({ value: 1822, formula: 'SUM(D5:D16)' });
    expect(await placeOf('PlantsSurviving')).toBe('Counts!$D$17');
    expect(await placeOf('PlotCounts')).toBe('Counts!$A$4:$G$17');
  });

  test('saves by putting a new file in place, or over the old one', async () => {
    const number = (await stat(counts())).ino;
    await saveAsColleague(counts(), [setCell('Counts', 'D8', 105)], 'in place');
    expect((await stat(counts())).ino).toBe(number);
    await saveAsColleague(counts(), [setCell('Counts', 'D8', 106)], 'rename');
    expect((await stat(counts())).ino).not.toBe(number);
  });

  test.each(['D8=104', 'Counts!D8', 'Counts!=3', ''])('“%s” is no edit', (text) => {
    expect(() => parseEdit(text)).toThrow('is no edit');
  });
});

test('the tide gauge reads as times and levels', async () => {
  const source = await openSource(join(root, 'monitoring/tide-gauge.csv'));
  if (!source.ok) throw new Error(source.fault.message);
  const area = { top: 1, left: 1, bottom: 169, right: 3 };
  const week = await source.value.readArea('tide-gauge', area);
  if (!week.ok) throw new Error(week.fault.message);
  expect(week.value.cells).toHaveLength(169 * 3);
  expect(week.value.cells[3]).toMatchObject({ type: 'date', value: '2026-09-25T00:00:00' });
  const levels = week.value.cells.filter(({ column, type }) => column === 2 && type === 'number');
  expect(levels).toHaveLength(168);
});

import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { refusedBy } from '@tether/core';
import exceljs from 'exceljs';
import writeFile, { lookAtCells, rulesOf } from './write-file.ts';

let folder: string;
let path: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tether-write-'));
  path = join(folder, 'counts.xlsx');
  const book = new exceljs.Workbook();
  const sheet = book.addWorksheet('Counts');
  sheet.addRows([
    ['Plot', 'Planted', 'Surviving'],
    ['SC-01', 240, 221],
    [null, 180, 97],
  ]);
  sheet.getCell('E1').value = 400;
  sheet.getCell('B4').value = { formula: 'SUM(B2:B3)', result: 420 };
  sheet.mergeCells('A5:B5');
  book.definedNames.add('Counts!$E$1', 'Most');
  const rule = { type: 'decimal', showErrorMessage: true } as const;
  sheet.getCell('B2').dataValidation = { ...rule, operator: 'lessThan', formulae: ['$E$1'] };
  sheet.getCell('C2').dataValidation = { ...rule, operator: 'between', formulae: [0, 'Most'] };
  sheet.getCell('C3').dataValidation = { ...rule, operator: 'lessThan', formulae: ['B3'] };
  await book.xlsx.writeFile(path);
});
afterAll(() => rm(folder, { recursive: true, force: true }));
const file = () => ({ path, shownPath: 'counts.xlsx', reading: null });

describe('the checks of a sheet', () => {
  test('know bounds that stand in cells or under names, and leave those that move', async () => {
    const rules = await rulesOf({ ...file(), sheet: 'Counts' });
    if (!rules.ok) throw new Error(rules.fault.message);
    const { validations } = rules.value;
    const at = (row: number, column: number, value: number) =>
      refusedBy(validations, { row, column }, value)?.message ?? null;
    expect(at(2, 2, 399)).toBeNull();
    expect(at(2, 2, 401)).toContain('below 400');
    expect(at(2, 3, 500)).toContain('from 0 to 400');
    // Which cell that rests on depends on the one that is checked: it is not looked at.
    expect(at(3, 3, 9_999)).toBeNull();
  });
});

describe('cells as they are now', () => {
  const look = async (...places: [row: number, column: number][]) => {
    const done = await lookAtCells({
      ...file(),
      places: places.map(([row, column]) => ({ sheet: 'Counts', row, column })),
      typed: [],
    });
    if (!done.ok) throw new Error(done.fault.message);
    return done.value.cells;
  };

  test('say what they hold, empty ones too', async () => {
    const [text, formula, empty, merged] = await look([2, 1], [4, 2], [9, 9], [5, 2]);
    expect(text).toMatchObject({ value: 'SC-01', formula: null, type: 'text' });
    expect(formula).toMatchObject({ value: 420, formula: 'SUM(B2:B3)', text: '420' });
    expect(empty).toMatchObject({ value: null, formula: null, text: '', merge: null });
    expect(merged!.merge).toMatchObject({ left: 1, right: 2 });
  });

  test('are known again by what stands beside and above them', async () => {
    const [one, other, below] = await look([2, 2], [2, 3], [3, 2]);
    const marks = new Set([one!.landmark, other!.landmark, below!.landmark]);
    expect(marks.size).toBe(3);
  });
});

test('what is planned after a write rests on what was written', async () => {
  const wish = (row: number, value: number) => ({
    ...file(),
    cells: [{ sheet: 'Counts', row, column: 2, value, isOverFormula: false }],
  });
  const plan = await writeFile({ ...wish(2, 300), write: null });
  if (!plan.ok) throw new Error(plan.fault.message);
  const backup = join(folder, 'kept.xlsx');
  const done = await writeFile({ ...wish(2, 300), write: { hash: plan.value.hash, backup } });
  if (!done.ok) throw new Error(done.fault.message);
  const [total] = done.value.recalculated;
  const next = await writeFile({ ...wish(3, 100), write: null });
  if (!next.ok) throw new Error(next.fault.message);
  expect(next.value.written).toMatchObject([{ after: 100 }]);
  const { before } = next.value.written[0]!;
  expect(next.value.recalculated).toMatchObject([
    { before: total!.after, after: Number(total!.after) - Number(before) + 100 },
  ]);
  // The file says the same to somebody who reads it anew.
  const read = new exceljs.Workbook();
  await read.xlsx.readFile(path);
  expect(read.getWorksheet('Counts')!.getCell('B4').result).toBe(total!.after);
});

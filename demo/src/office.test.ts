import { existsSync } from 'node:fs';
import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import * as xlsx from 'xlsx';
import { act, type Office, officeOf, undo } from './office.ts';
import { writeDemoSources } from './sources.ts';

const COUNTS = 'monitoring/planting-counts.xlsx';
let office: Office;
beforeEach(async () => {
  const folder = await mkdtemp(join(tmpdir(), 'tether-office-'));
  office = { sources: join(folder, 'sources'), kept: join(folder, 'kept') };
  await writeDemoSources(office.sources);
});
afterEach(() => rm(join(office.sources, '..'), { recursive: true, force: true }));

const read = async (file = COUNTS) => xlsx.read(await readFile(join(office.sources, file)));
const has = (file: string) => existsSync(join(office.sources, file));

test('figures, rows, columns, sheets and orders change in the files, by an independent reader', async () => {
  const { v: first } = (await read()).Sheets.Counts!.A5;
  await act(office, 'save', [COUNTS, 'Counts!D8=104']);
  expect((await read()).Sheets.Counts!.D8.v).toBe(104);
  await act(office, 'rows-in', [COUNTS, 'Counts!4', '2']);
  expect((await read()).Sheets.Counts!.A7.v).toBe(first);
  await act(office, 'columns-in', [COUNTS, 'Counts!B']);
  expect((await read()).Sheets.Counts!.C7.v).toBe('Common cordgrass');
  await act(office, 'rename-sheet', [COUNTS, 'Counts', 'Autumn']);
  const book = await read();
  expect(book.SheetNames).toContain('Autumn');
  expect(book.Workbook!.Names!.some(({ Ref }) => Ref.includes('Counts!'))).toBe(false);
});

test('sheets with a space in their names are said with quotes or without', async () => {
  await act(office, 'rename-sheet', [COUNTS, 'Counts', 'Autumn counts']);
  await act(office, 'save', [COUNTS, 'Autumn counts!D8=104', "'Autumn counts'!D9=105"]);
  await act(office, 'sort', [COUNTS, 'Autumn counts!A5:G16', 'D']);
  const figures = (await read()).Sheets['Autumn counts']!;
  const all = Array.from({ length: 12 }, (_, at) => Number(figures[`D${5 + at}`].v));
  expect(all).toEqual([...all].sort((a, b) => b - a));
  expect(all).toEqual(expect.arrayContaining([104, 105]));
});

test('rows are sorted by a column, the largest first, and formulas stay', async () => {
  const before = (await read()).Sheets.Counts!;
  await act(office, 'sort', [COUNTS, 'Counts!A5:G16', 'D']);
  const now = (await read()).Sheets.Counts!;
  const figures = Array.from({ length: 12 }, (_, at) => Number(now[`D${5 + at}`].v));
  expect(figures).toEqual([...figures].sort((a, b) => b - a));
  expect(now.A5.v).toBe('SC-10');
  expect(now.D17.v).toBe(before.D17.v);
});

test('files and folders move, are copied, opened, go away and come back', async () => {
  await act(office, 'move', [COUNTS, 'works']);
  await act(office, 'rename', ['works/planting-counts.xlsx', 'Counts Q3 2026.xlsx']);
  await act(office, 'next', ['works/Counts Q3 2026.xlsx']);
  expect(has('works/Counts Q4 2026.xlsx')).toBe(true);
  await act(office, 'copy', ['works/Counts Q3 2026.xlsx', 'finance/old.xlsx']);
  await act(office, 'open', ['finance/old.xlsx', 'Tam']);
  expect(has('finance/~$old.xlsx')).toBe(true);
  await act(office, 'close', ['finance/old.xlsx']);
  await act(office, 'delete', ['finance/old.xlsx']);
  await act(office, 'unplug', ['finance']);
  expect(has('finance')).toBe(false);
  await act(office, 'plug', ['finance']);
  expect(has('finance/grant-budget.ods')).toBe(true);
});

test('every step is undone, one after the other, to what was there at first', async () => {
  const all = async () =>
    Object.fromEntries(
      await Promise.all(
        (await readdir(office.sources, { recursive: true, withFileTypes: true }))
          .filter((entry) => entry.isFile())
          .map(async ({ parentPath, name }) => [
            join(parentPath, name),
            (await readFile(join(parentPath, name))).toString('base64'),
          ]),
      ),
    );
  const first = await all();
  await act(office, 'rows-in', [COUNTS, 'Counts!4']);
  await act(office, 'rename', ['works', 'building']);
  await act(office, 'delete', ['monitoring/tide-gauge.csv']);
  for (let nth = 0; nth < 3; nth++) expect(await undo(office)).toBe(true);
  expect(await all()).toEqual(first);
  expect(await undo(office)).toBe(false);
});

test('offices of different sources keep apart what they undo', () => {
  const [one, other] = ['/srv/one/sources', '/srv/two/sources'].map((at) => officeOf(at));
  expect(one!.kept).not.toBe(other!.kept);
  expect(officeOf('/tmp/a').kept).not.toBe(officeOf('/tmp/b').kept);
});

test('what cannot be done is said, and changes nothing', async () => {
  await expect(act(office, 'delete', ['../secret.txt'])).rejects.toThrow('Say which file');
  await expect(act(office, 'next', [COUNTS])).rejects.toThrow('names no month, quarter or year');
  await expect(act(office, 'dance', [])).rejects.toThrow('does not know');
  await expect(act(office, 'rename-sheet', [COUNTS, 'Nowhere', 'X'])).rejects.toThrow('no sheet');
  expect(await undo(office)).toBe(false);
});

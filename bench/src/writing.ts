import { mkdirSync, writeFileSync } from 'node:fs';
import { copyFile, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { CalcBook, type CalcCell } from '@tether/core';
import {
  loadBook,
  type NotComputed,
  openSource,
  planWrite,
  replaceFile,
  type SheetPatch,
  writeSource,
} from '@tether/formats';
import exceljs from 'exceljs';
import * as xlsx from 'xlsx';
import { makeFiles } from './files.ts';
import { richWorkbook } from './rich-workbook.ts';

/** Writing cells into workbooks, and computing what depends on them: for `npm run bench`. */
const folder = fileURLToPath(new URL('../../.run/bench', import.meta.url));
mkdirSync(folder, { recursive: true });
const files = await makeFiles(folder);
const lines: { what: string; measured: string }[] = [];
const add = (what: string, measured: string) => {
  lines.push({ what, measured });
  console.log(`${what}: ${measured}`);
};
const ms = (time: number) => `${time < 10 ? time.toFixed(1) : Math.round(time)} ms`;

/** CPU time of the process, the middle of some runs; what stands before it does not count. */
async function cpu(runs: number, task: (run: number) => Promise<unknown>): Promise<number> {
  const times: number[] = [];
  for (let run = 0; run < runs; run++) {
    const before = process.cpuUsage();
    await task(run);
    const { user, system } = process.cpuUsage(before);
    times.push((user + system) / 1000);
  }
  return times.sort((a, b) => a - b)[runs >> 1]!;
}

/** A workbook made ready for computing: as in the product once, while the source is in use. */
async function ready(path: string): Promise<CalcBook | NotComputed> {
  const source = await openSource(path, 'a workbook');
  if (!source.ok) throw new Error(source.fault.message);
  const loaded = await loadBook(source.value);
  await source.value.close();
  if (!loaded.ok) throw new Error(loaded.fault.message);
  return loaded.value;
}

/** From the wish to the swapped file: looked at, planned with its dependants, patched, written, read back. */
async function write(
  path: string,
  patches: SheetPatch[],
  book: CalcBook | NotComputed,
): Promise<void> {
  const source = await openSource(path, 'a workbook');
  if (!source.ok) throw new Error(source.fault.message);
  await source.value.close();
  const plan = planWrite(book, patches);
  const made = await writeSource(path, 'a workbook', plan.patches, {
    isRecalculated: plan.isRecalculated,
  });
  if (!made.ok) throw new Error(made.fault.message);
  const { before, bytes: after } = made.value;
  const done = await replaceFile(path, 'a workbook', { before, after, backup: null });
  if (!done.ok) throw new Error(done.fault.message);
}

const patch = (sheet: string, row: number, column: number, value: number): SheetPatch => ({
  sheet,
  row,
  column,
  value,
  how: 'value',
});

const rich = join(folder, 'rich.xlsx');
writeFileSync(rich, await richWorkbook());
const richBook = await ready(rich);
for (let run = 0; run < 20; run++) await write(rich, [patch('Counts', 8, 3, run)], richBook);
const one = await cpu(25, (run) => write(rich, [patch('Counts', 8, 3, 100 + run)], richBook));
const byXlsx = await cpu(5, async (run) => {
  const book = xlsx.read(await readFile(rich), { cellStyles: true });
  book.Sheets.Counts!.C8 = { t: 'n', v: run };
  writeFileSync(`${rich}.library`, xlsx.write(book, { type: 'buffer', bookType: 'xlsx' }));
});
const byExceljs = await cpu(5, async (run) => {
  const book = new exceljs.Workbook();
  await book.xlsx.readFile(rich);
  book.getWorksheet('Counts')!.getCell('C8').value = run;
  await book.xlsx.writeFile(`${rich}.library`);
});
const fastest = Math.min(byXlsx, byExceljs);
add(
  'one cell of a workbook of four sheets with charts, 56 formulas that rest on it with it: from the wish to the swapped file',
  `${ms(one)}; the fastest library that loads and saves it, and loses parts of it: ${ms(fastest)}; ${(fastest / one).toFixed(1)} x`,
);

const big = join(folder, 'big-written.xlsx');
await copyFile(files.big, big);
let bigBook: CalcBook | NotComputed = 'too large';
const bigReady = await cpu(3, async () => {
  bigBook = await ready(big);
});
add('a workbook of 100,000 x 20, 72 MB of XML, looked through for formulas, once', ms(bigReady));
const bigOne = await cpu(5, (run) => write(big, [patch('Data', 50_000, 5, run)], bigBook));
add('one cell of it', ms(bigOne));
const many = (run: number) =>
  Array.from({ length: 1_000 }, (_, n) => patch('Data', 100 * (n + 1), 5, run * 1_000 + n));
const bigMany = await cpu(3, (run) => write(big, many(run), bigBook));
add('1,000 cells of it in one go', `${ms(bigMany)}; ${(bigMany / bigOne).toFixed(1)} x one`);

const cells: CalcCell[] = [];
for (let row = 1; row <= 50_000; row++) {
  cells.push(
    { row, column: 1, value: row },
    { row, column: 2, value: row * 2, formula: `A${row}*2` },
  );
}
for (let n = 0; n < 100; n++)
  cells.push({
    row: n + 1,
    column: 3,
    value: undefined,
    formula: `SUM(A${n * 500 + 1}:A${n * 500 + 500})+A7`,
  });
let book: CalcBook | null = null;
const loading = await cpu(3, async () => {
  book = CalcBook.load({ sheets: [{ name: 'Data', cells }], now: 46_355 });
});
add(
  'a workbook of 100,000 cells, 50,000 of them formulas, made ready for computing, once',
  ms(loading),
);
const changed = await cpu(15, async (run) =>
  book!.change([{ sheet: 'Data', row: 7, column: 1, value: run }]),
);
add('one change in it on which 101 formulas depend', ms(changed));
const apart = await cpu(15, async (run) =>
  book!.change([{ sheet: 'Data', row: 49_999, column: 1, value: run }]),
);
add('one change on which two depend', ms(apart));
writeFileSync(join(folder, 'writing.json'), JSON.stringify(lines));

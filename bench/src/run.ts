import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { cpus } from 'node:os';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import {
  type Cell,
  changeOf,
  changeSlip,
  findPasted,
  forecastSeries,
  layoutTable,
  type Snapshot,
} from '@tether/core';
import Papa from 'papaparse';
import * as xlsx from 'xlsx';
import { makeFiles } from './files.ts';
import { AROUND, floor } from './floor.ts';
import { ourWork } from './work.ts';

/**
 * `npm run bench`: CPU time in the process, medians, everything side by side in one run; memory in processes of their
 * own. `--write` keeps the tables in docs/performance.md.
 */
const { values } = parseArgs({ options: { write: { type: 'boolean' } } });
const folder = fileURLToPath(new URL('../../.run/bench', import.meta.url));
mkdirSync(folder, { recursive: true });
console.log('Making the files (once) …');
const files = await makeFiles(folder);
const work = ourWork(files);

async function cpu(task: () => unknown, runs: number): Promise<number> {
  const times: number[] = [];
  for (let n = 0; n < runs; n++) {
    const before = process.cpuUsage();
    await task();
    const { user, system } = process.cpuUsage(before);
    times.push((user + system) / 1000);
  }
  return times.sort((a, b) => a - b)[Math.floor(times.length / 2)]!;
}

/** Bytes that a task reads from files. */
async function bytesRead(task: () => Promise<unknown>): Promise<number> {
  const soFar = () =>
    Number(/rchar: (\d+)/.exec(readFileSync('/proc/self/io', 'latin1'))?.[1] ?? 0);
  const before = soFar();
  const own = soFar() - before;
  await task();
  return soFar() - before - 2 * own;
}

function memory(name: string): number {
  const script = fileURLToPath(new URL('./memory.ts', import.meta.url));
  const out = execFileSync(process.execPath, ['--import', 'tsx', script, folder, name], {
    encoding: 'utf8',
    // Ours gets by with little; a library is given what it wants.
    env: {
      ...process.env,
      NODE_OPTIONS: name.startsWith('library')
        ? '--max-old-space-size=8192'
        : `--max-old-space-size=${OUR_HEAP} --max-semi-space-size=8`,
    },
  });
  return Number(out.trim().split('\n').at(-1));
}

/** MB that our work may use for its objects when memory is measured. */
const OUR_HEAP = 100;
const SHEET = 'xl/worksheets/sheet1.xml';
const STRINGS = 'xl/sharedStrings.xml';
const START = 8 << 10;

// Once through everything, so that nobody pays for the first compilation.
await work.firstAgain();
for (const look of [false, true]) {
  await work.first(look);
  await work.far(look);
  await work.small(look);
}

interface Line {
  what: string;
  floor: number | null;
  bare: number;
  looked: number | null;
  library: number | null;
}
/** Whatever is wanted of a workbook, the library reads all of it. */
const wholeByLibrary = await cpu(
  async () => xlsx.read(await readFile(files.big), { dense: true }),
  1,
);
const lines: Line[] = [
  {
    what: 'the first 50 rows of 100,000 x 20',
    floor: await cpu(() => floor(files.big, [...AROUND, [SHEET, START], [STRINGS, START]]), 15),
    bare: await cpu(() => work.first(false), 15),
    looked: await cpu(() => work.firstAgain(), 15),
    library: await cpu(
      async () => xlsx.read(await readFile(files.big), { sheetRows: 50, dense: true }),
      1,
    ),
  },
  {
    what: '50 rows at row 90,000',
    floor: await cpu(() => floor(files.big, [...AROUND, [SHEET], [STRINGS]]), 5),
    bare: await cpu(() => work.far(false), 5),
    looked: await cpu(() => work.far(true), 5),
    library: null,
  },
  {
    what: 'all its 2,000,000 cells, in pieces',
    floor: await cpu(() => floor(files.big, [...AROUND, [SHEET], [STRINGS]]), 3),
    bare: await cpu(() => work.all(false), 1),
    looked: await cpu(() => work.all(true), 1),
    library: wholeByLibrary,
  },
  {
    what: 'single cells of 1,000 of its rows, for 1,000 objects',
    floor: await cpu(() => floor(files.big, [...AROUND, [SHEET], [STRINGS]]), 3),
    bare: await cpu(() => work.scattered(false), 3),
    looked: await cpu(() => work.scattered(true), 1),
    library: wholeByLibrary,
  },
  {
    what: 'which of its cells are filled',
    floor: await cpu(() => floor(files.big, [...AROUND, [SHEET]]), 3),
    bare: await cpu(() => work.filled(), 3),
    looked: null,
    library: null,
  },
  {
    what: 'B2:F40 out of each of 200 workbooks',
    floor: await cpu(() => {
      for (const path of files.small) floor(path, [...AROUND, [SHEET], [STRINGS]]);
    }, 7),
    bare: await cpu(() => work.small(false), 7),
    looked: await cpu(() => work.small(true), 5),
    library: await cpu(async () => {
      for (const path of files.small) xlsx.read(await readFile(path), { dense: true });
    }, 1),
  },
  {
    what: 'delimited text, 1,000,000 fields',
    floor: null,
    bare: await cpu(() => work.text(), 5),
    looked: null,
    library: await cpu(
      async () => Papa.parse(await readFile(files.text, 'utf8'), { dynamicTyping: true }),
      5,
    ),
  },
  {
    what: 'open document, 1,000,000 cells',
    floor: await cpu(() => floor(files.open, [['content.xml']]), 3),
    bare: await cpu(() => work.open(), 3),
    looked: null,
    library: await cpu(async () => xlsx.read(await readFile(files.open), { dense: true }), 1),
  },
];
/** A table of 8 columns as a source holds it: the first names the rows. */
function longTable(rows: number): Snapshot {
  const cells: Cell[] = [];
  for (let row = 1; row <= rows; row++) {
    for (let column = 1; column <= 8; column++) {
      const at = { row, column, dress: 0 };
      const text = row === 1 ? `Measure ${column}` : `Plot ${row} on the bank`;
      const value = row * 10 + column;
      cells.push(
        column === 1 || row === 1
          ? { ...at, type: 'text', value: text, text }
          : { ...at, type: 'number', value, text: String(value) },
      );
    }
  }
  return {
    sheet: 'Counts',
    area: { top: 1, left: 1, bottom: rows, right: 8 },
    cells,
    merges: [],
    columns: [],
    rows: [],
    dresses: [{ letters: { family: 'Calibri', size: 11 } }],
    defaults: { columnWidth: 9, rowHeight: 15, digitWidth: 7 },
  };
}
const long = longTable(10_000);
/** The same with another figure in every second row, and a row put in: each changed row is a gap between equal ones. */
function changedTable(table: Snapshot, inserted: number): Snapshot {
  const cells = table.cells.map((cell): Cell => {
    const row = cell.row < inserted ? cell.row : cell.row + 1;
    if (cell.column !== 2 || cell.row % 2 === 0 || cell.type !== 'number') return { ...cell, row };
    const value = Number(cell.value) + 1;
    return { ...cell, row, value, text: String(value) };
  });
  const text = 'Plot put in';
  cells.push({ row: inserted, column: 1, dress: 0, type: 'text', value: text, text });
  cells.sort((a, b) => a.row - b.row || a.column - b.column);
  return { ...table, cells, area: { ...table.area, bottom: table.area.bottom + 1 } };
}
const longer = longTable(40_000);
const changed = changedTable(longer, 20_001);
/** Values with a season of 24 and some chance in them. */
const hourly = Array.from(
  { length: 2_000 },
  (_, at) => 40 + 9 * Math.sin((2 * Math.PI * at) / 24) + 3 * Math.sin(at * at),
);
const pasted = Array.from({ length: 200 }, (_, row) =>
  Array.from({ length: 8 }, (_, column) => long.cells[(4_000 + row) * 8 + column]!.text),
);
const series = (values: number[]) => ({ name: 'Values', times: null, values });
const wish = { periods: 48, confidence: 95 };
const laid: [string, number][] = [
  [
    'layout of 10,000 rows x 8, widths of the source',
    await cpu(() => layoutTable(long, 'source', 640), 9),
  ],
  [
    'layout of 10,000 rows x 8, widths shared by the page',
    await cpu(() => layoutTable(long, 'page', 640), 9),
  ],
  [
    'forecast of 144 months, season found',
    await cpu(() => forecastSeries(series(hourly.slice(0, 144)), { ...wish, season: 'found' }), 5),
  ],
  [
    'forecast of 2,000 hours, season of 24',
    await cpu(() => forecastSeries(series(hourly), { ...wish, season: 24 }), 3),
  ],
  [
    'change slip of 40,000 rows x 8: 20,000 changed, one put in',
    await cpu(() => changeSlip(longer, changed), 3),
  ],
  [
    'the same in few words, as it is told of an object',
    await cpu(() => changeOf(longer, changed), 3),
  ],
  ['1,600 pasted cells found among 80,000', await cpu(() => findPasted(pasted, long.cells), 5)],
];
const firstTime = await cpu(() => work.first(true), 5);
const touched = await bytesRead(() => work.first(false));
const unchanged = (await cpu(() => work.unchanged(), 7)) / files.small.length;

const ms = (time: number | null) =>
  time === null ? '' : `${time < 10 ? time.toFixed(1) : Math.round(time).toLocaleString('en')} ms`;
const ratio = (a: number | null, b: number | null) =>
  a === null || b === null ? '' : `${(a / b).toFixed(1)} x`;
const times = [
  '| work | floor | ours, values | to the floor | with the look | to values | a common library | ours is faster |',
  '| --- | ---: | ---: | ---: | ---: | ---: | ---: | ---: |',
  ...lines.map(
    ({ what, floor: least, bare, looked, library }) =>
      `| ${what} | ${ms(least)} | ${ms(bare)} | ${ratio(bare, least)} | ${ms(looked)} | ${ratio(looked, bare)} | ${ms(library)} | ${ratio(library, bare)} |`,
  ),
].join('\n');
const mb = (size: number) => `${size.toLocaleString('en')} MB`;
const space = [
  '| work | ours | a common library |',
  '| --- | ---: | ---: |',
  `| all 2,000,000 cells of a workbook, in pieces | ${mb(memory('all'))} | ${mb(memory('library all'))} |`,
  `| delimited text, 1,000,000 fields, in pieces | ${mb(memory('textPieces'))} | ${mb(memory('library text'))} |`,
  `| open document, 1,000,000 cells, in pieces | ${mb(memory('openPieces'))} | ${mb(memory('library open'))} |`,
].join('\n');
const rest = `The first 50 rows touch ${Math.round(touched / 1024)} KB of the file. Knowing that a file has not changed takes ${unchanged.toFixed(3)} ms.`;
const computed = [
  '| work | time |',
  '| --- | ---: |',
  ...laid.map(([what, time]) => `| ${what} | ${ms(time)} |`),
].join('\n');
/** What a benchmark of its own found in this run, as a table. */
function found(file: string, what: string): string {
  const path = `${folder}/${file}`;
  const lines = existsSync(path)
    ? (JSON.parse(readFileSync(path, 'utf8')) as { what: string; measured: string }[])
    : [];
  return [
    `| ${what} | measured |`,
    '| --- | --- |',
    ...lines.map((line) => `| ${line.what} | ${line.measured} |`),
  ].join('\n');
}
const seen = found('screens.json', 'screen');
const sheets = [found('sheets.json', 'what'), found('slides.json', 'what')].join('\n\n');
const keeping = found('keeping.json', 'work');
const writing = found('writing.json', 'work');
console.log([times, space, rest, computed, writing, seen, sheets, keeping].join('\n\n'));
if (values.write) {
  const text = `# Performance

All of one run of \`npm run bench\` on ${new Date().toISOString().slice(0, 10)}, Node.js ${process.version}, ${cpus().length} cores of
${cpus()[0]?.model ?? 'an unknown kind'}. The machine is shared: between runs the times differ by a third and more, the ratios by
less.

## Time

CPU time in the process, medians. The floor opens the file, finds the parts in its directory and unpacks those that are
needed as far as they are needed, with the platform's own inflate, and nothing else. The library is \`xlsx\` 0.18.5 in its
leanest mode for workbooks and open documents (run once), \`papaparse\` 5.7.1 for delimited text.

${times}

With the look, what stands behind the rows of a sheet (merged cells, conditional formats) has to be known: it is found once for
each state of a file and remembered by the hash of its bytes. Finding it unpacks the sheet to its end: the first rows of the
largest one then take ${ms(firstTime)}.

## Memory

The most memory that a process of its own took beyond what it had before the work. "In pieces" is 10,000 rows at a time,
as much as one placed object may take. Ours had a heap limited to ${OUR_HEAP} MB, the library one of 8 GB.

${space}

## Files

${rest}

## Layout, forecast, comparing, looking up

CPU time in Node.js, medians; in the browser the forecast runs in a worker of its own.

${computed}

## Writing, computing

CPU time in Node.js, medians. The libraries are \`xlsx\` 0.18.5 and \`exceljs\` 4.4.0.

${writing}

## Keeping in step

With PostgreSQL on the same two cores, wall-clock time, medians. The library is \`xlsx\` 0.18.5 in its leanest mode; it reads the
files one after the other, ours reads in two threads beside watching, comparing, storing and logging. The ratio is the median of
those of five rounds.

${keeping}

## Screens

In Debian's Chromium without a graphics card, on the same machine as server and database: painting a frame by software takes most of
the time between frames, with cords or without.

${seen}

## A full sheet

A drawing of 50 placed tables, a plan of 20,000 segments, and 1,000 rows as marks in it, on an A0 sheet; CPU time of the page's
thread.

${sheets}
`;
  writeFileSync(fileURLToPath(new URL('../../docs/performance.md', import.meta.url)), text);
}

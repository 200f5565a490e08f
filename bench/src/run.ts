import { mkdirSync, writeFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { cpus } from 'node:os';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { inflateRawSync } from 'node:zlib';
import { type Area, parseReference } from '@tether/core';
import { openSource } from '@tether/formats';
import Papa from 'papaparse';
import * as xlsx from 'xlsx';
import { makeFiles } from './files.ts';

/**
 * `npm run bench`: CPU time in the process, medians, everything side by side in one run. The floor is nothing but
 * unpacking what must be unpacked with the platform's own inflate. `--write` keeps the tables in docs/performance.md.
 */
const { values } = parseArgs({ options: { write: { type: 'boolean' } } });
const folder = fileURLToPath(new URL('../../.run/bench', import.meta.url));
mkdirSync(folder, { recursive: true });
console.log('Making the files (once) …');
const files = await makeFiles(folder);

const area = (reference: string): Area => {
  const parsed = parseReference(reference);
  if (!parsed.ok) throw new Error(parsed.fault.message);
  return parsed.value.area;
};

async function cpu(work: () => unknown, runs: number): Promise<number> {
  const times: number[] = [];
  for (let n = 0; n < runs; n++) {
    const before = process.cpuUsage();
    await work();
    const { user, system } = process.cpuUsage(before);
    times.push((user + system) / 1000);
  }
  return times.sort((a, b) => a - b)[Math.floor(times.length / 2)]!;
}

/** A part's packed bytes, found the plainest way: what the floor unpacks. */
async function packed(
  path: string,
  part: string,
  most = Number.POSITIVE_INFINITY,
): Promise<Buffer> {
  const bytes = await readFile(path);
  const at = bytes.lastIndexOf(part) - 46;
  const local = bytes.readUInt32LE(at + 42);
  const start = local + 30 + bytes.readUInt16LE(local + 26) + bytes.readUInt16LE(local + 28);
  return bytes.subarray(start, start + Math.min(most, bytes.readUInt32LE(at + 20)));
}

async function ours(path: string, reference: string, look: boolean): Promise<number> {
  const source = await openSource(path);
  if (!source.ok) throw new Error(source.fault.message);
  const { sheets } = source.value;
  const read = await source.value.readArea(sheets[0]!.name, area(reference), { look });
  await source.value.close();
  if (!read.ok) throw new Error(read.fault.message);
  return read.value.cells.length;
}

interface Line {
  work: string;
  floor: number | null;
  bare: number;
  looked: number | null;
  library: number | null;
}
const lines: Line[] = [];
const sheet = await packed(files.big, 'xl/worksheets/sheet1.xml');
const start = sheet.subarray(0, 8 << 10);
const whole = () => inflateRawSync(sheet, { maxOutputLength: 1 << 30 });
const unpackStart = () => inflateRawSync(start, { finishFlush: 2 });

// Once through everything, so that nobody pays for the first compilation.
await ours(files.big, 'A1:F50', true);
await ours(files.big, 'A90000:F90050', true);

lines.push({
  work: 'first 50 rows of 100,000 x 20',
  floor: await cpu(unpackStart, 9),
  bare: await cpu(() => ours(files.big, 'A1:F50', false), 9),
  looked: await cpu(() => ours(files.big, 'A1:F50', true), 5),
  library: await cpu(
    async () => xlsx.read(await readFile(files.big), { sheetRows: 50, dense: true }),
    1,
  ),
});
lines.push({
  work: '50 rows at row 90,000',
  floor: await cpu(whole, 5),
  bare: await cpu(() => ours(files.big, 'A90000:F90050', false), 5),
  looked: await cpu(() => ours(files.big, 'A90000:F90050', true), 5),
  library: null,
});
lines.push({
  work: 'which of its 2,000,000 cells are filled',
  floor: await cpu(whole, 3),
  bare: await cpu(async () => {
    const source = await openSource(files.big);
    if (!source.ok) throw new Error(source.fault.message);
    await source.value.readOccupancy('Data');
    await source.value.close();
  }, 3),
  looked: null,
  library: await cpu(async () => xlsx.read(await readFile(files.big), { dense: true }), 1),
});
const smallParts = await Promise.all(
  files.small.map((path) => packed(path, 'xl/worksheets/sheet1.xml')),
);
lines.push({
  work: 'B2:F40 out of each of 200 workbooks',
  floor: await cpu(() => smallParts.forEach((part) => void inflateRawSync(part)), 5),
  bare: await cpu(async () => {
    for (const path of files.small) await ours(path, 'B2:F40', false);
  }, 3),
  looked: await cpu(async () => {
    for (const path of files.small) await ours(path, 'B2:F40', true);
  }, 3),
  library: await cpu(async () => {
    for (const path of files.small) xlsx.read(await readFile(path), { dense: true });
  }, 1),
});
lines.push({
  work: 'delimited text, 1,000,000 fields',
  floor: null,
  bare: await cpu(() => ours(files.text, 'A1:J100000', false), 3),
  looked: null,
  library: await cpu(
    async () => Papa.parse(await readFile(files.text, 'utf8'), { dynamicTyping: true }),
    3,
  ),
});

const ms = (time: number | null) =>
  time === null ? '' : `${time < 10 ? time.toFixed(1) : Math.round(time)} ms`;
const times = (line: Line) =>
  line.floor === null ? '' : `${(line.bare / line.floor).toFixed(1)} x`;
const table = [
  '| work | floor | ours, values | to the floor | ours, with the look | a common library |',
  '| --- | ---: | ---: | ---: | ---: | ---: |',
  ...lines.map(
    (line) =>
      `| ${line.work} | ${ms(line.floor)} | ${ms(line.bare)} | ${times(line)} | ${ms(line.looked)} | ${ms(line.library)} |`,
  ),
].join('\n');
console.log(table);
if (values.write) {
  const text = `# Performance

CPU time in the process, medians, all of one run of \`npm run bench\` on ${new Date().toISOString().slice(0, 10)}, Node.js ${process.version},
${cpus().length} cores of ${cpus()[0]?.model ?? 'an unknown kind'}. The floor only unpacks what must be unpacked from bytes already in
memory: no file, no directory, no other part. The library is \`xlsx\` 0.18.5 in its
leanest mode for workbooks, \`papaparse\` for delimited text, each run once.

${table}

With the look a sheet is unpacked to its end, since merged cells stand behind the rows.
`;
  writeFileSync(fileURLToPath(new URL('../../docs/performance.md', import.meta.url)), text);
}

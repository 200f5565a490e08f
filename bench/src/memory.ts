import { readFile } from 'node:fs/promises';
import Papa from 'papaparse';
import * as xlsx from 'xlsx';
import { makeFiles } from './files.ts';
import { ourWork, type Work } from './work.ts';

/*
 * One piece of work in a process of its own: prints the most memory it took beyond that of an idle process with the same
 * code, in MB.
 */
const [folder = '', name = ''] = process.argv.slice(2);
const files = await makeFiles(folder);
const libraries: Record<string, () => Promise<unknown>> = {
  'library all': async () => xlsx.read(await readFile(files.big), { dense: true }),
  'library text': async () =>
    Papa.parse(await readFile(files.text, 'utf8'), { dynamicTyping: true }),
  'library open': async () => xlsx.read(await readFile(files.open), { dense: true }),
};
const idle = process.memoryUsage.rss();
await (libraries[name] ?? (() => ourWork(files)[name as Work](false)))();
// The process's own mark: what the platform tells of children still has the size of the process they came from.
const peak = /VmHWM:\s+(\d+)/.exec(await readFile('/proc/self/status', 'latin1'))?.[1];
console.log(Math.round(Number(peak) / 1024 - idle / (1 << 20)));

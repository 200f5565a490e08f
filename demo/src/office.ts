import { cp, mkdir, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { basename, dirname, extname, join, relative, resolve, sep } from 'node:path';
import type { OfficeAsk } from '@tether/contract';
import { findSheet, nextPeriods, parseReference, type Scalar } from '@tether/core';
import {
  loadBook,
  openSource,
  planLines,
  planWrite,
  replaceFile,
  type SheetPatch,
  writeSource,
} from '@tether/formats';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { parseEdit, saveAsColleague } from './colleague.ts';

/** The folder of the sources, and one beside it in which the office keeps what it needs to undo. */
export interface Office {
  sources: string;
  kept: string;
}

/** The office of some sources; what it keeps lies beside them, apart from that of any others. */
export function officeOf(
  sources: string,
  keptAt: string | null = process.env.TETHER_OFFICE ?? null,
): Office {
  const root = resolve(sources);
  const kept = keptAt ?? join(dirname(root), '.run', 'office', basename(root));
  return { sources: root, kept };
}

const FILE: OfficeAsk = { label: 'File', kind: 'file', example: 'FILE' };
const FOLDER: OfficeAsk = { label: 'Folder', kind: 'folder', example: 'FOLDER' };
const told = (label: string, example: string, isOptional = false): OfficeAsk => ({
  ...{ label, kind: 'words', example },
  ...(isOptional ? { isOptional } : {}),
});

/** Something that happens in the world outside, done to files on the disk. */
interface Act {
  /** What must be said, in this order. */
  asks: OfficeAsk[];
  says: string;
  run(sources: string, words: readonly string[]): Promise<void>;
}

/** What the office can do; each on the disk, in any order, and undone by `undo`. */
export const ACTS: Record<string, Act> = {
  save: {
    asks: [FILE, told('Cells and what they hold', 'Counts!D8=104')],
    says: 'A colleague saves other figures in a workbook',
    async run(sources, [file, ...edits]) {
      await saveAsColleague(
        inside(sources, file),
        edits.map((edit) => parseEdit(quoted(edit))),
      );
    },
  },
  'rows-in': {
    asks: [FILE, told('Sheet and row', 'Counts!4'), told('How many', '1', true)],
    says: 'Rows come in above a row',
    run: (sources, words) => putIn(sources, 'rows', words),
  },
  'columns-in': {
    asks: [FILE, told('Sheet and column', 'Counts!B'), told('How many', '1', true)],
    says: 'Columns come in before a column',
    run: (sources, words) => putIn(sources, 'columns', words),
  },
  sort: {
    asks: [FILE, told('Rows to be sorted', 'Counts!A5:G16'), told('By column', 'D')],
    says: 'The rows of a range are sorted by one of its columns, the largest first',
    run: sort,
  },
  'rename-sheet': {
    asks: [FILE, told('Sheet', 'Counts'), told('Its new name', 'Autumn counts')],
    says: 'A sheet of a workbook gets another name',
    run: renameSheet,
  },
  move: {
    asks: [FILE, { ...told('Into folder', 'monitoring/autumn') }],
    says: 'A file is moved into another folder',
    async run(sources, [file, folder]) {
      const from = inside(sources, file);
      const to = join(inside(sources, folder), basename(from));
      await mkdir(dirname(to), { recursive: true });
      await rename(from, to);
    },
  },
  rename: {
    asks: [
      { label: 'File or folder', kind: 'either', example: 'FILE' },
      told('Its new name', 'counts of autumn.xlsx'),
    ],
    says: 'A file or a folder gets another name where it is',
    async run(sources, [file, name = '']) {
      const from = inside(sources, file);
      await rename(from, inside(sources, join(dirname(file ?? ''), name)));
    },
  },
  copy: {
    asks: [FILE, told('The copy', 'monitoring/copy.xlsx')],
    says: 'A copy is made of a file',
    async run(sources, [file, to]) {
      await cp(inside(sources, file), inside(sources, to), { errorOnExist: true, force: false });
    },
  },
  delete: {
    asks: [FILE],
    says: 'A file is deleted',
    run: (sources, [file]) => rm(inside(sources, file)),
  },
  open: {
    asks: [FILE, told('Who', 'Tam Reedsby', true)],
    says: 'Somebody keeps a file open: what office programs leave beside it appears',
    async run(sources, [file, who = 'Tam Reedsby']) {
      await readFile(inside(sources, file));
      await writeFile(ownerFile(sources, file), ownerNote(who));
    },
  },
  close: {
    asks: [FILE],
    says: 'Whoever kept it open closes it',
    run: (sources, [file]) => rm(ownerFile(sources, file)),
  },
  unplug: {
    asks: [FOLDER],
    says: 'The drive with a source folder goes away',
    run: (sources, [folder]) => rename(inside(sources, folder), unplugged(sources, folder)),
  },
  plug: {
    asks: [told('Folder', 'monitoring')],
    says: 'It comes back',
    run: (sources, [folder]) => rename(unplugged(sources, folder), inside(sources, folder)),
  },
  next: {
    asks: [FILE],
    says: 'The file of the next month, quarter or year arrives beside a file whose name says one',
    async run(sources, [file = '']) {
      const name = basename(file, extname(file));
      const [next] = nextPeriods(name);
      if (!next) throw new Error(`“${name}” names no month, quarter or year.`);
      const to = join(dirname(file), `${next}${extname(file)}`);
      await cp(inside(sources, file), inside(sources, to), { errorOnExist: true, force: false });
    },
  },
};

/** Does one thing, and keeps how everything was before. Throws with a sentence when it cannot be done; then nothing changed. */
export async function act(office: Office, name: string, words: readonly string[]): Promise<string> {
  const wanted = ACTS[name];
  if (!wanted) throw new Error(`The office does not know “${name}”.`);
  const before = join(office.kept, String(await countKept(office)).padStart(4, '0'));
  await mkdir(office.kept, { recursive: true });
  await cp(office.sources, before, { recursive: true, preserveTimestamps: true });
  try {
    await wanted.run(office.sources, words);
  } catch (error) {
    await rm(before, { recursive: true, force: true });
    throw error;
  }
  return `${wanted.says}: ${words.join(' ')}`;
}

/** Has the sources as they were before the last thing that was done. False where nothing was. */
export async function undo(office: Office): Promise<boolean> {
  const count = await countKept(office);
  if (count === 0) return false;
  const before = join(office.kept, String(count - 1).padStart(4, '0'));
  await giveBack(before, office.sources);
  await rm(before, { recursive: true, force: true });
  return true;
}

/** How many things were done that can be undone. */
export async function countKept({ kept }: Office): Promise<number> {
  return (await readdir(kept).catch(() => [])).length;
}

/** Files and folders below the sources that the office can do something to, with `/` between. */
export async function listOffice({
  sources,
}: Office): Promise<{ files: string[]; folders: string[] }> {
  const entries = await readdir(sources, { recursive: true, withFileTypes: true });
  const paths = (isWanted: (entry: (typeof entries)[number]) => boolean) =>
    entries
      .filter((entry) => isWanted(entry) && !/^[.~]/.test(entry.name))
      .map((entry) => relative(sources, join(entry.parentPath, entry.name)).split(sep).join('/'))
      .filter((path) => !path.split('/').some((part) => part.startsWith('.')))
      .sort();
  return { files: paths((each) => each.isFile()), folders: paths((each) => each.isDirectory()) };
}

/** Makes a folder as another one is; files that are the same already are not touched. */
async function giveBack(from: string, to: string): Promise<void> {
  await mkdir(to, { recursive: true });
  const [wanted, there] = await Promise.all(
    [from, to].map((folder) => readdir(folder, { withFileTypes: true })),
  );
  const names = new Set(wanted!.map(({ name }) => name));
  for (const { name } of there!) {
    if (!names.has(name)) await rm(join(to, name), { recursive: true, force: true });
  }
  for (const entry of wanted!) {
    const [source, target] = [join(from, entry.name), join(to, entry.name)];
    if (entry.isDirectory()) await giveBack(source, target);
    else {
      const [a, b] = await Promise.all([readFile(source), readFile(target).catch(() => null)]);
      if (!b?.equals(a)) await cp(source, target, { preserveTimestamps: true });
    }
  }
}

/** A place as it is parsed: a sheet with a space in its name may be said without quotes. */
function quoted(place: string): string {
  const mark = place.indexOf('!');
  const sheet = place.slice(0, Math.max(0, mark));
  return /^[^'+-].*\s/.test(sheet) ? `'${sheet}'${place.slice(mark)}` : place;
}

/** A path below the sources; nothing else is touched. */
function inside(sources: string, path: string | undefined): string {
  const parts = (path ?? '').split(/[/\\]/).filter((part) => part !== '' && part !== '.');
  if (parts.length === 0 || parts.includes('..')) throw new Error('Say which file or folder.');
  return join(sources, ...parts);
}

const unplugged = (sources: string, folder: string | undefined) =>
  join(sources, `.unplugged-${basename(inside(sources, folder))}`);

function ownerFile(sources: string, file: string | undefined): string {
  const path = inside(sources, file);
  return join(dirname(path), `~$${basename(path)}`);
}

/** What office programs write into such a file: the length of a name, and the name (common practice). */
function ownerNote(who: string): Buffer {
  const note = Buffer.alloc(165, ' ');
  note[0] = who.length;
  note.write(who, 1, 'latin1');
  return note;
}

async function putIn(
  sources: string,
  axis: 'rows' | 'columns',
  [file, place = '', count = '1']: readonly string[],
): Promise<void> {
  const path = inside(sources, file);
  const mark = place.lastIndexOf('!');
  const sheet = place.slice(0, Math.max(0, mark)).replace(/^'|'$/g, '');
  const line = place.slice(mark + 1);
  const parsed = parseReference(axis === 'rows' ? `A${line}` : `${line}1`);
  if (mark < 0 || !parsed.ok) throw new Error(`“${place}” names no ${axis} of a sheet.`);
  const { top, left } = parsed.value.area;
  const at = axis === 'rows' ? top : left;
  const change = { sheet, axis, kind: 'put in' as const, at, count: Number(count) };
  const plan = await planLines(path, basename(path), change);
  if (!plan.ok) throw new Error(plan.fault.message);
  await writeFile(`${path}.saving`, plan.value.bytes);
  await rename(`${path}.saving`, path);
}

/** Values change places, formulas stay and are computed anew: so it is where rows hold formulas of their own row. */
async function sort(
  sources: string,
  [file, range = '', column = '']: readonly string[],
): Promise<void> {
  const path = inside(sources, file);
  const parsed = parseReference(quoted(range));
  const by = parseReference(`${column}1`);
  if (!parsed.ok || !by.ok) throw new Error('Say which range, and by which of its columns.');
  const source = await openSource(path, basename(path));
  if (!source.ok) throw new Error(source.fault.message);
  try {
    const { area, sheet: named } = parsed.value;
    const sheet = findSheet(source.value.sheets, named ?? source.value.sheets[0]!.name);
    if (!sheet) throw new Error(`There is no sheet “${named}”.`);
    const read = await source.value.readArea(sheet.name, area, { look: false });
    if (!read.ok) throw new Error(read.fault.message);
    const formulas = await source.value.readFormulas(sheet.name);
    if (!formulas.ok) throw new Error(formulas.fault.message);
    const held = new Map<string, Scalar | undefined>();
    const fixed = new Set<string>();
    for (const { row, column: at, value, formula } of formulas.value.cells) {
      held.set(`${row},${at}`, value);
      if (formula !== undefined) fixed.add(`${row},${at}`);
    }
    const key = by.value.area.left;
    const rows = Array.from({ length: area.bottom - area.top + 1 }, (_, at) => area.top + at);
    const sizeOf = (row: number) => Number(held.get(`${row},${key}`) ?? 0);
    const sorted = [...rows].sort((a, b) => sizeOf(b) - sizeOf(a) || a - b);
    const patches: SheetPatch[] = [];
    for (const [nth, from] of sorted.entries()) {
      for (let at = area.left; at <= area.right; at++) {
        const to = rows[nth]!;
        if (fixed.has(`${to},${at}`) || from === to) continue;
        const value = held.get(`${from},${at}`) ?? null;
        patches.push({ sheet: sheet.name, row: to, column: at, value, how: 'value' });
      }
    }
    const book = await loadBook(source.value);
    if (!book.ok) throw new Error(book.fault.message);
    const plan = planWrite(book.value, patches);
    const made = await writeSource(path, basename(path), plan.patches, {
      reading: source.value.delimited?.guessed,
      isRecalculated: plan.isRecalculated,
    });
    if (!made.ok) throw new Error(made.fault.message);
    const { before, bytes: after } = made.value;
    const done = await replaceFile(path, basename(path), { before, after, backup: null });
    if (!done.ok) throw new Error(done.fault.message);
  } finally {
    await source.value.close();
  }
}

/** The name in the list of sheets, and wherever formulas, names and charts say it. */
async function renameSheet(
  sources: string,
  [file, before = '', now = '']: readonly string[],
): Promise<void> {
  const path = inside(sources, file);
  const parts = unzipSync(new Uint8Array(await readFile(path)));
  const list = strFromU8(parts['xl/workbook.xml'] ?? new Uint8Array());
  if (!list.includes(`name="${before}"`)) throw new Error(`There is no sheet “${before}”.`);
  if (!/^[\p{L}\p{N} ]{1,31}$/u.test(now)) throw new Error('Give it a name of letters and digits.');
  const quoted = /^[\p{L}\p{N}]+$/u.test(now) ? now : `'${now}'`;
  const said = new RegExp(`(?<![\\p{L}\\p{N}])(?:'${before}'|${before})!`, 'gu');
  for (const [name, bytes] of Object.entries(parts)) {
    if (!name.endsWith('.xml')) continue;
    const text = strFromU8(bytes);
    const made = text.replace(said, () => `${quoted}!`);
    parts[name] = strToU8(
      name === 'xl/workbook.xml' ? made.replace(`name="${before}"`, () => `name="${now}"`) : made,
    );
  }
  await writeFile(`${path}.saving`, zipSync(parts));
  await rename(`${path}.saving`, path);
}

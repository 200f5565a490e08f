import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import {
  CalcBook,
  type Cell,
  type CellPlace,
  type ChangedCell,
  cellCount,
  FormulaError,
  fail,
  holds,
  isoToSerial,
  type LineChange,
  MAX_COLUMNS,
  MAX_ROWS,
  ok,
  parseReference,
  type Result,
  type Scalar,
  type SheetRules,
  SYSTEMS_APART,
  type Validation,
  whyNotTyped,
} from '@tether/core';
import {
  loadBook,
  type NameChange,
  type NotComputed,
  type OpenSource,
  openSource,
  planLines,
  planWrite,
  replaceFile,
  type SheetPatch,
  writeNames,
  writeSource,
} from '@tether/formats';
import { cellsAt, keyOf, readRows } from './cells-at.ts';
import type {
  CellLooked,
  CellsLooked,
  FileWritten,
  LinesWritten,
  PlainChange,
  PlainValue,
  WritingTask,
  WrittenCell,
} from './written.ts';

/** Plans what is written into a file, and writes it. Runs in a thread. Faults: those of `writeSource` and `replaceFile`. */
export default async function writeFile(task: WritingTask): Promise<Result<FileWritten>> {
  const { path, shownPath, write } = task;
  return opened(task, async (source) => {
    const before = await readFile(path);
    const hash = hashOf(before);
    if (write && write.hash !== hash) return fail('write-changed', { path: shownPath });
    // Everybody who looks at the same asks for the same.
    const state = JSON.stringify([path, hash, task.reading, task.cells, new Date().toDateString()]);
    const known = write ? undefined : plans.get(state);
    if (known) return ok(known);
    const apart = source.dateSystem === '1904' ? SYSTEMS_APART : 0;
    const patches: SheetPatch[] = [];
    const written: WrittenCell[] = [];
    const hasFormula = task.cells.some(({ formula }) => formula !== undefined);
    const held = await cellsAt(source, task.cells);
    if (!held.ok) return held;
    for (const each of task.cells) {
      const { sheet, row, column, value, isOverFormula, formula } = each;
      const { cell } = held.value.get(keyOf(each))!;
      const isDay = cell?.type === 'date' && typeof value === 'number';
      const raw = fromPlain(isDay ? value - apart : value);
      patches.push({
        sheet,
        row,
        column,
        value: raw,
        ...(formula === undefined
          ? { how: isOverFormula ? ('formula too' as const) : ('value' as const) }
          : { how: 'formula' as const, formula }),
      });
      written.push({
        sheet,
        row,
        column,
        before: toPlain(scalarIn(cell)),
        after: value,
        ...(cell?.formula === undefined ? {} : { formulaBefore: cell.formula }),
        ...(formula === undefined ? {} : { formulaAfter: formula }),
      });
    }
    const book = await bookOf(source, `${path} ${hash}`, hasFormula);
    if (!book.ok) return book;
    const plan = planWrite(book.value, patches);
    for (const [at, each] of written.entries()) {
      if (each.formulaAfter !== undefined) each.after = toPlain(plan.patches[at]!.value);
    }
    const { delimited } = source;
    const made = await writeSource(path, shownPath, plan.patches, {
      reading: delimited && { ...delimited.guessed, ...delimited.overruled },
      isRecalculated: plan.isRecalculated,
    });
    if (!made.ok) return made;
    const { bytes, losesSignature } = made.value;
    if (!made.value.before.equals(before)) return fail('write-changed', { path: shownPath });
    if (write) {
      const { backup } = write;
      const replaced = await replaceFile(path, shownPath, { before, after: bytes, backup });
      if (!replaced.ok) return replaced;
      handOn(
        book.value,
        `${path} ${hash}`,
        `${path} ${hashOf(bytes)}`,
        hasFormula ? null : patches,
      );
    }
    const { notFinal } = plan;
    const done = {
      hash,
      written,
      recalculated: plan.recalculated.map(plainChange),
      notFinal,
      losesSignature,
    };
    if (!write) plans.set(state, done);
    for (const oldest of plans.keys()) {
      if (plans.size <= MOST_PLANS) break;
      plans.delete(oldest);
    }
    return ok(done);
  });
}

/** What writing was found to do, of the last that was asked for. */
const plans = new Map<string, FileWritten>();
const MOST_PLANS = 8;

/** Workbooks made ready for computing, of the sources that were asked for last: loading a large one takes a second. */
const books = new Map<string, CalcBook | NotComputed>();
const MOST_BOOKS = 3;

async function bookOf(
  source: OpenSource,
  state: string,
  withoutFormulasToo: boolean,
): Promise<Result<CalcBook | NotComputed>> {
  const key = bookKey(state, withoutFormulasToo);
  const known = books.get(key);
  if (known) return ok(known);
  const loaded = await loadBook(source, { withoutFormulasToo });
  if (!loaded.ok) return loaded;
  books.set(key, loaded.value);
  for (const oldest of books.keys()) {
    if (books.size <= MOST_BOOKS) break;
    books.delete(oldest);
  }
  return loaded;
}

// Of the day too: a book knows the moment of its loading, and formulas may ask what day it is.
const bookKey = (state: string, withoutFormulasToo: boolean) =>
  `${state} ${new Date().toDateString()} ${withoutFormulasToo}`;

/**
 * What was written is in the book too, so that the file as it is now need not be loaded again; null for formulas, of which the
 * file says what they come to.
 */
function handOn(
  book: CalcBook | NotComputed,
  before: string,
  after: string,
  patches: readonly SheetPatch[] | null,
): void {
  books.delete(bookKey(before, false));
  if (!patches) return;
  if (book instanceof CalcBook) book.change(patches);
  books.set(bookKey(after, false), book);
}

/** Plans rows or columns that are put into a source or taken out of it, and does it. Runs in a thread. */
export async function writeLines(
  task: Omit<WritingTask, 'cells'> & { change: LineChange },
): Promise<Result<LinesWritten>> {
  const { path, shownPath, change, write } = task;
  const taken = await takenOut(task, change);
  if (!taken.ok) return taken;
  const plan = await planLines(path, shownPath, change, task.reading?.delimited);
  if (!plan.ok) return plan;
  const { before, bytes, parts: _parts, ...said } = plan.value;
  const hash = hashOf(before);
  if (write) {
    if (write.hash !== hash) return fail('write-changed', { path: shownPath });
    const { backup } = write;
    const replaced = await replaceFile(path, shownPath, { before, after: bytes, backup });
    if (!replaced.ok) return replaced;
  }
  return ok({ ...said, hash, after: hashOf(bytes), taken: taken.value });
}

/** How many filled cells go with the rows or columns that are taken out. */
async function takenOut(
  task: Pick<WritingTask, 'path' | 'shownPath' | 'reading'>,
  { sheet, axis, kind, at, count }: LineChange,
): Promise<Result<number>> {
  if (kind === 'put in') return ok(0);
  return opened(task, async (source) => {
    const last = at + count - 1;
    const area =
      axis === 'rows'
        ? { top: at, bottom: last, left: 1, right: MAX_COLUMNS }
        : { top: 1, bottom: MAX_ROWS, left: at, right: last };
    const read = await source.readArea(sheet, area, { look: false });
    return read.ok ? ok(read.value.cells.filter(({ type }) => type !== 'blank').length) : read;
  });
}

/** Puts hidden names into a workbook or takes them out. Runs in a thread. */
export async function writeHiddenNames(
  task: Pick<WritingTask, 'path' | 'shownPath'> & {
    change: NameChange;
    write: { hash: string; backup: string };
  },
): Promise<Result<null>> {
  const { path, shownPath, change, write } = task;
  const made = await writeNames(path, shownPath, change);
  if (!made.ok) return made;
  const { before, bytes } = made.value;
  if (hashOf(before) !== write.hash) return fail('write-changed', { path: shownPath });
  if (bytes.equals(before)) return ok(null);
  const { backup } = write;
  const replaced = await replaceFile(path, shownPath, { before, after: bytes, backup });
  return replaced.ok ? ok(null) : replaced;
}

/** Puts a file back that was kept, in place of one with this hash. Runs in a thread. */
export async function putBack({
  path,
  shownPath,
  kept,
  write,
}: Pick<WritingTask, 'path' | 'shownPath'> & {
  kept: string;
  write: { hash: string; backup: string };
}): Promise<Result<{ hash: string; after: string }>> {
  const why = 'the file as it was is not kept any more';
  const after = await readFile(kept).catch(() => null);
  if (!after) return fail('not-taken-back', { why });
  const before = await readFile(path).catch(() => null);
  if (!before) return fail('source-missing', { path: shownPath });
  if (hashOf(before) !== write.hash) {
    return fail('not-taken-back', { why: 'the file was changed since' });
  }
  const { backup } = write;
  const replaced = await replaceFile(path, shownPath, { before, after, backup });
  return replaced.ok ? ok({ hash: write.hash, after: hashOf(after) }) : replaced;
}

const hashOf = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex');

/** Some cells of a source as they are now. Runs in a thread. */
export async function lookAtCells(
  task: Pick<WritingTask, 'path' | 'shownPath' | 'reading'> & {
    places: readonly CellPlace[];
    typed: readonly string[];
  },
): Promise<Result<CellsLooked>> {
  return opened(task, async (source) => {
    const hash = hashOf(await readFile(task.path));
    const heads = new Map<string, HeadRows>();
    for (const sheet of new Set(task.places.map((each) => each.sheet))) {
      // With its look, since merged cells are said behind all others; then they are known.
      const head = await readRows(source, sheet, { top: 1, bottom: HEAD_ROWS, look: true });
      if (!head.ok) return head;
      heads.set(sheet, head.value.byRow);
    }
    const held = await cellsAt(source, task.places);
    if (!held.ok) return held;
    const cells = task.places.map((place): CellLooked => {
      const { cell, beside, merges } = held.value.get(keyOf(place))!;
      const { sheet, row, column } = place;
      return {
        ...{ sheet, row, column },
        value: toPlain(scalarIn(cell)),
        formula: cell?.formula ?? null,
        text: cell?.text ?? '',
        type: cell?.type ?? 'blank',
        format: cell?.format,
        landmark: landmarkOf(beside, heads.get(sheet)!, place),
        merge: merges.find((each) => holds(each, place)) ?? null,
      };
    });
    if (task.typed.length === 0) return ok({ hash, cells, formulas: [] });
    const tables = await source.readTables();
    if (!tables.ok) return tables;
    const known = { sheets: source.sheets.map(({ name }) => name), tables: tables.value };
    const why = source.delimited ? 'a text file holds figures, and no formulas' : null;
    const formulas = task.typed.map((text) => why ?? whyNotTyped(text, known));
    return ok({ hash, cells, formulas });
  });
}

/** The first rows of a sheet, by their numbers. */
type HeadRows = ReadonlyMap<number, readonly Cell[]>;

/** So many rows of a column say which one it is. */
const HEAD_ROWS = 30;

/** Texts and days beside and above a cell; where a row has none, its figures. */
function landmarkOf(row: readonly Cell[], head: HeadRows, place: CellPlace): string {
  const isWord = ({ type, formula }: Cell) =>
    formula === undefined && (type === 'text' || type === 'date');
  const others = row.filter(({ column, type }) => column !== place.column && type !== 'blank');
  const words = others.filter(isWord);
  const beside = words.length > 0 ? words : others.filter(({ formula }) => formula === undefined);
  const above = [...head.values()].flatMap((cells) =>
    cells.filter((each) => {
      return each.column === place.column && each.row < place.row && isWord(each);
    }),
  );
  const said = (cells: readonly Cell[]) => cells.map(({ value }) => value);
  return createHash('sha256')
    .update(JSON.stringify([said(beside), said(above)]))
    .digest('base64url')
    .slice(0, 22);
}

/** What a sheet says of entries. Runs in a thread. */
export async function rulesOf(
  task: Pick<WritingTask, 'path' | 'shownPath' | 'reading'> & { sheet: string },
): Promise<Result<SheetRules>> {
  return opened(task, async (source) => {
    const rules = await source.readRules(task.sheet);
    if (!rules.ok) return rules;
    const validations: Validation[] = [];
    for (const each of rules.value.validations) {
      const operands =
        each.kind === 'list'
          ? await listOf(source, task.sheet, each)
          : await boundsOf(source, task.sheet, each);
      validations.push({ ...each, operands });
    }
    return ok({ ...rules.value, validations });
  });
}

/** What a check allows: the entries of a list that stands in cells are read there. */
async function listOf(
  source: OpenSource,
  sheet: string,
  { operands }: Validation,
): Promise<string[]> {
  const [only] = operands;
  if (operands.length !== 1 || only === undefined) return operands;
  const named = source.names.find(({ name }) => name.toLowerCase() === only.toLowerCase());
  const reference = parseReference((named?.refersTo ?? only).replace(/^=/, ''));
  if (!reference.ok || cellCount(reference.value.area) > MOST_ENTRIES) return operands;
  const from = reference.value.sheet ?? sheet;
  const read = await source.readArea(from, reference.value.area, { look: false });
  const entries = read.ok ? read.value.cells.map(({ value }) => String(value)) : [];
  return entries.length > 0 ? entries : operands;
}

/** The bounds of a check: those that stand in a cell, whichever cell is checked, are read there. */
async function boundsOf(
  source: OpenSource,
  sheet: string,
  { operands }: Validation,
): Promise<string[]> {
  const bounds: string[] = [];
  for (const each of operands) {
    const named = source.names.find(({ name }) => name.toLowerCase() === each.toLowerCase());
    const said = (named?.refersTo ?? each).replace(/^=/, '');
    const reference = /\$[A-Za-z]{1,3}\$\d+$/.test(said) ? parseReference(said) : null;
    if (!reference?.ok || cellCount(reference.value.area) !== 1) {
      bounds.push(each);
      continue;
    }
    const from = reference.value.sheet ?? sheet;
    const read = await source.readArea(from, reference.value.area, { look: false });
    const value = read.ok ? scalarIn(read.value.cells[0]) : null;
    bounds.push(typeof value === 'number' ? String(value) : each);
  }
  return bounds;
}

/** Lists of more entries are not looked through. */
const MOST_ENTRIES = 10_000;

async function opened<T>(
  { path, shownPath, reading }: Pick<WritingTask, 'path' | 'shownPath' | 'reading'>,
  work: (source: OpenSource) => Promise<Result<T>>,
): Promise<Result<T>> {
  const source = await openSource(path, shownPath, { delimited: reading?.delimited });
  if (!source.ok) return source;
  try {
    return await work(source.value);
  } finally {
    await source.value.close();
  }
}

/** What a cell holds, a day as its serial number. */
function scalarIn(cell: Cell | undefined): Scalar {
  if (!cell || cell.type === 'uncomputed' || cell.type === 'blank') return null;
  if (cell.type === 'date') return isoToSerial(String(cell.value), '1900');
  return cell.type === 'error' ? new FormulaError(String(cell.value)) : cell.value;
}

const toPlain = (value: Scalar): PlainValue =>
  value instanceof FormulaError ? { error: value.code } : value;

const fromPlain = (value: PlainValue): Scalar =>
  typeof value === 'object' && value !== null ? new FormulaError(value.error) : value;

const plainChange = ({ before, after, ...place }: ChangedCell): PlainChange => ({
  ...place,
  before: toPlain(before),
  after: toPlain(after),
});

import { copyFile } from 'node:fs/promises';
import { basename } from 'node:path';
import {
  type Cell,
  FormulaError,
  fail,
  findSheet,
  formatCell,
  ok,
  parseReference,
  type Result,
  type Scalar,
  whyNotTyped,
} from '@tether/core';
import {
  loadBook,
  type OpenSource,
  planWrite,
  replaceFile,
  type SheetPatch,
  writeSource,
} from '@tether/formats';

/** What a cell holds, as it is printed. */
type Said = Cell['value'] | null;

interface Wish {
  /** Another file that is written instead. */
  out: string | undefined;
  isDry: boolean;
  isOverFormulas: boolean;
}

/** What was written, as it is printed. */
interface Done {
  written: {
    sheet: string;
    ref: string;
    before: Said;
    after: Said;
  }[];
  /** Cells whose formulas come to something else by that. */
  recalculated: { sheet: string; ref: string; before: Said; after: Said }[];
  /** Formulas that are not computed here, and why; the program that opens the file next computes them. */
  notComputed: { sheet: string; ref: string; why: string }[];
  parts: { changed: string[]; same: number };
}

/** Writes cells of a file, each said as `Counts!D7=41`. Faults: `command-malformed` and those of `writeSource` and `replaceFile`. */
export async function setCells(
  source: OpenSource,
  file: string,
  words: readonly string[],
  { out, isDry, isOverFormulas }: Wish,
): Promise<Result<Done>> {
  if (words.length === 0) {
    return fail('command-malformed', { detail: "say what to write, as in 'Counts!D7=41'" });
  }
  const tables = await source.readTables();
  if (!tables.ok) return tables;
  const known = { sheets: source.sheets.map(({ name }) => name), tables: tables.value };
  const patches: SheetPatch[] = [];
  const written: Done['written'] = [];
  for (const word of words) {
    const patch = patchIn(word, source, known, isOverFormulas);
    if (!patch.ok) return patch;
    const { sheet, row, column, value } = patch.value;
    const area = { top: row, left: column, bottom: row, right: column };
    const read = await source.readArea(sheet, area, { look: false });
    if (!read.ok) return read;
    const [cell] = read.value.cells.filter(({ type }) => type !== 'blank');
    patches.push(patch.value);
    written.push({
      sheet,
      ref: formatCell({ row, column }),
      before: cell?.value ?? null,
      after: said(value),
    });
  }
  const { delimited } = source;
  const reading = delimited && { ...delimited.guessed, ...delimited.overruled };
  const hasFormula = patches.some(({ how }) => how === 'formula');
  const book = await loadBook(source, { withoutFormulasToo: hasFormula });
  if (!book.ok) return book;
  const plan = planWrite(book.value, patches);
  for (const [at, each] of written.entries()) each.after = said(plan.patches[at]!.value);
  const made = await writeSource(file, basename(file), plan.patches, {
    reading,
    isRecalculated: plan.isRecalculated,
  });
  if (!made.ok) return made;
  if (!isDry) {
    const to = out ?? file;
    if (out !== undefined) await copyFile(file, out);
    const { before, bytes: after } = made.value;
    const replaced = await replaceFile(to, basename(to), { before, after, backup: null });
    if (!replaced.ok) return replaced;
  }
  return ok({
    written,
    recalculated: plan.recalculated.map(({ sheet, row, column, before, after }) => ({
      sheet,
      ref: formatCell({ row, column }),
      before: said(before),
      after: said(after),
    })),
    notComputed: plan.notFinal.map(({ sheet, row, column, why }) => ({
      sheet,
      ref: formatCell({ row, column }),
      why,
    })),
    parts: made.value.parts,
  });
}

const said = (value: Scalar): Said => (value instanceof FormulaError ? value.code : value);

/** `Counts!D7=41`: where, and what; `Counts!D7==SUM(D2:D6)` is a formula. */
function patchIn(
  word: string,
  source: OpenSource,
  known: Parameters<typeof whyNotTyped>[1],
  isOver: boolean,
): Result<SheetPatch> {
  // The sign may stand in a sheet's name, in quotes: the one behind the cell counts.
  const match =
    /^(?<where>(?:'(?:[^']|'')*'|[^'=!]*)?!?\$?[A-Za-z]{1,3}\$?\d+)=(?<what>[\s\S]*)$/.exec(word);
  const where = match?.groups?.where;
  if (where === undefined) {
    return fail('command-malformed', { detail: `“${word}” is not of the kind 'Counts!D7=41'` });
  }
  const reference = parseReference(where);
  if (!reference.ok) return reference;
  const { sheet: named, area } = reference.value;
  const sheet = findSheet(source.sheets, named ?? source.sheets[0]?.name ?? '');
  if (!sheet) {
    const sheets = source.sheets.map(({ name }) => name).join(', ');
    return fail('sheet-missing', { sheet: named ?? '', sheets });
  }
  const place = { sheet: sheet.name, row: area.top, column: area.left };
  const what = match!.groups!.what!;
  if (/^=./.test(what)) {
    const formula = what.slice(1);
    const why = whyNotTyped(formula, known);
    if (why) return fail('entry-formula', { why });
    return ok({ ...place, value: null, how: 'formula', formula });
  }
  return ok({ ...place, value: valueSaid(what), how: isOver ? 'formula too' : 'value' });
}

function valueSaid(said: string): SheetPatch['value'] {
  if (said === '') return null;
  if (said.startsWith("'")) return said.slice(1);
  if (/^(true|false)$/i.test(said)) return said.toLowerCase() === 'true';
  return /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(said) ? Number(said) : said;
}

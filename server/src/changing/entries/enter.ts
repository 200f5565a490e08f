import type { EnterCells } from '@tether/contract';
import {
  type CellPlace,
  type Fault,
  fail,
  fault,
  formatCell,
  ok,
  parseEntry,
  type Result,
  ROUND,
  refusedBy,
} from '@tether/core';
import type { Database } from '../../db/database.ts';
import { deleteEntries, findEntries, putEntries } from '../../db/entries.ts';
import type { CellHeld } from '../../db/schema.ts';
import { announce } from '../../events/announce.ts';
import type { Means } from '../../sources/means.ts';
import { type WriteWhere, whereOf } from '../../sources/reshow.ts';
import type { CellLooked, WishedCell } from '../../sources/writing/written.ts';
import { isSame, keyOf, shownAs } from './held.ts';

/** A cell as it is in its file, with what was typed into it; `entered` is null where an entry is let go. */
interface Taken {
  cell: CellLooked;
  typed: string;
  entered: CellHeld | null;
}
type Typed = EnterCells['cells'][number];
type Rules = Awaited<ReturnType<Means['writer']['rules']>>;

/**
 * Takes down what somebody typed into cells of a source; its file stays as it is until it is saved. All of it or nothing.
 * Faults: `source-saved-meanwhile`, `entry-taken` where a colleague typed there meanwhile, `write-formula`, `entry-formula`,
 * those of entries, and those of finding and reading the source.
 */
export async function enterCells(
  { db, writer }: Pick<Means, 'db' | 'writer'>,
  personId: string,
  sourceId: string,
  { hash, sheet, cells, writing }: EnterCells,
): Promise<Result<null>> {
  const where = await whereOf(db, sourceId);
  if (!where.ok) return where;
  const looked = await writer.look(
    where.value,
    cells.map(({ row, column }) => ({ sheet, row, column })),
    cells.flatMap(({ typed }) => (isFormula(typed) ? [typed.slice(1)] : [])),
  );
  if (!looked.ok) return looked;
  // Behind the hash may stand how a text is read.
  if (hash.split(' ')[0] !== looked.value.hash) return fail('source-saved-meanwhile');
  const now = new Map(looked.value.cells.map((each) => [keyOf(each), each]));
  const rules = await writer.rules(where.value, sheet);
  // Why each formula among what was typed cannot be one, in their order.
  const formulas = [...looked.value.formulas];
  const taken: Taken[] = [];
  for (const each of cells) {
    const cell = now.get(keyOf({ sheet, ...each }))!;
    const whyNoFormula = isFormula(each.typed) ? (formulas.shift() ?? null) : null;
    const entered = enteredIn(cell, each, { rules, writing, whyNoFormula });
    if (!entered.ok) return entered;
    taken.push({ cell, typed: each.typed ?? '', entered: entered.value });
  }
  const round = await goesRound({ db, writer }, sourceId, where.value, taken);
  if (round) return { ok: false, fault: round };
  return db.transaction((tx) => takeDown(tx, personId, sourceId, taken, cells));
}

/** What is entered into a cell by what was typed; null where an entry is let go. Faults: those of `enterCells`. */
function enteredIn(
  cell: CellLooked,
  { row, column, typed, isOverFormula }: Typed,
  by: { rules: Rules; writing: EnterCells['writing']; whyNoFormula: string | null },
): Result<CellHeld | null> {
  if (typed === null) return ok(null);
  const { rules, writing, whyNoFormula } = by;
  const { merge, sheet } = cell;
  if (merge && (merge.top !== row || merge.left !== column)) {
    const why = `${formatCell(cell)} is part of a merged cell, of which the first one shows`;
    return fail('not-writable', { why });
  }
  const formula = isFormula(typed) ? typed.slice(1) : null;
  if (cell.formula !== null && formula === null && !isOverFormula) {
    return fail('write-formula', { cell: formatCell(cell) });
  }
  if (rules.ok && rules.value.protection.isProtected) return fail('entry-protected', { sheet });
  if (formula !== null) {
    if (whyNoFormula) return fail('entry-formula', { why: whyNoFormula });
    return ok({ value: null, formula, text: `=${formula}` });
  }
  const read = readValue(typed, cell, writing);
  if (!read.ok) return read;
  const { value } = read.value;
  // A cell can always be emptied: checks are for what is typed (common practice).
  const isChecked = rules.ok && value !== null && typeof value !== 'object';
  const refused = isChecked ? refusedBy(rules.value.validations, cell, value) : null;
  return refused ? { ok: false, fault: refused } : read;
}

/** Writes entries down, and takes those away that say what the cell holds anyway. Fault: `entry-taken`; then nothing is. */
async function takeDown(
  tx: Database,
  personId: string,
  sourceId: string,
  taken: readonly Taken[],
  cells: readonly Typed[],
): Promise<Result<null>> {
  const before = new Map((await findEntries(tx, sourceId)).map((each) => [keyOf(each), each]));
  const gone: string[] = [];
  const put: Parameters<typeof putEntries>[3][number][] = [];
  for (const [at, { cell, typed, entered }] of taken.entries()) {
    const own = before.get(keyOf(cell));
    if (own && own.personId !== personId && own.at !== cells[at]!.seen) {
      const by = own.by ?? 'Somebody';
      return fail('entry-taken', { cell: formatCell(cell), by, typed: own.typed });
    }
    const { sheet, row, column, value, formula, text, landmark } = cell;
    if (entered === null || isSame(entered, cell)) {
      if (own) gone.push(own.id);
      continue;
    }
    const agreed = { value, formula, text };
    put.push({ ...{ sheet, row, column }, typed, entered, agreed, landmark });
  }
  await deleteEntries(tx, gone);
  await putEntries(tx, sourceId, personId, put);
  await announce(tx, { kind: 'entries', sourceId });
  return ok(null);
}

/** Why formulas that were typed cannot be taken with all that waits already: they rest on themselves. */
async function goesRound(
  { db, writer }: Pick<Means, 'db' | 'writer'>,
  sourceId: string,
  where: WriteWhere,
  taken: readonly { cell: CellLooked; entered: CellHeld | null }[],
): Promise<Fault | null> {
  if (taken.every(({ entered }) => !entered || entered.formula === null)) return null;
  const wished = new Map<string, WishedCell>();
  const add = ({ sheet, row, column }: CellPlace, { value, formula }: CellHeld) => {
    const cell = { sheet, row, column, value, isOverFormula: true };
    wished.set(keyOf(cell), formula === null ? cell : { ...cell, formula });
  };
  for (const entry of await findEntries(db, sourceId)) add(entry, entry.entered);
  for (const { cell, entered } of taken) if (entered) add(cell, entered);
  const planned = await writer.plan(where, [...wished.values()]);
  // What else stands in the way is said when it is saved.
  if (!planned.ok) return null;
  const typed = new Set(taken.map(({ cell }) => keyOf(cell)));
  const found = planned.value.notFinal.find(
    (each) => typed.has(keyOf(each)) && each.why.startsWith(ROUND),
  );
  return found ? fault('entry-formula', { why: found.why }) : null;
}

function readValue(
  typed: string,
  cell: CellLooked,
  writing: EnterCells['writing'],
): Result<CellHeld> {
  const read = parseEntry(
    typed,
    { type: cell.type, ...(cell.format ? { format: cell.format } : {}) },
    writing,
  );
  if (!read.ok) return read;
  return ok({ value: read.value, formula: null, text: shownAs(read.value, cell.format) });
}

const isFormula = (typed: string | null): typed is string =>
  typed?.startsWith('=') === true && typed.length > 1;

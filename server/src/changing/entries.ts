import type { EnterCells, EntriesSeen, EntryFace, EntrySeen } from '@tether/contract';
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
  showNumber,
} from '@tether/core';
import {
  deleteEntries,
  deleteSaved,
  type EntryRow,
  findEntries,
  putEntries,
  setAgreedEntry,
} from '../db/entries.ts';
import { findEntry } from '../db/log.ts';
import type { CellHeld } from '../db/schema.ts';
import { announce } from '../events/announce.ts';
import { lookNow } from '../sources/look.ts';
import type { Means } from '../sources/means.ts';
import { planCells, type WriteWhere, whereOf } from '../sources/reshow.ts';
import {
  type CellLooked,
  type FileWritten,
  type Passed,
  said,
  type WishedCell,
} from '../sources/writing/written.ts';
import { doStep } from './step.ts';
import { STEPS } from './steps/registry.ts';

const keyOf = ({ sheet, row, column }: CellPlace) => `${sheet.toLowerCase()} ${row} ${column}`;

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
  let nth = 0;
  const taken: { cell: CellLooked; typed: string; entered: CellHeld | null }[] = [];
  for (const { row, column, typed, isOverFormula } of cells) {
    const cell = now.get(keyOf({ sheet, row, column }))!;
    if (typed === null) {
      taken.push({ cell, typed: '', entered: null });
      continue;
    }
    const { merge } = cell;
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
      const why = looked.value.formulas[nth++];
      if (why) return fail('entry-formula', { why });
      taken.push({ cell, typed, entered: { value: null, formula, text: `=${formula}` } });
      continue;
    }
    const read = readValue(typed, cell, writing);
    if (!read.ok) return read;
    const { value } = read.value;
    // A cell can always be emptied: checks are for what is typed (common practice).
    const isChecked = rules.ok && value !== null && typeof value !== 'object';
    const refused = isChecked ? refusedBy(rules.value.validations, cell, value) : null;
    if (refused) return { ok: false, fault: refused };
    taken.push({ cell, typed, entered: read.value });
  }
  const round = await goesRound({ db, writer }, sourceId, where.value, taken);
  if (round) return { ok: false, fault: round };
  const done = await db.transaction(async (tx): Promise<Result<null>> => {
    const before = new Map((await findEntries(tx, sourceId)).map((each) => [keyOf(each), each]));
    const gone: string[] = [];
    const put: Parameters<typeof putEntries>[3][number][] = [];
    for (const [at, { cell, typed, entered }] of taken.entries()) {
      const own = before.get(keyOf(cell));
      if (own && own.personId !== personId && own.at !== cells[at]!.seen) {
        const by = own.by ?? 'Somebody';
        return fail('entry-taken', { cell: formatCell(cell), by, typed: own.typed });
      }
      const { value, formula, text, landmark } = cell;
      if (entered === null || isSame(entered, cell)) {
        if (own) gone.push(own.id);
        continue;
      }
      const agreed = { value, formula, text };
      const { row, column } = cell;
      put.push({ ...{ sheet, row, column }, typed, entered, agreed, landmark });
    }
    await deleteEntries(tx, gone);
    await putEntries(tx, sourceId, personId, put);
    await announce(tx, { kind: 'entries', sourceId });
    return ok(null);
  });
  return done;
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

/** A value as a cell with this number format shows it. */
function shownAs(value: Passed, format: string | undefined): string {
  return typeof value === 'number' ? showNumber(value, format ?? 'General') : said(value);
}

/** Whether a cell holds just that already. */
const isSame = (one: Omit<CellHeld, 'text'>, other: Omit<CellHeld, 'text'>) =>
  one.formula === null && other.formula === null
    ? JSON.stringify(one.value) === JSON.stringify(other.value)
    : one.formula === other.formula;

/** The entries of a source against what its file holds now, and what saving them would do. */
interface Planned {
  seen: { entry: EntryRow; now: CellLooked; kind: EntrySeen['kind'] }[];
  where: WriteWhere;
  cells: WishedCell[];
  plan: Result<FileWritten>;
  token: string | null;
}

async function planEntries(
  means: Pick<Means, 'db' | 'writer'>,
  sourceId: string,
): Promise<Result<Planned>> {
  const { db, writer } = means;
  const entries = await findEntries(db, sourceId);
  const where = await whereOf(db, sourceId);
  if (!where.ok) return where;
  const looked = await writer.look(where.value, entries);
  if (!looked.ok) return looked;
  const now = new Map(looked.value.cells.map((each) => [keyOf(each), each]));
  const seen = entries.map((entry) => {
    const cell = now.get(keyOf(entry))!;
    const isKnown = cell.landmark === entry.landmark;
    const kind: EntrySeen['kind'] =
      isKnown && isSame(entry.entered, cell)
        ? 'same'
        : isKnown && isSame(entry.agreed, cell)
          ? 'kept'
          : 'contested';
    return { entry, now: cell, kind };
  });
  const cells = seen
    .filter(({ kind }) => kind === 'kept')
    .map(({ entry, now: cell }): WishedCell => {
      const { sheet, row, column, entered } = entry;
      const { value, formula } = entered;
      const isOverFormula = cell.formula !== null;
      return { sheet, row, column, value, isOverFormula, ...(formula === null ? {} : { formula }) };
    });
  const { plan, token } = await planCells({ db, writer }, sourceId, cells);
  return ok({ seen, where: where.value, cells, plan, token });
}

/** Results of more cells are not looked at one by one; they show what the file says until it is saved, and are counted. */
const MOST_FACES = 5_000;

/** What waits to be saved in a source, and what saving it would do. Faults: those of finding and reading it. */
export async function seeEntries(
  means: Pick<Means, 'db' | 'writer'>,
  personId: string,
  sourceId: string,
): Promise<Result<EntriesSeen>> {
  // A source that nobody types in is not read for that.
  if ((await findEntries(means.db, sourceId)).length === 0) {
    return ok({ entries: [], faces: [], plan: null, fault: null });
  }
  const planned = await planEntries(means, sourceId);
  if (!planned.ok) return planned;
  const { seen, where, cells, plan, token } = planned.value;
  const entries = seen.map(({ entry, now, kind }): EntrySeen => {
    const { id, sheet, row, column, typed, by, at } = entry;
    const isMine = entry.personId === personId;
    return {
      ...{ id, sheet, row, column, typed, kind, by, isMine, at },
      agreed: inWords(entry.agreed),
      theirs: inWords(now),
      yours: inWords(entry.entered),
    };
  });
  const come = new Map(
    (plan.ok ? plan.value.written : []).map((each) => [keyOf(each), each.after] as const),
  );
  const left = new Set((plan.ok ? plan.value.notFinal : []).map(keyOf));
  const own = seen
    .filter(({ kind }) => kind !== 'same')
    .map(({ entry, now, kind }): EntryFace => {
      const { sheet, row, column, entered } = entry;
      const value = entered.formula === null ? entered.value : (come.get(keyOf(entry)) ?? null);
      const isUnknown = entered.formula !== null && (left.has(keyOf(entry)) || !plan.ok);
      return {
        ...{ sheet, row, column },
        text: isUnknown ? entered.text : shownAs(value, now.format),
        isNumber: !isUnknown && typeof value === 'number',
        mark: kind === 'contested' ? 'contested' : isUnknown ? 'not final' : 'entered',
      };
    });
  const follows = plan.ok ? plan.value.recalculated.slice(0, MOST_FACES) : [];
  const typed = new Set(entries.map(keyOf));
  const open = (plan.ok ? plan.value.notFinal : []).filter((each) => !typed.has(keyOf(each)));
  const others = await lookedAt(means, where, [...follows, ...open.slice(0, MOST_FACES)]);
  const following = follows.map(({ sheet, row, column, after }): EntryFace => {
    const text = shownAs(after, others.get(keyOf({ sheet, row, column }))?.format);
    return { sheet, row, column, text, isNumber: typeof after === 'number', mark: 'follows' };
  });
  const unsure = open.flatMap(({ sheet, row, column }): EntryFace[] => {
    const cell = others.get(keyOf({ sheet, row, column }));
    if (!cell) return [];
    const isNumber = typeof cell.value === 'number';
    return [{ sheet, row, column, text: cell.text, isNumber, mark: 'not final' }];
  });
  return ok({
    entries,
    faces: [...own, ...following, ...unsure],
    plan:
      plan.ok && token !== null
        ? {
            token,
            cells: cells.length,
            follows: plan.value.recalculated.length,
            notFinal: plan.value.notFinal.map(({ sheet, row, column, why }) => ({
              ...{ sheet, why },
              ref: formatCell({ row, column }),
            })),
            losesSignature: plan.value.losesSignature,
          }
        : null,
    fault: plan.ok || plan.fault.code === 'nothing-to-write' ? null : plan.fault,
  });
}

async function lookedAt(
  { writer }: Pick<Means, 'writer'>,
  where: WriteWhere,
  places: readonly CellPlace[],
): Promise<Map<string, CellLooked>> {
  const looked = await writer.look(where, places);
  return new Map((looked.ok ? looked.value.cells : []).map((each) => [keyOf(each), each]));
}

const inWords = ({ formula, text, value }: CellHeld) =>
  formula === null ? text || said(value) : `=${formula}`;

/** Decides on an entry whose cell the file changed too. Faults: `not-found`, and those of reading the source. */
export async function decideEntry(
  means: Pick<Means, 'db' | 'writer'>,
  sourceId: string,
  entryId: string,
  decision: 'theirs' | 'yours',
): Promise<Result<null>> {
  const planned = await planEntries(means, sourceId);
  if (!planned.ok) return planned;
  const found = planned.value.seen.find(({ entry }) => entry.id === entryId);
  if (!found) return fail('not-found', { what: 'entry' });
  const { value, formula, text, landmark } = found.now;
  await means.db.transaction(async (tx) => {
    if (decision === 'theirs') await deleteEntries(tx, [entryId]);
    else await setAgreedEntry(tx, entryId, { agreed: { value, formula, text }, landmark });
    await announce(tx, { kind: 'entries', sourceId });
  });
  return ok(null);
}

/**
 * Lays what a write took away out as entries in its source, where it cannot be taken back as a whole: cells that somebody changed
 * since are contested there, and each is decided by itself. Gives the source. Faults: `not-found`, `not-taken-back`, `entry-taken`.
 */
export async function layOut(
  { db, writer }: Pick<Means, 'db' | 'writer'>,
  personId: string,
  entryId: number,
): Promise<Result<{ sourceId: string }>> {
  const logged = await findEntry(db, entryId);
  if (!logged) return fail('not-found', { what: 'log entry' });
  const data = STEPS.writeBack.data.safeParse(logged.undo);
  if (!data.success) return fail('not-taken-back', { why: 'it wrote no cells' });
  const { sourceId, cells } = data.data;
  const where = await whereOf(db, sourceId);
  if (!where.ok) return where;
  const looked = await writer.look(where.value, cells);
  if (!looked.ok) return looked;
  const now = new Map(looked.value.cells.map((each) => [keyOf(each), each]));
  return db.transaction(async (tx): Promise<Result<{ sourceId: string }>> => {
    const before = new Map((await findEntries(tx, sourceId)).map((each) => [keyOf(each), each]));
    for (const cell of cells) {
      const own = before.get(keyOf(cell));
      if (own && own.personId !== personId) {
        const by = own.by ?? 'Somebody';
        return fail('entry-taken', { cell: formatCell(cell), by, typed: own.typed });
      }
      const { landmark, format, ...held } = now.get(keyOf(cell))!;
      const { sheet, row, column, formulaBefore = null, formulaAfter = null } = cell;
      const as = (value: Passed, formula: string | null): CellHeld => ({
        ...{ value, formula },
        text: formula === null ? shownAs(value, format) : `=${formula}`,
      });
      const entered = as(cell.before, formulaBefore);
      if (isSame(entered, held)) continue;
      await deleteEntries(tx, own ? [own.id] : []);
      const typed = formulaBefore === null ? said(cell.before) : `=${formulaBefore}`;
      const agreed = as(cell.after, formulaAfter);
      await putEntries(tx, sourceId, personId, [
        { ...{ sheet, row, column }, typed, entered, agreed, landmark },
      ]);
    }
    await announce(tx, { kind: 'entries', sourceId });
    return ok({ sourceId });
  });
}

/** Lets all go that one person typed into a source. */
export async function dropEntries(
  { db }: Pick<Means, 'db'>,
  personId: string,
  sourceId: string,
): Promise<void> {
  await db.transaction(async (tx) => {
    const own = (await findEntries(tx, sourceId)).filter((each) => each.personId === personId);
    await deleteEntries(
      tx,
      own.map(({ id }) => id),
    );
    await announce(tx, { kind: 'entries', sourceId });
  });
}

/**
 * Saves what was typed into a source in its file, as somebody agreed to by `token`. Faults: `nothing-to-write`,
 * `edits-undecided`, `slip-out-of-date` and those of writing; then nothing is written, and the entries stay.
 */
export async function saveEntries(
  means: Means,
  personId: string,
  sourceId: string,
  token: string,
): Promise<Result<null>> {
  await lookNow(means, sourceId, { isForced: true });
  const planned = await planEntries(means, sourceId);
  if (!planned.ok) return planned;
  const { seen, cells, plan, token: now } = planned.value;
  const undecided = seen.filter(({ kind }) => kind === 'contested').length;
  const refused = whyNotSaved(undecided, plan, now === token);
  if (refused) return { ok: false, fault: refused };
  const { hash } = (plan as Extract<typeof plan, { ok: true }>).value;
  const wish = { sourceId, tetherId: null, cells, hash };
  const done = await doStep(means, STEPS.writeBack, wish, { personId });
  if (!done.ok) return done;
  await means.db.transaction(async (tx) => {
    await deleteSaved(
      tx,
      seen.map(({ entry }) => entry),
    );
    await announce(tx, { kind: 'entries', sourceId });
  });
  await lookNow(means, sourceId, { isForced: true });
  return ok(null);
}

function whyNotSaved(
  undecided: number,
  plan: Result<FileWritten>,
  isAgreed: boolean,
): Fault | null {
  if (undecided > 0) return fault('edits-undecided', { count: undecided });
  if (!plan.ok) return plan.fault;
  return isAgreed ? null : fault('slip-out-of-date');
}

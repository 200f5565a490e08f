import { type Fault, fail, fault, formatCell, ok, type Result } from '@tether/core';
import {
  deleteEntries,
  deleteSaved,
  findEntries,
  putEntries,
  setAgreedEntry,
} from '../../db/entries.ts';
import { findEntry } from '../../db/log.ts';
import type { CellHeld } from '../../db/schema.ts';
import { announce } from '../../events/announce.ts';
import { lookNow } from '../../sources/look.ts';
import type { Means } from '../../sources/means.ts';
import { whereOf } from '../../sources/reshow.ts';
import { type FileWritten, type PlainValue, valueWords } from '../../sources/writing/written.ts';
import { doStep } from '../step.ts';
import { STEPS } from '../steps/registry.ts';
import { isSame, keyOf, shownAs } from './held.ts';
import { planEntries } from './planned.ts';

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
      const as = (value: PlainValue, formula: string | null): CellHeld => ({
        ...{ value, formula },
        text: formula === null ? shownAs(value, format) : `=${formula}`,
      });
      const entered = as(cell.before, formulaBefore);
      if (isSame(entered, held)) continue;
      await deleteEntries(tx, own ? [own.id] : []);
      const typed = formulaBefore === null ? valueWords(cell.before) : `=${formulaBefore}`;
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

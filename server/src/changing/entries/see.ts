import type { EntriesSeen, EntryFace, EntrySeen } from '@tether/contract';
import { type CellPlace, formatCell, ok, type Result } from '@tether/core';
import { findEntries } from '../../db/entries.ts';
import type { CellHeld } from '../../db/schema.ts';
import type { Means } from '../../sources/means.ts';
import type { WriteWhere } from '../../sources/reshow.ts';
import { type CellLooked, valueWords } from '../../sources/writing/written.ts';
import { keyOf, shownAs } from './held.ts';
import { type Planned, planEntries } from './planned.ts';

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
  const faces = await facesOf(means, where, seen, plan);
  return ok({
    entries,
    faces,
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

/** What the cells of the sheets show with the entries: these themselves, what follows them, and what cannot be told yet. */
async function facesOf(
  means: Pick<Means, 'writer'>,
  where: WriteWhere,
  seen: Planned['seen'],
  plan: Planned['plan'],
): Promise<EntryFace[]> {
  const done = plan.ok ? plan.value : { written: [], notFinal: [], recalculated: [] };
  const come = new Map(done.written.map((each) => [keyOf(each), each.after] as const));
  const left = new Set(done.notFinal.map(keyOf));
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
  const follows = done.recalculated.slice(0, MOST_FACES);
  const typed = new Set(seen.map(({ entry }) => keyOf(entry)));
  const open = done.notFinal.filter((each) => !typed.has(keyOf(each)));
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
  return [...own, ...following, ...unsure];
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
  formula === null ? text || valueWords(value) : `=${formula}`;

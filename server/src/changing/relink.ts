import type { Relink, RelinkSeen } from '@tether/contract';
import { describeReach, fail, ok, type Reach, type Result, reachAt } from '@tether/core';
import { findPacked } from '../db/snapshots.ts';
import { findSource } from '../db/sources.ts';
import { findTethers, listSourceUses, type TetherRow } from '../db/tethers.ts';
import type { Followed } from '../following/followed.ts';
import { readNow } from '../sources/asking/contents.ts';
import type { Means } from '../sources/means.ts';
import type { Anchored } from '../sources/reading/reading.ts';
import { type Done, doStep } from './step.ts';
import { STEPS } from './steps/registry.ts';

/** From this share on what an object shows is taken where it stands now, not where it stood. */
const STANDS_THERE = 0.5;

/**
 * What tying all objects of a source to another one would do, object by object: by which reach each would take there, and what would
 * be other than it shows; with `documentId` only of its objects. Nothing is done. Faults: `not-found` and those of reading the other source.
 */
export async function seeRelink(
  means: Pick<Means, 'db' | 'reader'>,
  sourceId: string,
  to: string,
  documentId: string | null = null,
): Promise<Result<RelinkSeen[]>> {
  const { db } = means;
  const uses = (await listSourceUses(db, sourceId)).filter(
    ({ document }) => documentId === null || document.id === documentId,
  );
  const own = await findSource(db, sourceId);
  if (!own) return fail('not-found', { what: 'source' });
  const rows = await findTethers(
    db,
    uses.map(({ tetherId }) => tetherId),
  );
  const packed = await findPacked(
    db,
    rows.map(({ base }) => base),
  );
  const bases = rows.map((row) => ({ hash: row.base, packed: packed.get(row.base)! }));
  const sheets = own.source.sheets.map(({ name }) => name);
  const first = await readNow(means, to, {
    reaches: [],
    follow: rows.map(({ reach }, at) => ({ reach, bases: [bases[at]!] })),
    anchor: bases.map((base) => ({ packed: base.packed, sheets })),
  });
  if (!first.ok) return first;
  const { followed, anchored } = first.value;
  // A file with one sheet, as a text is, calls it what it likes: the only one here is the only one there.
  const only =
    sheets.length === 1 && first.value.sheets.length === 1 ? first.value.sheets[0]! : null;
  const plans = rows.map((row, at) =>
    planOf(row, uses[at]!.area, followed[at]!, anchored[at]!, only?.name ?? null),
  );
  // Where an object takes by another reach it is looked at what that gives.
  const elsewhere = plans.flatMap(({ reach }, at) =>
    reach && reach !== rows[at]!.reach ? [{ at, reach }] : [],
  );
  if (elsewhere.length > 0) {
    const second = await readNow(means, to, {
      reaches: [],
      follow: elsewhere.map(({ at, reach }) => ({ reach, bases: [bases[at]!] })),
    });
    if (!second.ok) return second;
    for (const [nth, { at }] of elsewhere.entries()) plans[at]!.taken = second.value.followed[nth]!;
  }
  return ok(
    rows.map((row, at) => {
      const use = uses.find(({ tetherId }) => tetherId === row.id)!;
      return { id: row.id, name: row.name, document: use.document, ...said(plans[at]!) };
    }),
  );
}

interface Plan {
  how: RelinkSeen['how'];
  reach: Reach | null;
  taken: Result<Followed>;
  anchored: Anchored | null;
}

/**
 * By its own reach, unless that is not there or most of what it shows stands elsewhere: in the file of another period nothing is the
 * same, and it stands at the same place.
 */
function planOf(
  row: TetherRow,
  before: Parameters<typeof reachAt>[1],
  taken: Result<Followed>,
  anchored: Anchored | null,
  only: string | null,
): Plan {
  const standsAt = (area: { top: number; left: number }) =>
    taken.ok &&
    taken.value.now.sheet === anchored?.sheet &&
    taken.value.now.area.top === area.top &&
    taken.value.now.area.left === area.left;
  const { reach } = row;
  // Names and charts are found by themselves; where one is not there, what it took may be.
  const isSelfFound = reach.kind === 'name' || reach.kind === 'chart';
  const isElsewhere =
    anchored !== null &&
    anchored.share >= STANDS_THERE &&
    (isSelfFound ? reach.kind === 'name' && !taken.ok : !standsAt(anchored.area));
  if (isElsewhere) {
    const made: Reach =
      reach.kind === 'name'
        ? { kind: 'block', sheet: anchored.sheet, area: anchored.area }
        : reachAt(reach, before, anchored);
    const lost = `The name ${'name' in reach ? reach.name : ''} is not there: a block takes its place.`;
    const reasons = reach.kind === 'name' ? [lost, ...anchored.reasons] : anchored.reasons;
    return { how: 'elsewhere', reach: made, taken, anchored: { ...anchored, reasons } };
  }
  if (taken.ok) return { how: 'as it is', reach, taken, anchored };
  if (only !== null && 'sheet' in reach && reach.kind !== 'name') {
    return { how: 'as it is', reach: { ...reach, sheet: only }, taken, anchored };
  }
  return { how: 'not found', reach: null, taken, anchored };
}

function said({ how, reach, taken, anchored }: Plan): Omit<RelinkSeen, 'id' | 'name' | 'document'> {
  const change = taken.ok ? (taken.value.changes[0]?.change ?? null) : null;
  return {
    how: taken.ok ? how : 'not found',
    reach: taken.ok ? reach : null,
    place: taken.ok && reach ? describeReach(taken.value.found) : null,
    isCertain: taken.ok && (change === null || anchored?.isCertain === true),
    reasons: how === 'elsewhere' ? (anchored?.reasons ?? []) : [],
    summary: change?.summary ?? null,
    behindBy: change?.behindBy ?? 0,
    fault: taken.ok ? null : taken.fault,
  };
}

/**
 * Ties objects of a source to another one, all in one transaction. What they show stays; what is other there puts them behind, and is
 * taken as usual. Faults: `not-found`; objects of held documents are refused one by one.
 */
export async function relink(
  means: Means,
  personId: string,
  sourceId: string,
  { to, objects }: Relink,
): Promise<Result<Pick<Done, 'changed' | 'refused'>>> {
  const target = await findSource(means.db, to);
  if (!target) return fail('not-found', { what: 'source' });
  const wish = { from: sourceId, objects: objects.map((each) => ({ ...each, to })) };
  const done = await doStep(means, STEPS.relink, wish, { personId });
  return done.ok ? ok({ changed: done.value.changed, refused: done.value.refused }) : done;
}

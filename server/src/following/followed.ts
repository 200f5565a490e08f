import type { Place } from '@tether/contract';
import {
  asFound,
  type Change,
  changeOf,
  isSamePlace,
  mooredAt,
  ok,
  type Reach,
  type ReachWarning,
  type Result,
  type Snapshot,
  type Taken,
} from '@tether/core';
import { type OpenSource, takeReaches } from '@tether/formats';
import { LRUCache } from 'lru-cache';
import { type PackedSnapshot, packSnapshot, unpackSnapshot } from '../storage/packed.ts';
import { findMoved, type Prints, printsOf } from './find-moved.ts';

/** A reach of a source with what objects show of it now: their bases, packed, by hash. */
export interface FollowedReach {
  reach: Reach;
  bases: { hash: string; packed: Uint8Array }[];
  /** Whether nobody knows whether its cells are where it says: then that of the sheet as it was says nothing of them. */
  isLost?: boolean;
}

/** What a reach gives now, and what of it is new to those who show one of the bases. */
export interface Followed {
  now: PackedSnapshot;
  warnings: ReachWarning[];
  /** The reach with what was found of it. */
  found: Reach;
  /** From each base what would change, null for nothing; see `core/standing`. */
  changes: { from: string; change: Change | null }[];
  /** Why it was taken from where it stands now and not from where the reach said; `found` says where that is. */
  moved?: string[];
  /** Where its cells may stand, where that is not certain: then it is not known whether this is what it shows. */
  places?: Place[];
}

/** What was taken last, up to so many cells: most often it is what objects show when their source changes again. */
const recent = new LRUCache<string, Snapshot>({
  maxSize: 200_000,
  sizeCalculation: ({ cells }) => Math.max(1, cells.length),
});

/** Takes the reaches out of the source and compares them with their bases. Runs in a reading thread. */
export async function followReaches(
  source: OpenSource,
  wanted: readonly FollowedReach[],
  before: Uint8Array | null = null,
): Promise<Result<Followed>[]> {
  const taken = await takeReaches(
    source,
    wanted.map(({ reach }) => reach),
  );
  const prints = printsOf(source, before);
  const followed: Result<Followed>[] = [];
  for (const [at, each] of taken.entries()) {
    const isGone = !each.ok && each.fault.code === 'sheet-missing';
    const isLookedFor = each.ok || isGone;
    followed.push(isLookedFor ? await follow(source, wanted[at]!, each, prints) : each);
  }
  return followed;
}

/** One reach: where its cells are known to stand elsewhere, they are taken there. */
async function follow(
  source: OpenSource,
  { reach, bases, isLost = false }: FollowedReach,
  taken: Result<Taken>,
  prints: Prints,
): Promise<Result<Followed>> {
  const own = taken.ok ? followedOf(reach, taken.value, bases) : taken;
  if (reach.kind === 'block' && reach.mooring !== undefined) {
    const held = mooredAt(reach, source.names);
    // The workbook has kept them in step: nothing has to be compared.
    if (held && own.ok) {
      if (isSamePlace(reach, held)) return own;
      return ok({ ...own.value, moved: ['The workbook keeps them in step by its mooring.'] });
    }
    if (!held) {
      const { mooring: _, ...loose } = reach;
      return unmoored(await follow(source, { reach: loose, bases, isLost }, taken, prints));
    }
  }
  const other = own.ok
    ? own.value.changes.find(({ change }) => change !== null)?.from
    : bases[0]?.hash;
  const base = bases.find(({ hash }) => hash === other);
  if (!base) return own;
  const shown = recent.get(base.hash) ?? unpackSnapshot(base.packed);
  const now = taken.ok ? taken.value.snapshot : null;
  const moved = await findMoved(reach, shown, now, {
    ...prints,
    ...(isLost ? { before: () => [] } : {}),
  });
  if (!moved) return own;
  if (!moved.isCertain) {
    if (!own.ok) return own;
    return ok({ ...own.value, places: moved.places });
  }
  const [there] = await takeReaches(source, [moved.reach]);
  if (!there?.ok) return own;
  const found = followedOf(moved.reach, there.value, bases);
  return found.ok ? ok({ ...found.value, moved: moved.reasons }) : own;
}

/** The same with a word that the mooring is not in the workbook any more. */
function unmoored(followed: Result<Followed>): Result<Followed> {
  if (!followed.ok) return followed;
  const message =
    'Its mooring is not in the workbook any more: its cells are found by what they hold. Moor it again if the workbook shall keep them.';
  const warning: ReachWarning = { code: 'mooring gone', message };
  return ok({ ...followed.value, warnings: [...followed.value.warnings, warning] });
}

function followedOf(
  reach: Reach,
  { snapshot, warnings }: Taken,
  bases: FollowedReach['bases'],
): Result<Followed> {
  const now = packSnapshot(snapshot);
  const changes = bases.map(({ hash, packed }) => ({
    from: hash,
    change:
      hash === now.hash ? null : changeOf(recent.get(hash) ?? unpackSnapshot(packed), snapshot),
  }));
  recent.set(now.hash, snapshot);
  return ok({ now, warnings, found: asFound(reach, snapshot), changes });
}

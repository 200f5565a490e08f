import {
  asFound,
  type Change,
  changeOf,
  ok,
  type Reach,
  type ReachWarning,
  type Result,
  type Snapshot,
} from '@tether/core';
import { type OpenSource, takeReaches } from '@tether/formats';
import { LRUCache } from 'lru-cache';
import { type PackedSnapshot, packSnapshot, unpackSnapshot } from '../storage/packed.ts';

/** A reach of a source with what objects show of it now: their bases, packed, by hash. */
export interface FollowedReach {
  reach: Reach;
  bases: { hash: string; packed: Uint8Array }[];
}

/** What a reach gives now, and what of it is new to those who show one of the bases. */
export interface Followed {
  now: PackedSnapshot;
  warnings: ReachWarning[];
  /** The reach with what was found of it. */
  found: Reach;
  /** From each base what would change, null for nothing; see `core/standing`. */
  changes: { from: string; change: Change | null }[];
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
): Promise<Result<Followed>[]> {
  const taken = await takeReaches(
    source,
    wanted.map(({ reach }) => reach),
  );
  return taken.map((each, at) => {
    if (!each.ok) return each;
    const { snapshot, warnings } = each.value;
    const now = packSnapshot(snapshot);
    const changes = wanted[at]!.bases.map(({ hash, packed }) => ({
      from: hash,
      change:
        hash === now.hash ? null : changeOf(recent.get(hash) ?? unpackSnapshot(packed), snapshot),
    }));
    recent.set(now.hash, snapshot);
    return ok({ now, warnings, found: asFound(wanted[at]!.reach, snapshot), changes });
  });
}

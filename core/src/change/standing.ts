import type { Snapshot } from '../sheet/sheet.ts';
import { changesOnly } from './change-slip.ts';
import { type Danger, dangerOf } from './harm.ts';
import { cellsBehind, isEmptySlip, summariseSlip } from './slip-words.ts';

/** The names of the standings, as every screen, table and message writes them. */
export const STANDINGS = [
  'in step',
  'behind',
  'edited here',
  'contested',
  'reshaped',
  'adrift',
  'frozen',
] as const;

/** How an object stands to its source. */
export type StandingName = (typeof STANDINGS)[number];

/** What puts an object behind, without the cells. */
export interface Change {
  /** The change slip in few words. */
  summary: string;
  /** How many cells it is behind by. */
  behindBy: number;
  danger: Danger;
}

/**
 * What would change an object that shows `base` while its reach in the source gives `now`: it is then behind. Null when
 * both show the same: it is in step.
 */
export function changeOf(base: Snapshot, now: Snapshot): Change | null {
  const changes = changesOnly(base, now);
  if (isEmptySlip(changes)) return null;
  return {
    summary: summariseSlip(changes),
    behindBy: cellsBehind(changes),
    danger: dangerOf(base, now, changes),
  };
}

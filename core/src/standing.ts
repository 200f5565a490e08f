import type { Fault, Result } from './fault.ts';
import { type ChangeSlip, changeSlip, isEmptySlip } from './merge.ts';
import type { Snapshot } from './sheet.ts';

/** The names of the standings, as every screen, table and message writes them. */
export const STANDINGS = ['in step', 'behind', 'adrift', 'frozen'] as const;

/** How an object stands to its source. */
export type StandingName = (typeof STANDINGS)[number];

/** What comparing with the source gives: what changed, or why it cannot be followed. Freezing is done on purpose. */
export type Standing =
  | { name: 'in step' }
  | { name: 'behind'; slip: ChangeSlip }
  | { name: 'adrift'; reason: Fault };

/**
 * The standing of an object that shows `base` while its reach in the source now gives `source`: in step when both
 * show the same, behind when they differ, adrift when the source cannot be read or followed.
 */
export function standingOf(base: Snapshot, source: Result<Snapshot>): Standing {
  if (!source.ok) return { name: 'adrift', reason: source.fault };
  const slip = changeSlip(base, source.value);
  return isEmptySlip(slip) ? { name: 'in step' } : { name: 'behind', slip };
}

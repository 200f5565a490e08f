import { type Fault, fault } from '../fault.ts';
import { headersOf } from '../sheet/header.ts';
import { describeLandmarks, FEW_CELLS, landmarksChanged } from '../sheet/landmarks.ts';
import { type Cell, type CellType, isFilled, type Snapshot } from '../sheet/sheet.ts';
import type { Changes } from './slip.ts';
import { figuresBehind } from './slip-words.ts';

/** Per cent of an object's cells that may change without anybody looking, where nobody said otherwise. */
export const USUAL_SHARE = 50;

/** What about a change may do harm. */
export interface Danger {
  /** What is never taken unseen, the gravest: everything is gone, cells turned into errors, headers, totals or landmarks went. */
  grave: Fault | null;
  /** Per cent of the cells that changed; 0 of small objects: one new figure of three is nothing out of the ordinary. */
  changed: number;
}

/** What about these changes may do harm. */
export function dangerOf(before: Snapshot, after: Snapshot, changes: Changes): Danger {
  const had = before.cells.filter(isFilled);
  const has = after.cells.filter(isFilled);
  const all = Math.max(had.length, has.length);
  return {
    grave: graveOf(before, after, had, has, changes),
    changed: had.length >= FEW_CELLS ? (figuresBehind(changes) / Math.max(1, all)) * 100 : 0,
  };
}

function graveOf(
  before: Snapshot,
  after: Snapshot,
  had: Cell[],
  has: Cell[],
  { lostTotals }: Changes,
): Fault | null {
  if (had.length > 0 && has.length === 0) return fault('waits-empty');
  const unknown = countOf(has, 'uncomputed') - countOf(had, 'uncomputed');
  if (unknown > 0) {
    return fault('waits-uncomputed', { cells: unknown === 1 ? 'One cell' : `${unknown} cells` });
  }
  const errors = countOf(has, 'error') - countOf(had, 'error');
  if (errors > 0) {
    return fault('waits-errors', { cells: errors === 1 ? 'One cell' : `${errors} cells` });
  }
  const now = new Set(headersOf(after));
  const lost = headersOf(before).filter((header) => header !== '' && !now.has(header));
  if (lost.length > 0) return fault('waits-headers', { headers: lost.join('”, “') });
  if (lostTotals !== undefined) return fault('waits-totals', { label: lostTotals });
  const moved = landmarksChanged(before, after);
  return moved.length > 0 ? fault('waits-landmarks', { how: describeLandmarks(moved) }) : null;
}

/**
 * Why a change should be looked at before it is taken, or null when it may be taken unseen. Reasons, the gravest first:
 * everything is gone (`waits-empty`), formulas lost their values (`waits-uncomputed`), cells turned into errors (`waits-errors`), headers were lost (`waits-headers`),
 * the row of totals at the end was pushed out (`waits-totals`), other cells stand where a small block is (`waits-landmarks`), more than `share` per cent changed (`waits-share`).
 */
export function harmOf({ grave, changed }: Danger, share: number): Fault | null {
  if (grave) return grave;
  if (changed <= share) return null;
  return fault('waits-share', {
    changed: `${Math.min(100, Math.round(changed))}`,
    share: `${share}`,
  });
}

function countOf(cells: readonly Cell[], wanted: CellType): number {
  return cells.filter(({ type }) => type === wanted).length;
}

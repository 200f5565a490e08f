import type { TakePreview } from '@tether/contract';
import { cellCount, type Fault, fault, MAX_REACH_CELLS, type Reach } from '@tether/core';
import { faultOf, useTakeQuery } from '../state/api.ts';
import { useSettled } from '../ui/useSettled.ts';
import { type ReachDraft, reachOf } from './reach-draft.ts';

const SETTLE_MS = 120;

/** What a draft of a reach takes. */
export interface Taking {
  /** The reach that is drafted; null while it is none. */
  reach: Reach | null;
  /** Tells one drafted reach from another. */
  key: string;
  /** The reach that has stood still for a moment: what is read is for it. */
  settled: Reach | null;
  /** What it takes; undefined while that is read. */
  taken: TakePreview | undefined;
  tooLarge: Fault | null;
  takeFault: Fault | null;
  /** What is known is what the draft takes now. */
  isCurrent: boolean;
  /** What is drafted now cannot be taken. */
  isRefused: boolean;
}

/** Reads what the draft takes, as soon as it has stood still for a moment. */
export function useTaking(
  sourceId: string,
  hash: string,
  draft: ReachDraft,
  isWrong: boolean,
): Taking {
  const reach = isWrong ? null : reachOf(draft);
  const key = JSON.stringify(reach);
  const settledKey = useSettled(key, SETTLE_MS);
  const settled = JSON.parse(settledKey) as Reach | null;
  const cells = draft.kind === 'block' && draft.area ? cellCount(draft.area) : 0;
  const tooLarge =
    cells > MAX_REACH_CELLS
      ? fault('reach-too-large', { cells: cells.toLocaleString('en') })
      : null;
  const { data, error } = useTakeQuery(
    { sourceId, hash, reach: settled! },
    { skip: settled === null || tooLarge !== null },
  );
  // What the reach took before stays while it is read anew from a source that changed.
  const taken = !error && data && JSON.stringify(data.reach) === settledKey ? data : undefined;
  const isSettled = key === settledKey;
  return {
    reach,
    key,
    settled,
    taken,
    tooLarge,
    takeFault: error ? faultOf(error) : null,
    isCurrent: isSettled && taken !== undefined,
    isRefused: isSettled && error !== undefined,
  };
}

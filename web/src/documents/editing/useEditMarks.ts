import type { Tether } from '@tether/contract';
import { isUnlocked } from '@tether/contract';
import { parseCell, type Snapshot } from '@tether/core';
import { useMemo } from 'react';
import type { EditMark } from '../../placed/table/PlacedTable.tsx';
import { useEditsQuery } from '../../state/api.ts';

/** What a glance at a table tells: which cells are edited or contested, and of the selected one which can be written. */
export function useEditMarks(
  tether: Tether,
  isChosen: boolean,
  snapshot: Snapshot | undefined,
): ReadonlyMap<string, EditMark> | null {
  const { unlocked, editCount, shown, pending, standing } = tether;
  const key = `${shown} ${pending ?? ''} ${standing}`;
  const { data: seen } = useEditsQuery({ id: tether.id, key }, { skip: editCount === 0 });
  return useMemo(() => {
    const marks = new Map<string, EditMark>();
    if (isChosen && unlocked !== null && snapshot) {
      const { area } = snapshot;
      const formulas = new Set(
        snapshot.cells.flatMap(({ row, column, formula }) => (formula ? [`${row},${column}`] : [])),
      );
      const count = (area.bottom - area.top + 1) * (area.right - area.left + 1);
      if (count <= MOST_MARKED) {
        for (let row = area.top; row <= area.bottom; row++) {
          for (let column = area.left; column <= area.right; column++) {
            if (!isUnlocked(unlocked, { row, column })) continue;
            const at = `${row},${column}`;
            marks.set(at, formulas.has(at) ? 'open formula' : 'open');
          }
        }
      }
    }
    if (editCount > 0) {
      // What follows from the edits is shown with them, unless the source holds something else by now.
      const follows = pending === null ? 'provisional' : 'not final';
      for (const { sheet, ref } of seen?.plan?.recalculated ?? []) {
        const place = sheet === snapshot?.sheet ? parseCell(ref) : null;
        if (place) marks.set(`${place.row},${place.column}`, follows);
      }
      for (const { row, column, kind } of seen?.edits ?? []) {
        if (kind !== 'gone') marks.set(`${row},${column}`, kind === 'contested' ? kind : 'edited');
      }
    }
    return marks.size === 0 ? null : marks;
  }, [isChosen, unlocked, snapshot, editCount, pending, seen]);
}

/** In a longer table cells that can be written look as usual; the panel says that they can. */
const MOST_MARKED = 20_000;

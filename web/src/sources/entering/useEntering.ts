import type { EntryFace, EntrySeen } from '@tether/contract';
import type { Area, CellAddress } from '@tether/core';
import { useMemo, useRef, useState } from 'react';
import { useAreaEntries } from './useAreaEntries.ts';
import { keyOf, type Refused, useSendEntries } from './useSendEntries.ts';

/** A cell that is open for typing, and the letters that opened it; null where what stands there is typed on. */
interface Open extends CellAddress {
  letters: string | null;
  seen: string | null;
  /** The state of the source in which it was opened: rows may stand elsewhere in a later one. */
  hash: string;
}

/** Typing into the cells of a sheet in the grid. */
export interface Entering {
  /** What stands in cells while entries wait, by `row,column`. */
  faces: ReadonlyMap<string, EntryFace>;
  entryAt: (cell: CellAddress) => EntrySeen | undefined;
  opened: Open | null;
  open: (cell: CellAddress, letters: string | null) => void;
  close: () => void;
  refused: readonly Refused[];
  /** Opens a cell with what was typed into it and not taken. */
  openAgain: (refused: Refused) => void;
  leave: (refused: Refused) => void;
  isBusy: boolean;
  /** Takes one cell down; where it is not taken, what was typed is kept with the reason. */
  enter: (cell: Open, typed: string) => void;
  clear: (area: Area) => Promise<void>;
  fillDown: (area: Area) => Promise<void>;
  paste: (at: CellAddress, text: string) => Promise<void>;
  undo: () => Promise<void>;
}

/** Typing into a sheet of a source; null for those who may not. */
export function useEntering(
  { sourceId, hash, sheet }: { sourceId: string; hash: string; sheet: string },
  mayType: boolean,
): Entering | null {
  const sending = useSendEntries(sourceId, hash);
  const { seen, refused, send } = sending;
  const areas = useAreaEntries({ sourceId, hash, sheet }, sending);
  const [opened, setOpened] = useState<(Open & { sheet: string }) | null>(null);
  /** What is on its way, by `row,column`. */
  const [coming, setComing] = useState<ReadonlyMap<string, EntryFace>>(new Map());
  const openedNow = useRef<Open | null>(null);
  const entries = useMemo(
    () =>
      new Map(
        (seen?.entries ?? []).flatMap((each) =>
          each.sheet === sheet ? [[keyOf(each), each] as const] : [],
        ),
      ),
    [seen, sheet],
  );
  const faces = useMemo(
    () =>
      new Map(
        [...(seen?.faces ?? []), ...coming.values()].flatMap((each) =>
          each.sheet === sheet ? [[keyOf(each), each] as const] : [],
        ),
      ),
    [seen, coming, sheet],
  );

  const show = (next: Open | null) => {
    openedNow.current = next;
    setOpened(next && { ...next, sheet });
  };
  const open: Entering['open'] = ({ row, column }, letters) =>
    show({ row, column, letters, hash, seen: entries.get(keyOf({ row, column }))?.at ?? null });

  if (!mayType) return null;
  return {
    faces,
    entryAt: (cell) => entries.get(keyOf(cell)),
    opened: opened?.sheet === sheet ? opened : null,
    open,
    close: () => show(null),
    refused: refused.filter((each) => each.sheet === sheet),
    openAgain({ cells: [cell] }) {
      if (cell) open(cell, cell.typed);
    },
    leave(done) {
      const cells = new Set(done.cells.map(keyOf));
      if (openedNow.current && cells.has(keyOf(openedNow.current))) show(null);
      sending.forget(done);
    },
    isBusy: sending.isBusy,
    enter(cell, typed) {
      const { row, column, seen: at } = cell;
      const key = keyOf(cell);
      const isNumber = /^[-+]?[\d.,\s]+%?$/.test(typed);
      const face: EntryFace = { sheet, row, column, text: typed, isNumber, mark: 'entered' };
      setComing((before) => new Map(before).set(key, face));
      const entry = { row, column, typed, seen: at };
      // What is not taken waits above the grid: opened by itself it would catch the letters that are meant for the next cell.
      void send(sheet, [entry], false, cell.hash).then(() => {
        setComing((before) => {
          const left = new Map(before);
          if (left.get(key) === face) left.delete(key);
          return left;
        });
      });
    },
    ...areas,
    undo: sending.undo,
  };
}

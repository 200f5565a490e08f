import type { EnterCells, EntryFace, EntrySeen } from '@tether/contract';
import {
  type Area,
  type Cell,
  type CellAddress,
  cellCount,
  type Fault,
  fault,
  formatArea,
  type Result,
  shiftFormula,
} from '@tether/core';
import { useMemo, useRef, useState } from 'react';
import { formulaAs, typedAs } from '../../placed/typed-as.ts';
import { writingWay } from '../../placed/writing-way.ts';
import { faultOf, readingApi, useEnterCellsMutation, useEntriesQuery } from '../../state/api.ts';
import { useAppDispatch } from '../../state/store.ts';

/** A cell and what is typed into it; null lets an entry go. */
interface Typing extends CellAddress {
  typed: string | null;
  isOverFormula?: boolean;
  /** When the entry was made that the person saw there; the latest that is known where it is not said. */
  seen?: string | null;
}

/** A cell that is open for typing, and the letters that opened it; null where what stands there is typed on. */
interface Open extends CellAddress {
  letters: string | null;
  seen: string | null;
  /** The state of the source in which it was opened: rows may stand elsewhere in a later one. */
  hash: string;
}

/** What could not be taken down, and how it would be. It stays until somebody decides. */
interface Refused {
  /** The cells that were meant, the first one of them by its name; one alone can be opened again. */
  cells: readonly Typing[];
  sheet: string;
  fault: Fault;
  /** Asks for the same once more, though a formula or a colleague’s entry gives way; null where that does not help. */
  insist: { words: string; run: () => Promise<boolean> } | null;
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

/** So many cells are taken in one go. */
const MOST_CELLS = 10_000;

/** Typing into a sheet of a source; null for those who may not. */
export function useEntering(
  { sourceId, hash, sheet }: { sourceId: string; hash: string; sheet: string },
  mayType: boolean,
): Entering | null {
  const { data: seen, refetch, isFetching } = useEntriesQuery(sourceId);
  const [put, { isLoading }] = useEnterCellsMutation();
  const [opened, setOpened] = useState<(Open & { sheet: string }) | null>(null);
  const [refused, setRefused] = useState<readonly Refused[]>([]);
  /** What is on its way, by `row,column`. */
  const [sending, setSending] = useState<ReadonlyMap<string, EntryFace>>(new Map());
  // One after the other: of two entries into one cell the later one holds.
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  const openedNow = useRef<Open | null>(null);
  const known = useRef<readonly EntrySeen[]>([]);
  known.current = seen?.entries ?? [];
  const isAsking = useRef(false);
  isAsking.current = isFetching;
  const undone = useRef<{ sheet: string; cells: Typing[] }[]>([]);
  const dispatch = useAppDispatch();
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
        [...(seen?.faces ?? []), ...sending.values()].flatMap((each) =>
          each.sheet === sheet ? [[keyOf(each), each] as const] : [],
        ),
      ),
    [seen, sending, sheet],
  );

  /** What stands in an area of the file. */
  const read = async (area: Area): Promise<Result<Cell[]>> => {
    const asked = dispatch(
      readingApi.endpoints.cells.initiate({
        sourceId,
        hash,
        sheet,
        reference: formatArea(area),
      }),
    );
    const { data, error } = await asked;
    asked.unsubscribe();
    return data ? { ok: true, value: data.cells } : { ok: false, fault: faultOf(error) };
  };
  const refuse = (
    where: string,
    cells: readonly Typing[],
    said: Fault,
    insist: Refused['insist'] = null,
  ): void => setRefused((before) => [...before, { cells, sheet: where, fault: said, insist }]);
  /** Does something when all is done that was asked for before. */
  const inTurn = <T>(act: () => Promise<T>): Promise<T> => {
    const done = queue.current.then(act);
    queue.current = done;
    return done;
  };
  const send = (
    where: string,
    cells: readonly Typing[],
    isUndo: boolean,
    state = hash,
  ): Promise<boolean> => inTurn(() => ask(where, cells, isUndo, state));
  const ask = async (where: string, cells: readonly Typing[], isUndo: boolean, state: string) => {
    // What is asked anew for a cell takes the place of what was refused before.
    const meant = new Set(cells.map(keyOf));
    setRefused((before) =>
      before.filter(
        (each) => each.sheet !== where || !each.cells.some((cell) => meant.has(keyOf(cell))),
      ),
    );
    if (cells.length === 0) return true;
    if (cells.length > MOST_CELLS) {
      refuse(where, cells.slice(0, 2), tooMany(cells.length));
      return false;
    }
    const there = new Map(
      known.current.flatMap((each) => (each.sheet === where ? [[keyOf(each), each] as const] : [])),
    );
    const request: EnterCells = {
      hash: state,
      sheet: where,
      cells: cells.map((each) => ({ seen: there.get(keyOf(each))?.at ?? null, ...each })),
      writing: writingWay(),
    };
    const wasAsking = isAsking.current;
    const done = await put({ id: sourceId, ...request });
    if ('error' in done) {
      const said = faultOf(done.error);
      refuse(where, cells, said, insisting(said.code, where, cells));
      return false;
    }
    if (!isUndo) {
      const before = cells.map(({ row, column }): Typing => {
        const typed = there.get(keyOf({ row, column }))?.typed ?? null;
        return { row, column, typed, isOverFormula: true };
      });
      undone.current.push({ sheet: where, cells: before });
    }
    // What comes next must know of this. A question that was on its way before may be answered without it.
    if (wasAsking) await refetch();
    const { data } = await refetch();
    if (data) known.current = data.entries;
    return true;
  };
  const insisting = (code: string, where: string, cells: readonly Typing[]): Refused['insist'] => {
    if (code === 'write-formula') {
      const over = cells.map((each) => ({ ...each, isOverFormula: true }));
      return { words: 'Put it in place of the formula', run: () => send(where, over, false) };
    }
    if (code !== 'entry-taken') return null;
    return {
      words: 'Put mine in its place',
      run: async () => {
        const { data } = await refetch();
        known.current = data?.entries ?? [];
        const latest = cells.map(({ seen: _seen, ...each }) => each);
        return send(where, latest, false);
      },
    };
  };

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
      setRefused((before) => before.filter((each) => each !== done));
    },
    isBusy: isLoading,
    enter(cell, typed) {
      const { row, column, seen: at } = cell;
      const key = keyOf(cell);
      const isNumber = /^[-+]?[\d.,\s]+%?$/.test(typed);
      const face: EntryFace = { sheet, row, column, text: typed, isNumber, mark: 'entered' };
      setSending((before) => new Map(before).set(key, face));
      const entry = { row, column, typed, seen: at };
      // What is not taken waits above the grid: opened by itself it would catch the letters that are meant for the next cell.
      void send(sheet, [entry], false, cell.hash).then(() => {
        setSending((before) => {
          const left = new Map(before);
          if (left.get(key) === face) left.delete(key);
          return left;
        });
      });
    },
    clear: (area) =>
      inTurn(async () => {
        const held = cellCount(area) <= MOST_CELLS * 2 ? await read(area) : null;
        if (!held) {
          return refuse(sheet, [], tooMany(cellCount(area)));
        }
        if (!held.ok) return refuse(sheet, [], held.fault);
        const filled = held.value.filter(({ type }) => type !== 'blank');
        const typed = known.current.filter(
          ({ sheet: on, row, column }) =>
            on === sheet &&
            row >= area.top &&
            row <= area.bottom &&
            column >= area.left &&
            column <= area.right,
        );
        const places = new Map([...filled, ...typed].map((each) => [keyOf(each), each]));
        const cells = [...places.values()].map(({ row, column }) => ({ row, column, typed: '' }));
        await ask(sheet, cells, false, hash);
      }),
    fillDown: ({ top, left, bottom, right }) =>
      inTurn(async () => {
        // Of one row: what stands above it.
        const from = top === bottom ? top - 1 : top;
        if (from < 1) return;
        const held = await read({ top: from, bottom: from, left, right });
        if (!held.ok) return refuse(sheet, [], held.fault);
        const cells: Typing[] = [];
        for (let column = left; column <= right; column++) {
          const cell = held.value.find((each) => each.column === column);
          const at = { row: from, column };
          const entry = known.current.find(
            (each) => each.sheet === sheet && keyOf(each) === keyOf(at),
          );
          const said = entry?.typed ?? (cell?.formula ? formulaAs(cell.formula) : typedAs(cell));
          const shift = said.startsWith('=') ? shiftFormula(said.slice(1)) : null;
          for (let row = from + 1; row <= bottom; row++) {
            const typed = shift ? `=${shift(row - from, 0)}` : said;
            cells.push({ row, column, typed });
          }
        }
        await ask(sheet, cells, false, hash);
      }),
    async paste({ row, column }, text) {
      const lines = text.replace(/\r?\n$/, '').split(/\r?\n/);
      const cells = lines.flatMap((line, down) =>
        line
          .split('\t')
          .map((typed, across) => ({ row: row + down, column: column + across, typed })),
      );
      await send(sheet, cells, false);
    },
    // What was typed last may still be on its way.
    undo: () =>
      inTurn(async () => {
        const last = undone.current.pop();
        if (last && !(await ask(last.sheet, last.cells, true, hash))) undone.current.push(last);
      }),
  };
}

const tooMany = (cells: number) => fault('reach-too-large', { cells: cells.toLocaleString('en') });

const keyOf = ({ row, column }: CellAddress) => `${row},${column}`;

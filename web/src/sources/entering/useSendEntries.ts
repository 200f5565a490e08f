import type { EnterCells, EntrySeen } from '@tether/contract';
import { type CellAddress, type Fault, fault } from '@tether/core';
import { useRef, useState } from 'react';
import { writingWay } from '../../placed/writing-way.ts';
import { faultOf, useEnterCellsMutation, useEntriesQuery } from '../../state/api.ts';

/** A cell and what is typed into it; null lets an entry go. */
export interface Typing extends CellAddress {
  typed: string | null;
  isOverFormula?: boolean;
  /** When the entry was made that the person saw there; the latest that is known where it is not said. */
  seen?: string | null;
}

/** What could not be taken down, and how it would be. It stays until somebody decides. */
export interface Refused {
  /** The cells that were meant, the first one of them by its name; one alone can be opened again. */
  cells: readonly Typing[];
  sheet: string;
  fault: Fault;
  /** Asks for the same once more, though a formula or a colleague’s entry gives way; null where that does not help. */
  insist: { words: string; run: () => Promise<boolean> } | null;
}

/** So many cells are taken in one go. */
export const MOST_CELLS = 10_000;

/**
 * Sends what is typed into a source, one after the other: of two entries into one cell the later one holds. What is not taken is
 * kept with the reason. `hash` is the state of the source that is shown.
 */
export function useSendEntries(sourceId: string, hash: string) {
  const { data: seen, refetch, isFetching } = useEntriesQuery(sourceId);
  const [put, { isLoading }] = useEnterCellsMutation();
  const [refused, setRefused] = useState<readonly Refused[]>([]);
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  const known = useRef<readonly EntrySeen[]>([]);
  known.current = seen?.entries ?? [];
  const isAsking = useRef(false);
  isAsking.current = isFetching;
  const undone = useRef<{ sheet: string; cells: Typing[] }[]>([]);

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
    setRefused((before) => before.filter((each) => !isAskedAnew(each, where, cells)));
    if (cells.length === 0) return true;
    if (cells.length > MOST_CELLS) {
      refuse(where, cells.slice(0, 2), tooMany(cells.length));
      return false;
    }
    const there = entriesOn(where, known.current);
    const request = requestFor(state, where, cells, there);
    const wasAsking = isAsking.current;
    const done = await put({ id: sourceId, ...request });
    if ('error' in done) {
      const said = faultOf(done.error);
      refuse(where, cells, said, insisting(said.code, where, cells));
      return false;
    }
    if (!isUndo) {
      undone.current.push({ sheet: where, cells: asBefore(cells, there) });
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
    const insist = async () => {
      const { data } = await refetch();
      known.current = data?.entries ?? [];
      const latest = cells.map(({ seen: _seen, ...each }) => each);
      return send(where, latest, false);
    };
    return { words: 'Put mine in its place', run: insist };
  };

  /** Takes the last entries back. What was typed last may still be on its way. */
  const undo = () =>
    inTurn(async () => {
      const last = undone.current.pop();
      if (last && !(await ask(last.sheet, last.cells, true, hash))) undone.current.push(last);
    });
  const forget = (done: Refused) => setRefused((before) => before.filter((each) => each !== done));
  return { seen, known, refused, refuse, forget, inTurn, send, ask, undo, isBusy: isLoading };
}

/** What is asked anew for a cell takes the place of what was refused before. */
function isAskedAnew({ sheet, cells: refused }: Refused, where: string, cells: readonly Typing[]) {
  const meant = new Set(cells.map(keyOf));
  return sheet === where && refused.some((cell) => meant.has(keyOf(cell)));
}

/** The entries of a sheet that are known, by their cells. */
function entriesOn(sheet: string, known: readonly EntrySeen[]): ReadonlyMap<string, EntrySeen> {
  return new Map(known.flatMap((each) => (each.sheet === sheet ? [[keyOf(each), each]] : [])));
}

/** What is asked of the server. Of each cell it is told which entry the person saw there. */
function requestFor(
  hash: string,
  sheet: string,
  cells: readonly Typing[],
  there: ReadonlyMap<string, EntrySeen>,
): EnterCells {
  return {
    hash,
    sheet,
    cells: cells.map((each) => ({ seen: there.get(keyOf(each))?.at ?? null, ...each })),
    writing: writingWay(),
  };
}

/** The cells with what is typed into them so far, to be taken back to. */
function asBefore(cells: readonly Typing[], there: ReadonlyMap<string, EntrySeen>): Typing[] {
  return cells.map(({ row, column }) => {
    const typed = there.get(keyOf({ row, column }))?.typed ?? null;
    return { row, column, typed, isOverFormula: true };
  });
}

export const tooMany = (cells: number) =>
  fault('reach-too-large', { cells: cells.toLocaleString('en') });

export const keyOf = ({ row, column }: CellAddress) => `${row},${column}`;

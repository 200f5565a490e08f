import type { CellsMatch, DocumentDetail, Tether } from '@tether/contract';
import {
  cellCount,
  type Fault,
  headerOf,
  type Reach,
  type Snapshot,
  shownTexts,
  suggestName,
} from '@tether/core';
import { useCallback, useRef, useState } from 'react';
import type { Anchor, Surface } from '../documents/surface.ts';
import type { CarriedCells, Incoming } from '../sources/carried.ts';
import { faultOf, readingApi, tethersApi } from '../state/api.ts';
import { useAppDispatch } from '../state/store.ts';

/** What can still be said about cells that came in. */
export type Offer =
  | { kind: 'placing'; cells: CarriedCells }
  | { kind: 'failed'; fault: Fault }
  /** They stand live in the text. `growing` is the reach that would follow new rows, where there is a header. */
  | { kind: 'placed'; tether: Tether; snapshot: Snapshot; isWhole: boolean; growing: Reach | null }
  | { kind: 'looking'; pasted: Anchor; count: number }
  /** They stand fixed in the text and were found in sources. */
  | { kind: 'found'; pasted: Anchor; matches: CellsMatch[] }
  | { kind: 'not found'; count: number };

/** Asked for once, without being kept up to date. */
const ONCE = { subscribe: false } as const;

/** Places cells that are dropped or pasted into a document, and what is offered about them afterwards. */
export function useIncomingCells(saved: DocumentDetail) {
  const dispatch = useAppDispatch();
  const [offer, setOffer] = useState<Offer | null>(null);
  const documentId = saved.id;
  const stopLooking = useRef<() => void>(() => undefined);

  const placeLive = useCallback(
    (cells: CarriedCells, put: (tether: Tether) => void) =>
      placedLive(dispatch, documentId, cells, put),
    [dispatch, documentId],
  );
  const bringIn = useCallback(
    async (surface: Surface, incoming: Incoming, at?: Anchor) => {
      stopLooking.current();
      if (incoming.kind === 'carried') {
        setOffer({ kind: 'placing', cells: incoming.cells });
        const done = await placeLive(incoming.cells, (tether) => surface.insert(tether, at));
        if ('code' in done) return setOffer({ kind: 'failed', fault: done });
        const { snapshot } = done;
        return setOffer({ kind: 'placed', ...done, growing: growingOf(snapshot) });
      }
      const { rows } = incoming;
      const count = rows.flat().filter((text) => text.trim() !== '').length;
      const pasted = surface.insertFixed(rows);
      if (pasted === null) return;
      setOffer({ kind: 'looking', pasted, count });
      const looking = dispatch(readingApi.endpoints.findCells.initiate({ cells: rows }));
      stopLooking.current = () => looking.abort();
      const looked = await looking;
      setOffer((now) => {
        // Stopped, or something else came in meanwhile.
        if (now?.kind !== 'looking' || now.pasted !== pasted) return now;
        if (!looked.data) return { kind: 'failed', fault: faultOf(looked.error) };
        return looked.data.length > 0
          ? { kind: 'found', pasted, matches: looked.data }
          : { kind: 'not found', count };
      });
    },
    [dispatch, placeLive],
  );

  /** Puts a live object in the place of the fixed table of a paste. */
  const tie = useCallback(
    async (surface: Surface, pasted: Anchor, match: CellsMatch) => {
      const { sourceId, sheet, area } = match;
      const cells = { sourceId, path: match.path, sheet, area };
      setOffer({ kind: 'placing', cells });
      const done = await placeLive(cells, (tether) => surface.tie(pasted, tether));
      if ('code' in done) return setOffer({ kind: 'failed', fault: done });
      const { snapshot } = done;
      setOffer({ kind: 'placed', ...done, growing: growingOf(snapshot) });
    },
    [placeLive],
  );

  /** Lets the figures stand as they are, without a tether. */
  const fix = useCallback((surface: Surface, tetherId: string, snapshot: Snapshot) => {
    surface.fix(tetherId, shownTexts(snapshot));
    setOffer(null);
  }, []);

  const grow = useCallback(
    async (tether: Tether, reach: Reach) => {
      const done = await dispatch(
        tethersApi.endpoints.changeTether.initiate({ id: tether.id, documentId, reach }),
      );
      setOffer(done.error ? { kind: 'failed', fault: faultOf(done.error) } : null);
    },
    [dispatch, documentId],
  );

  const close = useCallback(() => {
    stopLooking.current();
    setOffer(null);
  }, []);
  return { offer, bringIn, tie, fix, grow, close };
}

interface PlacedLive {
  tether: Tether;
  snapshot: Snapshot;
  isWhole: boolean;
}

/** Ties cells to their source and puts the object where it is wanted. */
async function placedLive(
  dispatch: ReturnType<typeof useAppDispatch>,
  documentId: string,
  { sourceId, sheet, area }: CarriedCells,
  put: (tether: Tether) => void,
): Promise<PlacedLive | Fault> {
  const reach: Reach = { kind: 'block', sheet, area };
  const contents = await dispatch(readingApi.endpoints.contents.initiate(sourceId, ONCE));
  if (!contents.data) return faultOf(contents.error);
  const { hash } = contents.data;
  const taken = await dispatch(readingApi.endpoints.take.initiate({ sourceId, hash, reach }, ONCE));
  if (!taken.data) return faultOf(taken.error);
  const { snapshot } = taken.data;
  const form = cellCount(area) === 1 ? 'value' : 'table';
  const name = suggestName(snapshot);
  const placed = await dispatch(
    tethersApi.endpoints.place.initiate({ documentId, sourceId, reach, name, form }),
  );
  if (!placed.data) return faultOf(placed.error);
  put(placed.data);
  // Of a very long range only its first rows came: they must not stand for all of it.
  return { tether: placed.data, snapshot, isWhole: snapshot.area.bottom === area.bottom };
}

/** The growing block that begins with these cells, where their first row is a header over others. */
function growingOf(snapshot: Snapshot): Reach | null {
  const { sheet, area } = snapshot;
  const { top, left, right, bottom } = area;
  const { title, rows } = headerOf(snapshot);
  if (bottom === top || rows === 0) return null;
  return { kind: 'growing block', sheet, header: { row: top + title, left, right } };
}

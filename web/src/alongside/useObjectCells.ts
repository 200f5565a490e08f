import type { Tether } from '@tether/contract';
import type { Area } from '@tether/core';
import { useMemo } from 'react';
import { shallowEqual } from 'react-redux';
import { tethersApi } from '../state/api.ts';
import { useAppSelector } from '../state/store.ts';

/** Where an object's cells stand in its source. */
export interface ObjectCells {
  sheet: string;
  area: Area;
}

const NONE: never[] = [];

/**
 * Where the cells of objects stand, by tether: as far as their figures are on the screen already. Nothing while no source
 * stands beside the document, so that figures that come one after the other do not have all of it drawn anew each time.
 */
export function useObjectCells(objects: readonly Tether[]): ReadonlyMap<string, ObjectCells> {
  const snapshots = useAppSelector(
    (state) =>
      state.workbench.alongside === null
        ? NONE
        : objects.map(({ base }) => tethersApi.endpoints.snapshot.select(base)(state).data),
    shallowEqual,
  );
  return useMemo(() => {
    const cells = new Map<string, ObjectCells>();
    snapshots.forEach((snapshot, index) => {
      const tether = objects[index];
      if (snapshot && tether) cells.set(tether.id, { sheet: snapshot.sheet, area: snapshot.area });
    });
    return cells;
  }, [snapshots, objects]);
}

import { useSyncExternalStore } from 'react';
import type { TableBreak } from '../../placed/table/PlacedTable.tsx';
import type { Orientation } from './orientation.ts';
import { ONE_PAGE, type PageFlow, type PageState } from './page-flow.ts';

const NO_BREAKS: TableBreak[] = [];
const never = () => () => undefined;

/** What is known of a document's pages now. */
export function usePages(flow: PageFlow | null): PageState {
  return useSyncExternalStore(flow?.subscribe ?? never, flow?.read ?? (() => ONE_PAGE));
}

/** Where pages break within an object. */
export function useTableBreaks(flow: PageFlow | null, tetherId: string): TableBreak[] {
  return useSyncExternalStore(
    flow?.subscribe ?? never,
    () => flow?.breaksOf(tetherId) ?? NO_BREAKS,
  );
}

/** How the sheet is turned that an object stands on; null for as the document's own. */
export function useTurned(flow: PageFlow | null, tetherId: string): Orientation | null {
  return useSyncExternalStore(
    flow?.subscribe ?? never,
    () => flow?.read().turned.get(tetherId) ?? null,
  );
}

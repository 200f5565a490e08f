import type { Tether } from '@tether/contract';
import { tethersApi } from './api.ts';

/** Which tether a placed object has: its own, or until a copy is saved that which it was copied from. */
export interface Placed {
  tetherId: string;
  copyOf?: string | null | undefined;
}

/**
 * The tether of an object in an open document. The screen around has asked for all of them: objects only read along, since a
 * hundred that each ask take long to open.
 */
export function usePlacedTether(documentId: string, placed: Placed): Tether | undefined {
  const { tetherId, copyOf } = placed;
  const { tether } = tethersApi.endpoints.tethers.useQueryState(documentId, {
    selectFromResult: ({ data }) => ({
      tether: data?.find(({ id }) => id === tetherId) ?? data?.find(({ id }) => id === copyOf),
    }),
  });
  return tether;
}

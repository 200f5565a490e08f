import type { Tether } from '@tether/contract';
import type { Fault } from '@tether/core';
import { useState } from 'react';
import { api, faultOf, useRefreshMutation } from '../app/api.ts';
import { useAppDispatch } from '../app/store.ts';

/** Refreshes objects to exactly the state that was shown, and keeps what was refused with its reason. */
export function useRefreshObjects() {
  const dispatch = useAppDispatch();
  const [refresh] = useRefreshMutation();
  const [isTaking, setTaking] = useState(false);
  const [refused, setRefused] = useState<{ id: string; fault: Fault }[]>([]);
  const take = async (objects: readonly Tether[]) => {
    if (objects.length === 0) return;
    setTaking(true);
    const tethers = objects.map(({ id, pending }) => ({ id, seen: pending }));
    const result = await refresh({ tethers });
    // Only with the newest standings on the screen may somebody decide again.
    const documentIds = new Set(objects.map(({ documentId }) => documentId));
    await Promise.all(
      [...documentIds].map((id) =>
        dispatch(api.endpoints.tethers.initiate(id, { forceRefetch: true, subscribe: false })),
      ),
    );
    setRefused(
      result.error
        ? objects.map(({ id }) => ({ id, fault: faultOf(result.error) }))
        : result.data.refused,
    );
    setTaking(false);
  };
  return { take, isTaking, refused };
}

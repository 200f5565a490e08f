import type { Tether } from '@tether/contract';
import type { Choice, Fault } from '@tether/core';
import { useState } from 'react';
import { faultOf, tethersApi, useLeaveMutation, useRefreshMutation } from '../../state/api.ts';
import { useAppDispatch } from '../../state/store.ts';

/** Takes or leaves changes of objects, exactly those that were shown; gives and keeps what was refused with its reason. */
export function useRefreshObjects() {
  const dispatch = useAppDispatch();
  const [refresh] = useRefreshMutation();
  const [leaveThem] = useLeaveMutation();
  const [isTaking, setTaking] = useState(false);
  const [refused, setRefused] = useState<{ id: string; fault: Fault }[]>([]);

  const decide = async (
    objects: readonly Tether[],
    ask: () => ReturnType<typeof refresh> | ReturnType<typeof leaveThem>,
  ): Promise<{ id: string; fault: Fault }[]> => {
    if (objects.length === 0) return [];
    setTaking(true);
    const result = await ask();
    // Only with the newest standings on the screen may somebody decide again.
    const documentIds = new Set(objects.map(({ documentId }) => documentId));
    await Promise.all(
      [...documentIds].map((id) =>
        dispatch(
          tethersApi.endpoints.tethers.initiate(id, { forceRefetch: true, subscribe: false }),
        ),
      ),
    );
    const not = result.error
      ? objects.map(({ id }) => ({ id, fault: faultOf(result.error) }))
      : result.data.refused;
    setRefused(not);
    setTaking(false);
    return not;
  };
  /** Takes everything, or of some objects only what was chosen. */
  const take = (objects: readonly Tether[], choices?: ReadonlyMap<string, Choice>) =>
    decide(objects, () =>
      refresh({
        tethers: objects.map(({ id, pending }) => {
          const choice = choices?.get(id);
          return { id, seen: pending, ...(choice ? { choice } : {}) };
        }),
      }),
    );
  const leave = (objects: readonly Tether[]) =>
    decide(objects, () =>
      leaveThem({ tethers: objects.map(({ id, pending }) => ({ id, seen: pending })) }),
    );
  return { take, leave, isTaking, refused };
}

import type { Tether } from '@tether/contract';
import type { Fault } from '@tether/core';
import { useState } from 'react';
import { faultOf, useRefreshMutation } from '../app/api.ts';

/** Refreshes objects to exactly the state that was shown, and keeps what was refused with its reason. */
export function useRefreshObjects() {
  const [refresh, { isLoading }] = useRefreshMutation();
  const [refused, setRefused] = useState<{ id: string; fault: Fault }[]>([]);
  const take = async (objects: readonly Tether[]) => {
    if (objects.length === 0) return;
    const tethers = objects.map(({ id, pending }) => ({ id, seen: pending }));
    const result = await refresh({ tethers });
    setRefused(
      result.error
        ? objects.map(({ id }) => ({ id, fault: faultOf(result.error) }))
        : result.data.refused,
    );
  };
  return { take, isTaking: isLoading, refused };
}

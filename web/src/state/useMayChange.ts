import { can } from '@tether/contract';
import { createContext, useContext } from 'react';
import { useMeQuery } from './api.ts';

/** Why nobody may change what is shown here, whatever their role; null where they may. */
export const OnlyLooking = createContext<string | null>(null);

/** Whether the person here may change documents and objects, and the sentence for a control that they may not use. */
export function useMayChange(): { isAllowed: boolean; whyNot: string | undefined } {
  const { data: me } = useMeQuery();
  const onlyLooking = useContext(OnlyLooking);
  const isAllowed =
    me !== undefined && can(me, 'change', { kind: 'document' }) && onlyLooking === null;
  return {
    isAllowed,
    whyNot: isAllowed
      ? undefined
      : (onlyLooking ?? 'You may look but not change: ask the owner or an editor.'),
  };
}

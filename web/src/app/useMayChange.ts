import { mayChange } from '@tether/contract';
import { useMeQuery } from './api.ts';

/** Whether the person here may change documents and objects, and the sentence for a control that they may not use. */
export function useMayChange(): { isAllowed: boolean; whyNot: string | undefined } {
  const { data: me } = useMeQuery();
  const isAllowed = me !== undefined && mayChange(me.role);
  return {
    isAllowed,
    whyNot: isAllowed ? undefined : 'You may look but not change: ask the owner or an editor.',
  };
}

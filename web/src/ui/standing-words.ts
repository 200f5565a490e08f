import type { Tether } from '@tether/contract';

/** Whether the source holds something that the object could take. */
export function hasChanges({ standing, pending }: Pick<Tether, 'standing' | 'pending'>): boolean {
  return standing === 'behind' || (standing === 'contested' && pending !== null);
}

/** How an object stands, with what somebody decided about it: `behind, left`, `behind on purpose`. */
export function standingWords({
  standing,
  left,
  pinnedTo,
}: Pick<Tether, 'standing' | 'left' | 'pinnedTo'>): string {
  if (pinnedTo) return standing === 'behind' ? 'behind on purpose' : `${standing}, kept on purpose`;
  return left ? `${standing}, left` : standing;
}

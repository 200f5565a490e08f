import type { Tether } from '@tether/contract';
import { kindOfThing, type Thing } from '@tether/documents';

/** What the kind of a thing is called. */
export const kindWords = (thing: Thing): string => kindOfThing(thing).words;

/** What a thing is called in lists: as its tether, or as it says itself, or as its kind. */
export function nameOfThing(thing: Thing, tethers: ReadonlyMap<string, Tether>): string {
  const own = 'tetherId' in thing ? tethers.get(thing.tetherId)?.name : null;
  return own || kindOfThing(thing).title?.(thing) || kindWords(thing);
}

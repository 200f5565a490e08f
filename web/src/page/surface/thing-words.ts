import type { Tether } from '@tether/contract';
import type { Thing } from '@tether/documents';

/** What kinds of things are called. */
export const THING_WORDS: Record<Thing['kind'], string> = {
  object: 'Object',
  text: 'Text',
  rectangle: 'Rectangle',
  ellipse: 'Circle or ellipse',
  line: 'Line',
  arc: 'Arc',
  dimension: 'Dimension',
  picture: 'Picture',
  view: 'Plan',
  marks: 'Marks',
};

/** What a thing is called in lists. */
export function nameOfThing(thing: Thing, tethers: ReadonlyMap<string, Tether>): string {
  switch (thing.kind) {
    case 'object':
      return tethers.get(thing.tetherId)?.name ?? THING_WORDS.object;
    case 'text':
      return thing.text.trim().split('\n')[0]?.slice(0, 60) || THING_WORDS.text;
    case 'picture':
      return thing.alt.trim() || THING_WORDS.picture;
    default:
      return THING_WORDS[thing.kind];
  }
}

import { bottomOf, roundMm, type Size, type TurnedBox } from '@tether/core';
import { z } from 'zod';
import { placementSchema } from '../../object/placement.ts';
import { base, length, millimetres, pointSchema } from './base.ts';
import { placeOf, type ThingKindOf } from './thing-kind.ts';

/** A tether's object on a page. */
export const objectSchema = z.object({
  ...base,
  kind: z.literal('object'),
  ...placementSchema.shape,
  /** Millimetres that it may take; null for as many as there are to the frame. */
  width: length.nullable().default(null),
  height: length.nullable().default(null),
  /** The thing that it stands below, so far away: it moves when that grows. */
  below: z.object({ of: z.uuid(), gap: millimetres }).nullable().default(null),
  /**
   * Parts of a folded table that stand at places of their own, by their number from 1: that of the first, which stands
   * where the object stands, is 0. From the corner of the object; each changes for itself.
   */
  pulled: z.record(z.string().regex(/^[1-9]\d?$/), pointSchema).default({}),
  /** Height of the capitals of a value or tag; null for as in a text. */
  letters: z.number().min(1).max(60).nullable().default(null),
  /** The text in whose line it stands, as a value or tag; null for a place of its own. */
  within: z.uuid().nullable().default(null),
  /** The field of the title block that it fills. */
  field: z.string().max(40).nullable().default(null),
});
export type ObjectThing = z.infer<typeof objectSchema>;

/** Millimetres of an object whose figures have not come yet. */
const UNKNOWN: Size = { width: 60, height: 20 };

const isSamePlace = (a: TurnedBox, b: TurnedBox) => a.x === b.x && a.y === b.y && a.turn === b.turn;

export const object: ThingKindOf<ObjectThing> = {
  words: 'Object',
  extent: 'content',
  turns: true,

  boxed(thing, around) {
    const { x, y, turn } = thing;
    const field = thing.field === null ? null : around.field(thing.field);
    if (field) return { ...field, turn: 0 };
    // A value in a line is somewhere in its text.
    const text = thing.within === null ? null : around.boxOf(thing.within, 'text');
    if (text) return text;
    const size = around.size ?? UNKNOWN;
    const above = thing.below && around.boxOf(thing.below.of);
    // Things that stand below each other in a circle stand where they say themselves.
    if (!thing.below || !above) return { x, y, ...size, turn };
    return { x: above.x, y: bottomOf(above) + thing.below.gap, ...size, turn };
  },

  sized: (thing, box, before) => ({
    // One that only is made larger or smaller stands below what it stood below.
    ...(before && isSamePlace(before, box) ? {} : { ...placeOf(box), below: null, field: null }),
    // What scales or is drawn as large as it is asked to be says so in its dressing.
    ...(thing.form === 'table' ? { width: roundMm(box.width), height: roundMm(box.height) } : {}),
  }),

  copied(copy, names) {
    const { below, tetherId, copyOf, within, field } = copy;
    const upper = below && names.thing(below.of);
    const own = names.tether(tetherId);
    return {
      ...copy,
      ...(own ? { tetherId: own, copyOf: copyOf ?? tetherId } : {}),
      field: names.isWhole ? field : null,
      within: within && names.thing(within),
      below: upper && below ? { ...below, of: upper } : null,
    };
  },
};

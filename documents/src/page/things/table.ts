import { z } from 'zod';
import {
  arc,
  arcSchema,
  dimension,
  dimensionSchema,
  ellipse,
  ellipseSchema,
  line,
  lineSchema,
  rectangle,
  rectangleSchema,
} from './drawn.ts';
import { marks, marksSchema } from './marks.ts';
import { object, objectSchema } from './object.ts';
import { picture, pictureSchema } from './picture.ts';
import { text, textSchema } from './text.ts';
import type { ThingKindOf } from './thing-kind.ts';
import { view, viewSchema } from './view.ts';

/** Something placed, drawn or written on a page. */
export const thingSchema = z.discriminatedUnion('kind', [
  objectSchema,
  textSchema,
  rectangleSchema,
  ellipseSchema,
  lineSchema,
  arcSchema,
  dimensionSchema,
  pictureSchema,
  viewSchema,
  marksSchema,
]);
export type Thing = z.infer<typeof thingSchema>;
export type ThingKind = Thing['kind'];
/** Things of one kind. */
export type ThingOf<K extends ThingKind> = Extract<Thing, { kind: K }>;

/** All kinds of things. */
const THINGS: { [K in ThingKind]: ThingKindOf<ThingOf<K>> } = {
  object,
  text,
  rectangle,
  ellipse,
  line,
  arc,
  dimension,
  picture,
  view,
  marks,
};

export const THING_KINDS = Object.keys(THINGS) as readonly ThingKind[];

/** What the house knows of the kind of a thing. */
export function kindOfThing<T extends Thing>(thing: T): ThingKindOf<T> {
  // Each kind stands under its own name, which the compiler cannot see here.
  return THINGS[thing.kind] as unknown as ThingKindOf<T>;
}

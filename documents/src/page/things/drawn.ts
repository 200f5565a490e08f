import { arcBox, boxAround, dimensionLines } from '@tether/core';
import { z } from 'zod';
import { base, boxed, colour, drawn, millimetres, pointSchema } from './base.ts';
import { asBox, asPoints, fromCorner, type ThingKindOf } from './thing-kind.ts';

const fill = z.union([colour, z.enum(['none', 'hatched'])]).default('none');

export const rectangleSchema = z.object({ ...boxed, kind: z.literal('rectangle'), ...drawn, fill });
export const ellipseSchema = z.object({ ...boxed, kind: z.literal('ellipse'), ...drawn, fill });
export const lineSchema = z.object({
  ...base,
  kind: z.literal('line'),
  ...drawn,
  /** From its corner, so that moving it does not change them. */
  points: z.array(pointSchema).min(2).max(5_000),
  isClosed: z.boolean().default(false),
  fill,
});
export const arcSchema = z.object({
  ...base,
  kind: z.literal('arc'),
  ...drawn,
  /** Its second end, from the first, which is its corner. */
  to: pointSchema,
  /** Millimetres that it bows out of the straight line, to the right as seen from its first end. */
  bow: millimetres,
});
export const dimensionSchema = z.object({
  ...base,
  kind: z.literal('dimension'),
  ...drawn,
  /** The second place that is measured, from the first, which is its corner. */
  to: pointSchema,
  /** Millimetres of the sheet between what is measured and the line. */
  beside: millimetres.default(8),
  /** The view whose plan it measures; null for the sheet. */
  view: z.uuid().nullable().default(null),
});

export const rectangle: ThingKindOf<z.infer<typeof rectangleSchema>> = {
  ...asBox,
  words: 'Rectangle',
};

export const ellipse: ThingKindOf<z.infer<typeof ellipseSchema>> = {
  ...asBox,
  words: 'Circle or ellipse',
};

export const line: ThingKindOf<z.infer<typeof lineSchema>> = {
  ...asPoints,
  words: 'Line',
  boxed: (thing) => fromCorner(thing, boxAround(thing.points)!),
};

export const arc: ThingKindOf<z.infer<typeof arcSchema>> = {
  ...asPoints,
  words: 'Arc',
  boxed: (thing) => fromCorner(thing, arcBox({ from: CORNER, to: thing.to, bow: thing.bow })),
};

export const dimension: ThingKindOf<z.infer<typeof dimensionSchema>> = {
  ...asPoints,
  words: 'Dimension',
  // It stands as what it measures stands.
  turns: false,
  boxed(thing) {
    const lines = dimensionLines(CORNER, thing.to, thing.beside);
    const places = lines ? [CORNER, thing.to, ...lines.extensions.flat()] : [CORNER];
    return fromCorner(thing, boxAround(places)!);
  },
  copied: (copy, names) => ({ ...copy, view: copy.view && (names.thing(copy.view) ?? copy.view) }),
  host: ({ view }) => view,
};

const CORNER = { x: 0, y: 0 };

import { LINE_KINDS, type LineKind } from '@tether/core';
import { z } from 'zod';
import { placementSchema } from '../object/placement.ts';
import { plainRich, type RichBlock, richSchema } from './rich.ts';

const colour = z.string().regex(/^#[0-9a-fA-F]{6}$/);
const lineKinds = Object.keys(LINE_KINDS) as [LineKind, ...LineKind[]];

/** A place on a page or a length, in millimetres: far more than the largest sheet. */
const millimetres = z.number().min(-20_000).max(20_000);
const length = z.number().min(0).max(20_000);
const pointSchema = z.object({ x: millimetres, y: millimetres });

/** What every thing on a page has. */
const base = {
  id: z.uuid(),
  /** The page that it stands on. */
  page: z.uuid(),
  /** From back to front. */
  order: z.number(),
  /** Its layer; null for the one that every document has. */
  layer: z.uuid().nullable().default(null),
  isLocked: z.boolean().default(false),
  /** Its upper left corner, before it is turned. */
  x: millimetres,
  y: millimetres,
  /** Degrees around its middle, clockwise. */
  turn: z.number().min(-360).max(360).default(0),
  /** What is moved and chosen with it. */
  group: z.uuid().nullable().default(null),
  /** The tether of the object that it took the place of. */
  was: z.uuid().optional(),
};

const boxed = { ...base, width: length, height: length };

/** How a line is drawn: its width in millimetres, its strokes, its colour. */
const drawn = {
  line: z.number().min(0.05).max(10).default(0.25),
  lineKind: z.enum(lineKinds).default('continuous'),
  colour: colour.default('#10242b'),
};

const pictured = {
  /** Of its bytes, by which the server has it. */
  hash: z.string().regex(/^[0-9a-f]{64}$/),
  alt: z.string().max(2_000).default(''),
  pixelWidth: z.number().positive(),
  pixelHeight: z.number().positive(),
};

/** Millimetres that a plan is wide at most in truth: 100 km. */
const MOST_TRUE = 1e8;
const planPointSchema = z.object({
  x: z.number().min(-MOST_TRUE).max(MOST_TRUE),
  y: z.number().min(-MOST_TRUE).max(MOST_TRUE),
});
const header = z.string().max(4_000);
/** Millimetres that one in a column stands for. */
const unit = z.number().positive().max(1e9);

/** Symbols that rows are marked with. */
export const MARK_SYMBOLS = ['circle', 'square', 'triangle', 'cross'] as const;
export type MarkSymbol = (typeof MARK_SYMBOLS)[number];

/** Something placed, drawn or written on a page. */
export const thingSchema = z.discriminatedUnion('kind', [
  z.object({
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
  }),
  z.object({
    ...boxed,
    kind: z.literal('text'),
    /** Its words alone. */
    text: z.string().max(20_000),
    /** What is written, where that is more than words: letters of other kinds, lists, values. */
    rich: richSchema.nullable().default(null),
    /** What it is on a slide, whose look it follows then; null for a text of its own look. */
    role: z.enum(['title', 'words']).nullable().default(null),
    /** Height of capital letters in millimetres. */
    letters: z.number().min(1).max(60).default(3.5),
    align: z.enum(['left', 'center', 'right']).default('left'),
    bold: z.boolean().default(false),
    colour: drawn.colour,
    /** Where its leader line points, from its upper left corner; null for none. */
    leader: pointSchema.nullable().default(null),
  }),
  z.object({
    ...boxed,
    kind: z.enum(['rectangle', 'ellipse']),
    ...drawn,
    fill: z.union([colour, z.enum(['none', 'hatched'])]).default('none'),
  }),
  z.object({
    ...base,
    kind: z.literal('line'),
    ...drawn,
    /** From its corner, so that moving it does not change them. */
    points: z.array(pointSchema).min(2).max(5_000),
    isClosed: z.boolean().default(false),
    fill: z.union([colour, z.enum(['none', 'hatched'])]).default('none'),
  }),
  z.object({
    ...base,
    kind: z.literal('arc'),
    ...drawn,
    /** Its second end, from the first, which is its corner. */
    to: pointSchema,
    /** Millimetres that it bows out of the straight line, to the right as seen from its first end. */
    bow: millimetres,
  }),
  z.object({
    ...base,
    kind: z.literal('dimension'),
    ...drawn,
    /** The second place that is measured, from the first, which is its corner. */
    to: pointSchema,
    /** Millimetres of the sheet between what is measured and the line. */
    beside: millimetres.default(8),
    /** The view whose plan it measures; null for the sheet. */
    view: z.uuid().nullable().default(null),
  }),
  z.object({ ...boxed, kind: z.literal('picture'), ...pictured }),
  z.object({
    ...boxed,
    kind: z.literal('view'),
    ...pictured,
    /** Millimetres that the whole plan is wide in truth. */
    trueWidth: z.number().positive().max(MOST_TRUE),
    /** Whether that is known: its file says it, or somebody did. */
    isSized: z.boolean().default(true),
    /** Millimetres of the sheet for one of the plan. */
    scale: z.number().min(1e-7).max(1e4),
    /** The place of the plan in the middle of the view. */
    centre: planPointSchema,
    /** How the plan is turned in it; degrees, clockwise. */
    planTurn: z.number().min(-360).max(360).default(0),
    isGrey: z.boolean().default(false),
    /** Its plan is lines and areas alone, which stay what they are in grey. */
    isLines: z.boolean().default(false),
    /** Layers of the plan’s own file that are not shown, by their keys. */
    without: z
      .array(
        z
          .string()
          .regex(/^\d+(\.\d+)*$/)
          .max(80),
      )
      .max(200)
      .default([]),
    hasBar: z.boolean().default(true),
    /** Where north is in the plan: degrees from straight up, clockwise; null where no arrow is drawn. */
    north: z.number().min(-360).max(360).nullable().default(null),
  }),
  z.object({
    ...base,
    kind: z.literal('marks'),
    /** The tether whose rows they are. */
    of: z.uuid(),
    /** The view in whose plan they stand. */
    view: z.uuid(),
    key: header,
    labels: z.array(header).max(20).default([]),
    from: z.discriminatedUnion('kind', [
      z.object({ kind: z.literal('hand') }),
      z.object({ kind: z.literal('coordinates'), x: header, y: header, unit }),
      z.object({
        kind: z.literal('along'),
        line: z.array(planPointSchema).min(2).max(5_000),
        chainage: header,
        offset: header.nullable(),
        unit,
      }),
    ]),
    /** Places that were set by hand, by the texts that name the rows; each changes for itself. */
    places: z.record(z.string().max(4_000), planPointSchema).default({}),
    /** What the ground of a symbol follows; null for white. */
    colours: z
      .object({ kind: z.enum(['source', 'texts']), column: header })
      .nullable()
      .default(null),
    /** Whether what the colours stand for is said in the view. */
    hasKey: z.boolean().default(true),
    /** The column that the areas of symbols follow; null for one size. */
    sizes: header.nullable().default(null),
    symbol: z.enum(MARK_SYMBOLS).default('circle'),
    /** Of the symbol, and height of the capitals of its label; millimetres of the sheet. */
    size: z.number().min(0.5).max(50).default(4),
    letters: z.number().min(1).max(20).default(2.5),
    colour: drawn.colour,
  }),
]);
export type Thing = z.infer<typeof thingSchema>;
export type ThingKind = Thing['kind'];
export type ObjectThing = Extract<Thing, { kind: 'object' }>;
export type TextThing = Extract<Thing, { kind: 'text' }>;
export type ViewThing = Extract<Thing, { kind: 'view' }>;
export type MarksThing = Extract<Thing, { kind: 'marks' }>;
/** What is written in a text, whatever it was written as. */
export const richOf = ({ rich, text }: TextThing): RichBlock[] => rich ?? plainRich(text);

export const THING_KINDS: readonly ThingKind[] = [
  'view',
  'marks',
  'object',
  'text',
  'rectangle',
  'ellipse',
  'line',
  'arc',
  'dimension',
  'picture',
];

/** Things that are shown, printed and drawn alike. */
export const layerSchema = z.object({
  id: z.uuid(),
  name: z.string().max(120),
  order: z.number(),
  isVisible: z.boolean().default(true),
  /** Whether what is on it is printed, and shown to those who only look. */
  isPrinted: z.boolean().default(true),
  /** Colour of what is drawn and written on it, and width of its lines; null for those that each thing has. */
  colour: colour.nullable().default(null),
  line: z.number().min(0.05).max(10).nullable().default(null),
  isLocked: z.boolean().default(false),
});
export type Layer = z.infer<typeof layerSchema>;

import { LINE_KINDS, type LineKind } from '@tether/core';
import { z } from 'zod';
import { asOneValue } from '../../shared/entries.ts';

/** Of lines, letters and grounds. */
export const colour = z.string().regex(/^#[0-9a-fA-F]{6}$/);
export const USUAL_COLOUR = '#10242b';
const lineKinds = Object.keys(LINE_KINDS) as [LineKind, ...LineKind[]];

/** A place on a page or a length, in millimetres: far more than the largest sheet. */
export const millimetres = z.number().min(-20_000).max(20_000);
export const length = z.number().min(0).max(20_000);
export const pointSchema = asOneValue(z.object({ x: millimetres, y: millimetres }));

/** What every thing on a page has. */
export const base = {
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

/** What every thing has that is as large as it says. */
export const boxed = { ...base, width: length, height: length };

/** How a line is drawn: its width in millimetres, its strokes, its colour. */
export const drawn = {
  line: z.number().min(0.05).max(10).default(0.25),
  lineKind: z.enum(lineKinds).default('continuous'),
  colour: colour.default(USUAL_COLOUR),
};

/** What every thing has that shows a picture. */
export const pictured = {
  /** Of its bytes, by which the server has it. */
  hash: z.string().regex(/^[0-9a-f]{64}$/),
  alt: z.string().max(2_000).default(''),
  pixelWidth: z.number().positive(),
  pixelHeight: z.number().positive(),
};

/** Millimetres that a plan is wide at most in truth: 100 km. */
export const MOST_TRUE = 1e8;
/** A place of a plan, in millimetres of the truth. */
export const planPointSchema = asOneValue(
  z.object({
    x: z.number().min(-MOST_TRUE).max(MOST_TRUE),
    y: z.number().min(-MOST_TRUE).max(MOST_TRUE),
  }),
);

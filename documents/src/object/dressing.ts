import {
  type AxisMaking,
  type ChartMaking,
  type DocumentLook,
  type ForecastWish,
  MADE_KINDS,
  type Override,
  TABLE_STYLES,
} from '@tether/core';
import { z } from 'zod';

const bandKeySchema = z.object({
  text: z.string().max(4000),
  nth: z.int().min(0),
  before: z.string().max(4000).nullable(),
  after: z.string().max(4000).nullable(),
});

const axisMakingSchema = z.object({
  title: z.string().max(200),
  min: z.number().nullable(),
  max: z.number().nullable(),
  format: z.string().max(120),
}) satisfies z.ZodType<AxisMaking>;

export const chartMakingSchema = z.object({
  kind: z.enum(MADE_KINDS),
  seriesBy: z.enum(['columns', 'rows']),
  stacking: z.enum(['none', 'stacked', 'share']),
  title: z.string().max(200),
  legend: z.enum(['top', 'right', 'bottom', 'left']).nullable(),
  withTotals: z.boolean(),
  points: bandKeySchema.nullable().optional(),
  series: z
    .array(
      z.object({
        column: bandKeySchema,
        isLeftOut: z.boolean(),
        isOnSecond: z.boolean().optional(),
      }),
    )
    .max(500)
    .optional(),
  namesAxis: axisMakingSchema.optional(),
  valueAxis: axisMakingSchema.optional(),
  secondAxis: axisMakingSchema.optional(),
}) satisfies z.ZodType<ChartMaking>;

const followsSchema = z.enum(['source', 'document']);
const colourSchema = z.string().regex(/^#[0-9a-fA-F]{6}$/);
const millimetres = z.number().min(1).max(1000);

/** Something set for a part of a table; see `core/look/overrides`. */
export const overrideSchema = z.object({
  row: bandKeySchema.nullable(),
  column: bandKeySchema.nullable(),
  look: z
    .object({
      align: z.enum(['left', 'center', 'right']),
      bold: z.boolean(),
      italic: z.boolean(),
      colour: colourSchema,
      fill: z.union([colourSchema, z.literal('none')]),
      format: z.string().min(1).max(120),
      width: millimetres,
      height: millimetres,
      isHidden: z.boolean(),
    })
    .partial(),
}) satisfies z.ZodType<Override>;

/** How the series of a table or chart are carried on. */
export const forecastWishSchema = z.object({
  periods: z.int().min(1).max(400),
  season: z.union([z.literal('found'), z.literal('none'), z.int().min(2).max(400)]),
  confidence: z.number().min(50).max(99),
}) satisfies z.ZodType<ForecastWish>;

/** How a placed object is dressed beyond what its source says. It lives in the text, so that undo brings it back. */
export const dressingSchema = z.object({
  /** Of a table: what of its look follows the document instead of the source. */
  table: z
    .object({
      letters: followsSchema,
      fills: followsSchema,
      formats: followsSchema,
      widths: followsSchema,
    })
    .partial()
    .optional(),
  /** Of a table: what was set for its cells, rows and columns. */
  overrides: z.array(overrideSchema).max(500).optional(),
  /** Of a table: in how many parts its rows stand side by side. */
  beside: z.int().min(1).max(6).optional(),
  /** Of a facsimile or chart: its width in millimetres; absent for as wide as it is, or as the text. */
  width: millimetres.optional(),
  /** Of a chart: its height in millimetres. */
  height: millimetres.optional(),
  /** Of a chart; absent for as it is suggested, or as the source draws it. */
  chart: chartMakingSchema.optional(),
  /** Of a table or a chart made here: how its series are carried on. */
  forecast: forecastWishSchema.optional(),
  /** Of a value: words around it, and a number format code of its own. */
  value: z
    .object({
      before: z.string().max(60),
      after: z.string().max(60),
      format: z.string().max(120),
    })
    .partial()
    .optional(),
});
export type Dressing = z.infer<typeof dressingSchema>;

/** How the objects of a document look that follow it instead of their source. */
export const documentLookSchema = z.object({
  tableStyle: z.enum(TABLE_STYLES),
  decimals: z.int().min(0).max(4),
  dates: z.string().min(1).max(40),
}) satisfies z.ZodType<DocumentLook>;

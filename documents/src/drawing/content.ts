import { DRAWING_SIZES, USUAL_LOOK } from '@tether/core';
import { z } from 'zod';
import { documentLookSchema } from '../object/dressing.ts';
import { layerSchema } from '../page/layer.ts';
import { thingSchema } from '../page/things/table.ts';
import { TITLE_FIELDS, type TitleField } from './title-block.ts';

/** A sheet of a drawing. */
export const sheetSchema = z.object({
  id: z.uuid(),
  name: z.string().max(120),
  /** Its place among the sheets. */
  order: z.number(),
  size: z.enum(DRAWING_SIZES),
  isLandscape: z.boolean(),
});
export type DrawingSheet = z.infer<typeof sheetSchema>;

/** What is settled once for a drawing; what is not understood is as usual. */
export const drawingSettingsSchema = z.object({
  look: documentLookSchema.catch(USUAL_LOOK).default(USUAL_LOOK),
  /** Millimetres between the lines of the grid that things snap to; null for none. */
  grid: z.number().min(0.5).max(200).nullable().catch(5).default(5),
  /** What its title block says, by field. */
  fields: z
    .partialRecord(z.enum(Object.keys(TITLE_FIELDS) as [TitleField]), z.string().max(200))
    .catch({})
    .default({}),
});
export type DrawingSettings = z.infer<typeof drawingSettingsSchema>;

export const drawingContentSchema = z.object({
  type: z.literal('drawing'),
  settings: drawingSettingsSchema.default(drawingSettingsSchema.parse({})),
  pages: z.array(sheetSchema).min(1).max(200),
  layers: z.array(layerSchema).max(200).default([]),
  things: z.array(thingSchema).max(20_000).default([]),
});
export type DrawingContent = z.infer<typeof drawingContentSchema>;

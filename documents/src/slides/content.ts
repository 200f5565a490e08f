import { USUAL_LOOK } from '@tether/core';
import { z } from 'zod';
import { documentLookSchema } from '../object/dressing.ts';
import { layerSchema } from '../page/layer.ts';
import { thingSchema } from '../page/things/table.ts';
import { DECK_LOOKS, type DeckLookName } from './deck-look.ts';

/** Sizes of slides in millimetres: ten inches wide, by common practice of projectors. */
export const SLIDE_SIZES = {
  '16:9': { width: 254, height: 142.88 },
  '4:3': { width: 254, height: 190.5 },
} as const;
export type Proportion = keyof typeof SLIDE_SIZES;

/** How what stands on a new slide is arranged. */
export const ARRANGEMENTS = ['opening', 'title and words', 'two halves', 'empty'] as const;
export type Arrangement = (typeof ARRANGEMENTS)[number];

export const slideSchema = z.object({
  id: z.uuid(),
  /** Its place among the slides. */
  order: z.number(),
  arrangement: z.enum(ARRANGEMENTS),
  /** What the speaker wants to say; only the speaker sees it. */
  notes: z.string().max(20_000).default(''),
});
export type Slide = z.infer<typeof slideSchema>;

/** What is settled once for a deck; what is not understood is as usual. */
export const deckSettingsSchema = z.object({
  look: documentLookSchema.catch(USUAL_LOOK).default(USUAL_LOOK),
  deckLook: z
    .enum(Object.keys(DECK_LOOKS) as [DeckLookName])
    .catch('low water')
    .default('low water'),
  proportion: z.enum(['16:9', '4:3']).catch('16:9').default('16:9'),
  grid: z.number().min(0.5).max(200).nullable().catch(5).default(5),
  /** A line at the foot of every slide but the first. */
  foot: z.string().max(200).catch('').default(''),
  hasNumbers: z.boolean().catch(true).default(true),
});
export type DeckSettings = z.infer<typeof deckSettingsSchema>;

export const slidesContentSchema = z.object({
  type: z.literal('slides'),
  settings: deckSettingsSchema.default(deckSettingsSchema.parse({})),
  pages: z.array(slideSchema).min(1).max(1_000),
  layers: z.array(layerSchema).max(200).default([]),
  things: z.array(thingSchema).max(20_000).default([]),
});
export type SlidesContent = z.infer<typeof slidesContentSchema>;

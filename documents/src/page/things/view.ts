import { z } from 'zod';
import { asDistinct } from '../../shared/entries.ts';
import { boxed, MOST_TRUE, pictured, planPointSchema } from './base.ts';
import { asBox, type ThingKindOf } from './thing-kind.ts';

/** A part of a plan, to scale. */
export const viewSchema = z.object({
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
  without: asDistinct(
    z.array(
      z
        .string()
        .regex(/^\d+(\.\d+)*$/)
        .max(80),
    ),
    200,
  ).default([]),
  hasBar: z.boolean().default(true),
  /** Where north is in the plan: degrees from straight up, clockwise; null where no arrow is drawn. */
  north: z.number().min(-360).max(360).nullable().default(null),
});
export type ViewThing = z.infer<typeof viewSchema>;

export const view: ThingKindOf<ViewThing> = { ...asBox, words: 'Plan' };

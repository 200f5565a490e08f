import { z } from 'zod';
import { colour } from './things/base.ts';

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

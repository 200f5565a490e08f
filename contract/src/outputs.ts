import { z } from 'zod';
import { faultSchema } from './fault.ts';

/** One line of what the server tells while it prints: a step, then the file’s id or why there is none. */
export const printProgressSchema = z.union([
  z.object({ step: z.literal('opening') }),
  z.object({ step: z.literal('breaking into pages') }),
  z.object({ step: z.literal('printing'), pages: z.int().min(1) }),
  z.object({ file: z.uuid() }),
  z.object({ fault: faultSchema }),
]);
export type PrintProgress = z.infer<typeof printProgressSchema>;

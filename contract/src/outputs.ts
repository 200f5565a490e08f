import { z } from 'zod';
import { faultSchema } from './fault.ts';

/** What a document is written out as: all its pages in one PDF, or each page as a drawing or a picture. */
export const PRINT_FORMS = ['pdf', 'svg', 'png'] as const;
export type PrintForm = (typeof PRINT_FORMS)[number];

/** Dots to the inch that a picture of a page can have. */
export const PICTURE_DOTS = [96, 150, 300, 600] as const;

const flag = z
  .string()
  .optional()
  .transform((said) => said !== undefined);

/** What is asked of printing. */
export const printQuerySchema = z.object({
  as: z.enum(PRINT_FORMS).default('pdf'),
  /** The page, from 1; left out for all of them. */
  page: z.coerce.number().int().min(1).optional(),
  /** Dots to the inch of a picture. */
  dots: z.coerce.number().int().min(24).max(1200).default(150),
  /** Cells that changed since the person last looked are marked. */
  marks: flag,
  /** Each slide stands over its notes. */
  notes: flag,
});
export type PrintQuery = z.infer<typeof printQuerySchema>;

/** One line of what the server tells while it prints: a step, then the file’s id or why there is none. */
export const printProgressSchema = z.union([
  z.object({ step: z.literal('opening') }),
  z.object({ step: z.literal('breaking into pages') }),
  z.object({ step: z.literal('printing'), pages: z.int().min(1) }),
  z.object({ file: z.uuid() }),
  z.object({ fault: faultSchema }),
]);
export type PrintProgress = z.infer<typeof printProgressSchema>;

import { z } from 'zod';

/** How a person writes numbers and days. */
export const writingSchema = z.object({
  decimal: z.enum(['.', ',']),
  dates: z.enum(['day first', 'month first']),
});

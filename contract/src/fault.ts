import { FAULT_CODES } from '@tether/core';
import { z } from 'zod';

/** A fault as it travels: the body of every response that is not a success is `{ fault }`. */
export const faultSchema = z.object({
  code: z.enum(FAULT_CODES),
  message: z.string(),
  hint: z.string(),
});

export const faultResponseSchema = z.object({ fault: faultSchema });

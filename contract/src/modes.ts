import { isTimeZone, type Mode, type Timetable } from '@tether/core';
import { z } from 'zod';

const timetableSchema = z.union([
  z.object({ every: z.int().min(1).max(1440) }),
  z.object({
    at: z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/),
    days: z.enum(['daily', 'weekdays']),
    zone: z.string().max(60).refine(isTimeZone, 'no such time zone'),
  }),
]) satisfies z.ZodType<Timetable>;

export const modeSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('automatic') }),
  z.object({ kind: z.literal('on opening'), how: z.enum(['ask', 'always']) }),
  z.object({ kind: z.literal('timetable'), timetable: timetableSchema }),
  z.object({ kind: z.literal('manual') }),
]) satisfies z.ZodType<Mode>;

/** A default mode, of a source for instance; null for none. */
export const changeModeSchema = z.object({ mode: modeSchema.nullable() });

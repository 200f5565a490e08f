import { type Paper, USUAL_LOOK, USUAL_PAPER } from '@tether/core';
import { z } from 'zod';
import { documentLookSchema } from '../object/dressing.ts';

const margin = z.number().min(5).max(80);
export const paperSchema = z.object({
  size: z.enum(['A3', 'A4', 'A5']),
  isLandscape: z.boolean(),
  margins: z.object({ top: margin, right: margin, bottom: margin, left: margin }),
}) satisfies z.ZodType<Paper>;

/** A line at the head or foot of every page: texts at its left, in its middle and at its right. */
const runningLineSchema = z.object({
  left: z.string().max(200),
  middle: z.string().max(200),
  right: z.string().max(200),
});
export type RunningLine = z.infer<typeof runningLineSchema>;
const NOTHING: RunningLine = { left: '', middle: '', right: '' };

const USUAL_LANGUAGE = 'en-GB';

/** What is settled once for a document. It lives in its text, so that undo brings it back; what is not understood is as usual. */
export const reportSettingsSchema = z.object({
  /** Of its words, as a language tag (RFC 5646): browsers look up spelling in it, and screen readers speak it. */
  language: z
    .string()
    .regex(/^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$/)
    .catch(USUAL_LANGUAGE)
    .default(USUAL_LANGUAGE),
  paper: paperSchema.catch(USUAL_PAPER).default(USUAL_PAPER),
  look: documentLookSchema.catch(USUAL_LOOK).default(USUAL_LOOK),
  header: runningLineSchema.catch(NOTHING).default(NOTHING),
  footer: runningLineSchema.catch(NOTHING).default({ ...NOTHING, right: '{page} / {pages}' }),
});
export type ReportSettings = z.infer<typeof reportSettingsSchema>;

/** What a document says of itself; as usual where it says nothing. */
export function reportSettings(content: { attrs?: unknown }): ReportSettings {
  const read = reportSettingsSchema.safeParse(content.attrs ?? {});
  return read.success ? read.data : reportSettingsSchema.parse({});
}

import { z } from 'zod';

/** In which form a part of a source stands in a document. */
export const FORMS = ['table', 'facsimile', 'chart', 'value', 'tag'] as const;
export const formSchema = z.enum(FORMS);
export type Form = z.infer<typeof formSchema>;

/** Whether a form stands inside a line of text. */
export function isInline(form: Form): boolean {
  return form === 'value' || form === 'tag';
}

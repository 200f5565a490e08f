import { z } from 'zod';
import { dressingSchema } from './dressing.ts';
import { formSchema } from './form.ts';

/**
 * What a document says of an object that is placed in it. `copyOf` names the tether that a copied object was copied from. A form or dressing
 * that nobody knows is as if nothing were said.
 */
export const placementSchema = z.object({
  tetherId: z.uuid(),
  copyOf: z.uuid().nullish(),
  form: formSchema.catch('table').default('table'),
  dressing: dressingSchema.catch({}).default({}),
});
export type Placement = z.infer<typeof placementSchema>;

/** Name of the node that stands for a placed object inside a line of text: a value or a tag. */
export const PLACED_INLINE = 'placedInline';

import { z } from 'zod';
import { boxed, pictured } from './base.ts';
import { asBox, type ThingKindOf } from './thing-kind.ts';

export const pictureSchema = z.object({ ...boxed, kind: z.literal('picture'), ...pictured });

export const picture: ThingKindOf<z.infer<typeof pictureSchema>> = {
  ...asBox,
  words: 'Picture',
  title: ({ alt }) => alt.trim(),
};

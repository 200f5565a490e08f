import { z } from 'zod';
import { changeValues, plainRich, type RichBlock, richSchema, valueIn } from '../rich.ts';
import { boxed, drawn, pointSchema } from './base.ts';
import { asBox, type ThingKindOf } from './thing-kind.ts';

/** Something written on a page. */
export const textSchema = z.object({
  ...boxed,
  kind: z.literal('text'),
  /** Its words alone. */
  text: z.string().max(20_000),
  /** What is written, where that is more than words: letters of other kinds, lists, values. */
  rich: richSchema.nullable().default(null),
  /** What it is on a slide, whose look it follows then; null for a text of its own look. */
  role: z.enum(['title', 'words']).nullable().default(null),
  /** Height of capital letters in millimetres. */
  letters: z.number().min(1).max(60).default(3.5),
  align: z.enum(['left', 'center', 'right']).default('left'),
  bold: z.boolean().default(false),
  colour: drawn.colour,
  /** Where its leader line points, from its upper left corner; null for none. */
  leader: pointSchema.nullable().default(null),
});
export type TextThing = z.infer<typeof textSchema>;

/** What is written in a text, whatever it was written as. */
export const richOf = ({ rich, text }: TextThing): RichBlock[] => rich ?? plainRich(text);

/** Letters of a text by which lists name it. */
const MOST_OF_TITLE = 60;

export const text: ThingKindOf<TextThing> = {
  ...asBox,
  words: 'Text',
  copied: (copy, names) =>
    copy.rich
      ? { ...copy, rich: changeValues(copy.rich, (id) => valueIn(names.tether(id) ?? id)) }
      : copy,
  title: (thing) => thing.text.trim().split('\n')[0]?.slice(0, MOST_OF_TITLE) ?? '',
};

import { z } from 'zod';
import { asDistinct } from '../../shared/entries.ts';
import { base, drawn, planPointSchema } from './base.ts';
import { placeOf, type ThingKindOf } from './thing-kind.ts';

const header = z.string().max(4_000);
/** Millimetres that one in a column stands for. */
const unit = z.number().positive().max(1e9);

/** Symbols that rows are marked with. */
export const MARK_SYMBOLS = ['circle', 'square', 'triangle', 'cross'] as const;
export type MarkSymbol = (typeof MARK_SYMBOLS)[number];

/** Rows of an object as marks in a plan. */
export const marksSchema = z.object({
  ...base,
  kind: z.literal('marks'),
  /** The tether whose rows they are. */
  of: z.uuid(),
  /** The view in whose plan they stand. */
  view: z.uuid(),
  key: header,
  labels: asDistinct(z.array(header), 20).default([]),
  from: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('hand') }),
    z.object({ kind: z.literal('coordinates'), x: header, y: header, unit }),
    z.object({
      kind: z.literal('along'),
      line: z.array(planPointSchema).min(2).max(5_000),
      chainage: header,
      offset: header.nullable(),
      unit,
    }),
  ]),
  /** Places that were set by hand, by the texts that name the rows; each changes for itself. */
  places: z.record(z.string().max(4_000), planPointSchema).default({}),
  /** What the ground of a symbol follows; null for white. */
  colours: z
    .object({ kind: z.enum(['source', 'texts']), column: header })
    .nullable()
    .default(null),
  /** Whether what the colours stand for is said in the view. */
  hasKey: z.boolean().default(true),
  /** The column that the areas of symbols follow; null for one size. */
  sizes: header.nullable().default(null),
  symbol: z.enum(MARK_SYMBOLS).default('circle'),
  /** Of the symbol, and height of the capitals of its label; millimetres of the sheet. */
  size: z.number().min(0.5).max(50).default(4),
  letters: z.number().min(1).max(20).default(2.5),
  colour: drawn.colour,
});
export type MarksThing = z.infer<typeof marksSchema>;

export const marks: ThingKindOf<MarksThing> = {
  words: 'Marks',
  extent: 'host',
  turns: false,
  boxed: ({ view, x, y, turn }, around) =>
    around.boxOf(view, 'view') ?? { x, y, width: 0, height: 0, turn },
  sized: (_, box) => placeOf(box),
  copied: (copy, names) => ({
    ...copy,
    of: names.tether(copy.of) ?? copy.of,
    view: names.thing(copy.view) ?? copy.view,
  }),
  host: ({ view }) => view,
};

import { z } from 'zod';
import { isLead } from '../object/lead.ts';
import { PLACED_INLINE } from '../object/placement.ts';

/** Marks that letters of a text on a page can have beside the address they lead to. */
export const RICH_MARKS = [
  'bold',
  'italic',
  'underline',
  'strike',
  'subscript',
  'superscript',
] as const;

const markSchema = z.union([
  z.object({ type: z.enum(RICH_MARKS) }),
  /** Leads the words to an address. */
  z.object({
    type: z.literal('link'),
    attrs: z.object({ href: z.string().max(2_000).refine(isLead) }),
  }),
]);
export type RichMark = z.infer<typeof markSchema>;
const inlineSchema = z.discriminatedUnion('type', [
  z.object({
    type: z.literal('text'),
    text: z.string().min(1).max(20_000),
    marks: z.array(markSchema).max(10).optional(),
  }),
  z.object({ type: z.literal('hardBreak') }),
  /** A value or tag in the line: the object that says that it stands `within` this text. */
  z.object({ type: z.literal(PLACED_INLINE), attrs: z.object({ tetherId: z.uuid() }) }),
]);
export type RichInline = z.infer<typeof inlineSchema>;

/** How deep headings go; those of reports go as deep. */
export const HEADING_LEVELS = [1, 2, 3] as const;
export type HeadingLevel = (typeof HEADING_LEVELS)[number];

/** A paragraph or a heading. */
export type RichLine = { content?: RichInline[] | undefined } & (
  | { type: 'paragraph' }
  | { type: 'heading'; attrs: { level: HeadingLevel } }
);

/** A paragraph, a heading, or a list of items that are such and lists. */
export type RichBlock =
  | RichLine
  | { type: 'bulletList' | 'orderedList'; content: { type: 'listItem'; content: RichBlock[] }[] };

/** Lists within lists, so deep at most. */
const DEEPEST = 5;

function blockSchema(depth: number): z.ZodType<RichBlock> {
  const content = z.array(inlineSchema).max(2_000).optional();
  const paragraph = z.object({ type: z.literal('paragraph'), content });
  const attrs = z.object({ level: z.literal(HEADING_LEVELS) });
  const heading = z.object({ type: z.literal('heading'), attrs, content });
  const line = z.discriminatedUnion('type', [paragraph, heading]);
  if (depth === 0) return line as z.ZodType<RichBlock>;
  const item = z.object({
    type: z.literal('listItem'),
    content: z.array(blockSchema(depth - 1)).max(200),
  });
  return z.union([
    line,
    z.object({ type: z.enum(['bulletList', 'orderedList']), content: z.array(item).max(500) }),
  ]) as z.ZodType<RichBlock>;
}

/** What is written in a text on a page. */
export const richSchema = z.array(blockSchema(DEEPEST)).max(1_000);

/** Whether a block is a paragraph or heading, and no list. */
export const isLine = (block: RichBlock): block is RichLine =>
  block.type === 'paragraph' || block.type === 'heading';

/** A text without anything but its words, as it is written. */
export function plainRich(text: string): RichBlock[] {
  return text
    .split('\n')
    .map((line) =>
      line === ''
        ? { type: 'paragraph' }
        : { type: 'paragraph', content: [{ type: 'text', text: line }] },
    );
}

/** What a text says in words: items with a sign or their number before them, each value as `value` says, or three points. */
export function richWords(
  blocks: readonly RichBlock[],
  value: (tetherId: string) => string = () => '…',
  indent = '',
): string {
  return blocks
    .map((block) => {
      if (isLine(block)) {
        return (block.content ?? []).map((inline) => inlineWords(inline, value)).join('');
      }
      const sign = (at: number) => (block.type === 'bulletList' ? '•' : `${at + 1}.`);
      return block.content
        .map(
          ({ content }, at) => `${indent}${sign(at)} ${richWords(content, value, `${indent}  `)}`,
        )
        .join('\n');
    })
    .join('\n');
}

function inlineWords(inline: RichInline, value: (tetherId: string) => string): string {
  if (inline.type === 'text') return inline.text;
  return inline.type === 'hardBreak' ? '\n' : value(inline.attrs.tetherId);
}

/** Whether a text is no more than its words, line by line. */
export function isPlain(blocks: readonly RichBlock[]): boolean {
  return blocks.every(
    (block) =>
      block.type === 'paragraph' &&
      (block.content ?? []).every((inline) => inline.type === 'text' && !inline.marks?.length),
  );
}

/** The tethers of the values in a text, in reading order. */
export function tethersIn(blocks: readonly RichBlock[]): string[] {
  return blocks.flatMap((block) =>
    isLine(block)
      ? (block.content ?? []).flatMap((inline) =>
          inline.type === PLACED_INLINE ? [inline.attrs.tetherId] : [],
        )
      : block.content.flatMap(({ content }) => tethersIn(content)),
  );
}

/** A text with each of its values as `change` has it: another tether, words in its place, or nothing. */
export function changeValues(
  blocks: readonly RichBlock[],
  change: (tetherId: string) => RichInline | null,
): RichBlock[] {
  return blocks.map((block): RichBlock => {
    if (!isLine(block)) {
      return {
        ...block,
        content: block.content.map((item) => ({
          ...item,
          content: changeValues(item.content, change),
        })),
      };
    }
    if (!block.content) return block;
    const content = block.content.flatMap((inline) =>
      inline.type === PLACED_INLINE ? (change(inline.attrs.tetherId) ?? []) : inline,
    );
    return { ...block, content };
  });
}

/** A value as it stands in a line. */
export const valueIn = (tetherId: string): RichInline => ({
  type: PLACED_INLINE,
  attrs: { tetherId },
});

/** A text with something more at its end. */
export function withAtEnd(blocks: readonly RichBlock[], inline: RichInline): RichBlock[] {
  const last = blocks.at(-1);
  if (!last || !isLine(last)) return [...blocks, { type: 'paragraph', content: [inline] }];
  return [...blocks.slice(0, -1), { ...last, content: [...(last.content ?? []), inline] }];
}

import { type ChartMaking, MADE_KINDS } from '@tether/core';
import { z } from 'zod';

/** A mark or node attribute is plain JSON. */
const attributesSchema = z.record(z.string(), z.json());

/** One node of a document's text. */
export interface DocumentNode {
  type: string;
  attrs?: Record<string, z.infer<ReturnType<typeof z.json>>>;
  content?: DocumentNode[];
  marks?: { type: string; attrs?: Record<string, z.infer<ReturnType<typeof z.json>>> }[];
  text?: string;
}

const nodeSchema: z.ZodType<DocumentNode> = z.lazy(() =>
  z.object({
    type: z.string().max(60),
    attrs: attributesSchema.optional(),
    content: z.array(nodeSchema).max(20_000).optional(),
    marks: z
      .array(z.object({ type: z.string().max(60), attrs: attributesSchema.optional() }))
      .max(20)
      .optional(),
    text: z.string().optional(),
  }),
);

/** The whole text of a document. */
export const documentContentSchema = z
  .object({ type: z.literal('doc'), content: z.array(nodeSchema).max(20_000) })
  .refine((root) => depth(root as DocumentNode) <= 60, 'the text is nested too deeply');
export type DocumentContent = z.infer<typeof documentContentSchema>;

function depth(node: DocumentNode): number {
  // Level by level, so that a hostile document cannot exhaust the stack here.
  let levels = 0;
  for (let level: DocumentNode[] = [node]; level.length > 0; levels++) {
    if (levels > 60) break;
    level = level.flatMap((each) => each.content ?? []);
  }
  return levels;
}

/** Name of the node that stands for a placed object between paragraphs; its attributes are `PlacedAttributes`. */
export const PLACED_NODE = 'placedObject';
/** Name of the node that stands for a placed object inside a line of text: a value or a tag. */
export const PLACED_INLINE = 'placedInline';

/** In which form a part of a source stands in a document. */
export const FORMS = ['table', 'chart', 'value', 'tag'] as const;
export const formSchema = z.enum(FORMS);
export type Form = z.infer<typeof formSchema>;

/** Whether a form stands inside a line of text. */
export function isInline(form: Form): boolean {
  return form === 'value' || form === 'tag';
}

export const chartMakingSchema = z.object({
  kind: z.enum(MADE_KINDS),
  seriesBy: z.enum(['columns', 'rows']),
  stacking: z.enum(['none', 'stacked', 'share']),
  title: z.string().max(200),
  legend: z.enum(['top', 'right', 'bottom', 'left']).nullable(),
  withTotals: z.boolean(),
}) satisfies z.ZodType<ChartMaking>;

/** How a placed object is dressed beyond what its source says. It lives in the text, so that undo brings it back. */
const followsSchema = z.enum(['source', 'document']);

export const dressingSchema = z.object({
  /** Of a table: what of its look follows the document instead of the source. */
  table: z
    .object({ letters: followsSchema, fills: followsSchema, widths: followsSchema })
    .partial()
    .optional(),
  /** Of a chart; absent for as it is suggested. */
  chart: chartMakingSchema.optional(),
  /** Of a value: words around it, and a number format code of its own. */
  value: z
    .object({
      before: z.string().max(60),
      after: z.string().max(60),
      format: z.string().max(120),
    })
    .partial()
    .optional(),
});
export type Dressing = z.infer<typeof dressingSchema>;

/** What each aspect of a table's look follows; an aspect that is not named follows the source. */
export type TableLook = NonNullable<Dressing['table']>;

/**
 * Attributes of a placed object's node. `copyOf` names the tether that a copied object was copied from. A form or dressing
 * that nobody knows is as if nothing were said.
 */
export const placedAttributesSchema = z.object({
  tetherId: z.uuid(),
  copyOf: z.uuid().nullish(),
  form: formSchema.catch('table').default('table'),
  dressing: dressingSchema.catch({}).default({}),
});
export type PlacedAttributes = z.infer<typeof placedAttributesSchema>;

/** Whether a node stands for a placed object. */
export function isPlacedNode(type: string): boolean {
  return type === PLACED_NODE || type === PLACED_INLINE;
}

/** The placed objects of a document in reading order. */
export function placedObjects(content: { content: DocumentNode[] }): PlacedAttributes[] {
  const found: PlacedAttributes[] = [];
  const visit = (nodes: readonly DocumentNode[]) => {
    for (const node of nodes) {
      if (isPlacedNode(node.type)) {
        const attributes = placedAttributesSchema.safeParse(node.attrs);
        if (attributes.success) found.push(attributes.data);
      }
      if (node.content) visit(node.content);
    }
  };
  visit(content.content);
  return found;
}

export const createDocumentSchema = z.object({
  name: z.string().trim().min(1).max(200),
  /** Text to start with: a person keeping their own version of a document. */
  content: documentContentSchema.optional(),
});
export type CreateDocument = z.infer<typeof createDocumentSchema>;

export const renameDocumentSchema = z.object({ name: z.string().trim().min(1).max(200) });

/** `version` is the one the text was written upon; saving fails when another has been saved since. */
export const saveDocumentSchema = z.object({
  version: z.int().min(1),
  content: documentContentSchema,
});
export type SaveDocument = z.infer<typeof saveDocumentSchema>;

/** How many objects of a document have each standing. */
export type StandingCounts = Partial<Record<string, number>>;

/** A document as the desk lists it. */
export interface DocumentSummary {
  id: string;
  kind: 'report';
  name: string;
  version: number;
  savedAt: string;
  savedBy: string | null;
  standings: StandingCounts;
}

/** A document with its text. */
export interface DocumentDetail extends DocumentSummary {
  content: DocumentContent;
}

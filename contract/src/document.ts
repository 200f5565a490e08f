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

/** Name of the node that stands for a placed object; its attributes are `PlacedAttributes`. */
export const PLACED_NODE = 'placedObject';

/** Attributes of a placed object's node. `copyOf` names the tether that a copied object was copied from. */
export const placedAttributesSchema = z.object({
  tetherId: z.uuid(),
  copyOf: z.uuid().nullish(),
});
export type PlacedAttributes = z.infer<typeof placedAttributesSchema>;

/** The placed objects of a document in reading order. */
export function placedObjects(content: { content: DocumentNode[] }): PlacedAttributes[] {
  const found: PlacedAttributes[] = [];
  const visit = (nodes: readonly DocumentNode[]) => {
    for (const node of nodes) {
      if (node.type === PLACED_NODE) {
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

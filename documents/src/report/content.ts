import { z } from 'zod';
import { MARK_KINDS, NODE_KINDS } from './nodes.ts';

/** A mark or node attribute is plain JSON. */
const attributesSchema = z.record(z.string(), z.json());

/** One node of a document's text. */
export interface ReportNode {
  type: string;
  attrs?: Record<string, z.infer<ReturnType<typeof z.json>>>;
  content?: ReportNode[];
  marks?: { type: string; attrs?: Record<string, z.infer<ReturnType<typeof z.json>>> }[];
  text?: string;
}

const nodeSchema: z.ZodType<ReportNode> = z.lazy(() =>
  z.object({
    type: z.enum(NODE_KINDS),
    attrs: attributesSchema.optional(),
    content: z.array(nodeSchema).max(20_000).optional(),
    marks: z
      .array(z.object({ type: z.enum(MARK_KINDS), attrs: attributesSchema.optional() }))
      .max(20)
      .optional(),
    text: z.string().optional(),
  }),
);

/** The whole text of a document. */
export const reportContentSchema = z
  .object({
    type: z.literal('doc'),
    attrs: attributesSchema.optional(),
    content: z.array(nodeSchema).max(20_000),
  })
  .refine((root) => depth(root as ReportNode) <= 60, 'the text is nested too deeply');
export type ReportContent = z.infer<typeof reportContentSchema>;

function depth(node: ReportNode): number {
  // Level by level, so that a hostile document cannot exhaust the stack here.
  let levels = 0;
  for (let level: ReportNode[] = [node]; level.length > 0; levels++) {
    if (levels > 60) break;
    level = level.flatMap((each) => each.content ?? []);
  }
  return levels;
}

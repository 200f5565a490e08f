import { type CaptionKind, type NumberedCaption, numberCaptions } from '../object/caption.ts';
import { type Placement, placementSchema } from '../object/placement.ts';
import type { ReportNode } from './content.ts';
import { CAPTIONED_NODE, isPlacedNode } from './nodes.ts';

/** The placed objects of a document in reading order. */
export function reportPlacements(content: { content: ReportNode[] }): Placement[] {
  const found: Placement[] = [];
  const visit = (nodes: readonly ReportNode[]) => {
    for (const node of nodes) {
      if (isPlacedNode(node.type)) {
        const attributes = placementSchema.safeParse(node.attrs);
        if (attributes.success) found.push(attributes.data);
      }
      if (node.content) visit(node.content);
    }
  };
  visit(content.content);
  return found;
}

/** The captioned objects of a document in reading order. */
export function captionsOf(content: { content: ReportNode[] }): NumberedCaption[] {
  const found: { tetherId: string; kind: CaptionKind }[] = [];
  const visit = (nodes: readonly ReportNode[]) => {
    for (const node of nodes) {
      if (node.type === CAPTIONED_NODE) {
        const [object] = reportPlacements({ content: node.content?.slice(0, 1) ?? [] });
        const kind = node.attrs?.kind === 'figure' ? 'figure' : 'table';
        if (object) found.push({ tetherId: object.tetherId, kind });
      } else if (node.content) visit(node.content);
    }
  };
  visit(content.content);
  return numberCaptions(found);
}

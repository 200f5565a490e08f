import { type CaptionKind, type NumberedCaption, numberCaptions } from '../object/caption.ts';
import { type Placement, placementSchema } from '../object/placement.ts';
import type { ReportNode } from './content.ts';
import { CAPTIONED_NODE, isPlacedNode, PICTURE_NODE } from './nodes.ts';

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
        const [first] = node.content ?? [];
        const [object] = reportPlacements({ content: first ? [first] : [] });
        const id =
          object?.tetherId ?? (first && first.type === PICTURE_NODE ? first.attrs?.id : null);
        const kind = node.attrs?.kind === 'figure' ? 'figure' : 'table';
        if (typeof id === 'string') found.push({ tetherId: id, kind });
      } else if (node.content) visit(node.content);
    }
  };
  visit(content.content);
  return numberCaptions(found);
}

import type { ReportContent, ReportNode } from './content.ts';
import { MARK_KINDS, NODE_KINDS } from './nodes.ts';

/**
 * A text with every node and mark of a kind that is not known here taken out, for looking at it, and which kinds these were.
 * What stood in such a node stays where it can: the words of a line.
 */
export function knownPart(content: ReportContent): {
  content: ReportContent;
  unknown: string[];
} {
  const unknown = new Set<string>();
  const isKnown = (kinds: readonly string[], kind: string) => {
    if (!kinds.includes(kind)) unknown.add(kind);
    return kinds.includes(kind);
  };
  const known = (node: ReportNode): ReportNode[] => {
    if (!isKnown(NODE_KINDS, node.type)) {
      return [{ type: 'paragraph', content: [{ type: 'text', text: `[${node.type}]` }] }];
    }
    const { content: inner, marks, ...own } = node;
    return [
      {
        ...own,
        ...(inner ? { content: inner.flatMap((each) => knownIn(node, each)) } : {}),
        ...(marks ? { marks: marks.filter(({ type }) => isKnown(MARK_KINDS, type)) } : {}),
      },
    ];
  };
  const knownIn = (parent: ReportNode, node: ReportNode): ReportNode[] => {
    const isInLine = ['paragraph', 'heading', 'caption'].includes(parent.type);
    if (!isInLine || isKnown(NODE_KINDS, node.type)) return known(node);
    return [{ type: 'text', text: `[${node.type}]` }];
  };
  return {
    content: { ...content, content: content.content.flatMap(known) },
    unknown: [...unknown],
  };
}

import type { ReportContent, ReportNode } from './content.ts';
import { CAPTIONED_NODE, isPlacedNode, REFERENCE_NODE } from './nodes.ts';

/**
 * The text with every object marked as a copy, for a document of its own; references, captions, head and foot name the
 * copies.
 */
export function asCopies(content: ReportContent, newId: () => string): ReportContent {
  const copies = new Map<string, string>();
  const rename = (node: ReportNode): ReportNode => {
    const { attrs } = node;
    const inner = node.content ? { content: node.content.map(rename) } : {};
    if (!isPlacedNode(node.type)) return { ...node, ...inner };
    const id = String(attrs?.tetherId);
    const tetherId = newId();
    copies.set(id, tetherId);
    return { ...node, ...inner, attrs: { ...attrs, tetherId, copyOf: attrs?.copyOf ?? id } };
  };
  const follow = (node: ReportNode): ReportNode => {
    const inner = node.content ? { content: node.content.map(follow) } : {};
    const key = { [REFERENCE_NODE]: 'to', [CAPTIONED_NODE]: 'of' }[node.type];
    if (!key) return { ...node, ...inner };
    const named = String(node.attrs?.[key]);
    return { ...node, ...inner, attrs: { ...node.attrs, [key]: copies.get(named) ?? named } };
  };
  const renamed = content.content.map(rename);
  const said = JSON.stringify(content.attrs ?? {}).replace(
    /\{#([^{}]*)\}/g,
    (_, id: string) => `{#${copies.get(id) ?? id}}`,
  );
  return {
    ...content,
    ...(content.attrs ? { attrs: JSON.parse(said) as NonNullable<typeof content.attrs> } : {}),
    content: renamed.map(follow),
  };
}

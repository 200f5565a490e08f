import { isPlacedNode } from '@tether/documents';
import type { Node as TextNode } from '@tiptap/pm/model';

/** Every placed object of the text with its tether's id and its place. */
export function objectsIn(text: TextNode): { id: string; position: number; node: TextNode }[] {
  const found: { id: string; position: number; node: TextNode }[] = [];
  text.descendants((node, position) => {
    if (isPlacedNode(node.type.name)) {
      found.push({ id: String(node.attrs.tetherId), position, node });
    }
  });
  return found;
}

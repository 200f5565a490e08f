import { CAPTION_NODE, CAPTIONED_NODE } from '@tether/documents';
import type { ResolvedPos, Node as TextNode } from '@tiptap/pm/model';
import { TextSelection, type Transaction } from '@tiptap/pm/state';

/** Where a block goes that is put in at a place: behind the block there, or into the place of an empty line. */
export function placeForBlock($to: ResolvedPos): number {
  const isEmptyLine = $to.depth === 1 && $to.parent.content.size === 0;
  return $to.depth === 0 ? $to.pos : isEmptyLine ? $to.before(1) : $to.after(1);
}

/** Puts the cursor on an empty line at a place between two blocks: the one that stands there, or a new one. */
export function goBehind(tr: Transaction, position: number): void {
  const next = tr.doc.resolve(position).nodeAfter;
  if (next?.type.name !== 'paragraph' || next.content.size > 0) {
    tr.insert(position, tr.doc.type.schema.nodes.paragraph!.create());
  }
  tr.setSelection(TextSelection.create(tr.doc, position + 1));
}

/** The block that an object is part of with its caption, and the words of that; null where it has none. */
export function captionedAround(
  doc: TextNode,
  position: number,
): { from: number; node: TextNode; caption: TextNode | null } | null {
  const $object = doc.resolve(position);
  if ($object.parent.type.name !== CAPTIONED_NODE) return null;
  const { parent } = $object;
  const caption = parent.lastChild?.type.name === CAPTION_NODE ? parent.lastChild : null;
  return { from: $object.before(), node: parent, caption };
}

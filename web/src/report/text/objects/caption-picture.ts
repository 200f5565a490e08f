import { CAPTION_NODE, CAPTIONED_NODE } from '@tether/documents';
import { NodeSelection, TextSelection } from '@tiptap/pm/state';
import type { Editor } from '@tiptap/react';
import { asOneStep } from '../shared/shared-text.ts';

/** Gives a picture a caption and puts the cursor into it, or takes it away; its words then stand below as a line. */
export function captionPicture(editor: Editor, position: number, isCaptioned: boolean): void {
  const { tr, schema } = editor.state;
  const picture = tr.doc.nodeAt(position);
  if (!picture) return;
  const $picture = tr.doc.resolve(position);
  const hasCaption = $picture.parent.type.name === CAPTIONED_NODE;
  if (hasCaption === isCaptioned) return;
  if (isCaptioned) {
    const id = String(picture.attrs.id ?? crypto.randomUUID());
    const own = picture.type.create({ ...picture.attrs, id });
    const caption = schema.nodes[CAPTION_NODE]!.create();
    const figure = schema.nodes[CAPTIONED_NODE]!.create({ kind: 'figure', of: id }, [own, caption]);
    tr.replaceWith(position, position + picture.nodeSize, figure);
    tr.setSelection(TextSelection.create(tr.doc, position + 1 + own.nodeSize + 1));
  } else {
    const figure = $picture.parent;
    const words = figure.lastChild!.content;
    const below = words.size > 0 ? [schema.nodes.paragraph!.create(null, words)] : [];
    const from = $picture.before();
    tr.replaceWith(from, from + figure.nodeSize, [picture, ...below]);
    tr.setSelection(NodeSelection.create(tr.doc, from));
  }
  asOneStep(editor.storage.sharedText.steps, () => editor.view.dispatch(tr.scrollIntoView()));
  editor.view.focus();
}

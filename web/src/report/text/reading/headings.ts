import type { Node as TextNode } from '@tiptap/pm/model';
import { TextSelection } from '@tiptap/pm/state';
import type { Editor } from '@tiptap/react';
import { ownWords } from './own-words.ts';

/** A heading of the text: those between its blocks, not those within a table or list. */
interface Heading {
  level: number;
  words: string;
}

/** The headings of a text in their order. */
export function headingsIn(text: TextNode): Heading[] {
  return text.children.flatMap((node) =>
    node.type.name === 'heading'
      ? [{ level: Number(node.attrs.level), words: ownWords(node).trim() }]
      : [],
  );
}

/** Puts the cursor at the end of a heading and brings it into view. */
export function goToHeading(editor: Editor, nth: number): void {
  let found = -1;
  editor.state.doc.forEach((node, position) => {
    if (node.type.name !== 'heading' || ++found !== nth) return;
    const { tr } = editor.state;
    tr.setSelection(TextSelection.create(tr.doc, position + node.nodeSize - 1));
    editor.view.dispatch(tr.scrollIntoView());
    editor.view.focus();
  });
}

import { CONTENTS_NODE, PAGE_BREAK_NODE } from '@tether/documents';
import { Node } from '@tiptap/core';
import { TextSelection } from '@tiptap/pm/state';
import { type Editor, ReactNodeViewRenderer } from '@tiptap/react';
import { placeForBlock } from '../reading/places.ts';
import { asOneStep } from '../shared/shared-text.ts';
import { Contents } from './Contents.tsx';

/** Lists the headings with their pages. */
export const ContentsNode = Node.create({
  name: CONTENTS_NODE,
  group: 'block',
  atom: true,
  draggable: true,
  selectable: true,
  parseHTML: () => [{ tag: 'nav[data-contents]' }],
  renderHTML: () => ['nav', { 'data-contents': '' }],
  addNodeView: () => ReactNodeViewRenderer(Contents),
});

/** What stands behind it begins a page. */
export const PageBreakNode = Node.create({
  name: PAGE_BREAK_NODE,
  group: 'block',
  atom: true,
  selectable: true,
  addAttributes: () => ({
    /** How the sheets behind it are turned; null for as before. */
    paper: {
      default: null,
      parseHTML: (element) => element.getAttribute('data-page-break') || null,
      renderHTML: ({ paper }) => ({ 'data-page-break': (paper as string | null) ?? '' }),
    },
  }),
  parseHTML: () => [{ tag: 'div[data-page-break]' }],
  renderHTML: ({ HTMLAttributes }) => ['div', { class: 'page-break', ...HTMLAttributes }],
});

/**
 * Puts a block behind the one at the cursor, which then stands behind it: in a line of its own, or, where a page ends, in what
 * begins the next one.
 */
export function insertBlock(
  editor: Editor,
  name: string,
  attributes: Record<string, unknown> | null = null,
): void {
  const { tr, schema, selection } = editor.state;
  const at = placeForBlock(selection.$to);
  const node = schema.nodes[name]!.create(attributes);
  tr.insert(at, node);
  const behind = at + node.nodeSize;
  const next = tr.doc.resolve(behind).nodeAfter;
  const isLine =
    name === PAGE_BREAK_NODE
      ? next?.isTextblock
      : next?.type.name === 'paragraph' && next.content.size === 0;
  if (!isLine) {
    tr.insert(behind, schema.nodes.paragraph!.create());
  }
  tr.setSelection(TextSelection.create(tr.doc, behind + 1));
  asOneStep(editor.storage.sharedText.steps, () => editor.view.dispatch(tr.scrollIntoView()));
  editor.view.focus();
}

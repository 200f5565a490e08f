import {
  CAPTION_NODE,
  CAPTIONED_NODE,
  captionName,
  LIST_NODE,
  REFERENCE_NODE,
} from '@tether/documents';
import { Node } from '@tiptap/core';
import type { Node as TextNode } from '@tiptap/pm/model';
import { type EditorState, Plugin, PluginKey, TextSelection } from '@tiptap/pm/state';
import { Decoration, DecorationSet } from '@tiptap/pm/view';
import { ReactNodeViewRenderer } from '@tiptap/react';
import { FOR_OTHERS } from '../shared/for-others.ts';
import { type CaptionInText, captionedId, captionsIn, mend } from './caption-model.ts';
import { ListOfObjects } from './ListOfObjects.tsx';

interface Numbering {
  captions: CaptionInText[];
  decorations: DecorationSet;
}

const key = new PluginKey<Numbering>('captions');

function numbering(text: TextNode): Numbering {
  const captions = captionsIn(text);
  const names = new Map(captions.map((each) => [each.tetherId, captionName(each)]));
  const decorations: Decoration[] = [];
  text.descendants((node, position) => {
    if (node.type.name === CAPTIONED_NODE && node.lastChild && node.childCount > 1) {
      const end = position + node.nodeSize - 1;
      const name = names.get(captionedId(node.firstChild)) ?? '';
      decorations.push(Decoration.node(end - node.lastChild.nodeSize, end, { 'data-name': name }));
    }
    if (node.type.name === REFERENCE_NODE) {
      const name = names.get(String(node.attrs.to)) ?? null;
      decorations.push(Decoration.node(position, position + node.nodeSize, {}, { name }));
    }
  });
  return { captions, decorations: DecorationSet.create(text, decorations) };
}

/** How a captioned object is called in this state of the text, or null for one without a caption. */
export function captionTextOf(state: EditorState, tetherId: string): string | null {
  const found = key.getState(state)?.captions.find((each) => each.tetherId === tetherId);
  return found ? captionName(found) : null;
}

/** A placed object with its caption: they move, are copied and are deleted as one. */
export const CaptionedNode = Node.create({
  name: CAPTIONED_NODE,
  group: 'block',
  // Both may be missing for a moment, while one of them is dragged: see `mend`.
  content: '(placedObject | picture)? caption?',
  draggable: true,
  selectable: true,
  isolating: true,
  addAttributes: () => ({ kind: { default: 'table' }, of: { default: null } }),
  parseHTML: () => [
    {
      tag: 'figure[data-captioned]',
      // Where it was copied, its caption may stand above the object.
      contentElement: (figure) => {
        const object = figure.querySelector(':scope > :is([data-tether], img)');
        if (object) figure.prepend(object);
        return figure as HTMLElement;
      },
      getAttrs: (element) => ({
        kind: element.getAttribute('data-captioned'),
        of: element.getAttribute('data-of'),
      }),
    },
  ],
  renderHTML: ({ node }) => [
    'figure',
    { class: 'captioned', 'data-captioned': String(node.attrs.kind), 'data-of': node.attrs.of },
    0,
  ],
  addProseMirrorPlugins: () => [
    new Plugin<Numbering>({
      key,
      state: {
        init: (_, state) => numbering(state.doc),
        apply: (transaction, before) =>
          transaction.docChanged ? numbering(transaction.doc) : before,
      },
      props: { decorations: (state) => key.getState(state)?.decorations },
      appendTransaction: (transactions, _before, after) =>
        transactions.some(({ docChanged }) => docChanged) ? mend(after) : null,
    }),
  ],
});

/** The words of a caption. Its number is put before them by itself. */
export const CaptionNode = Node.create({
  name: CAPTION_NODE,
  content: 'inline*',
  parseHTML: () => [{ tag: 'figcaption' }, { tag: `[${FOR_OTHERS}]`, ignore: true }],
  renderHTML: () => ['figcaption', { class: 'caption' }, 0],
  addKeyboardShortcuts() {
    return {
      // Enter leaves the caption: it is one line of words.
      Enter: ({ editor }) => {
        const { $from } = editor.state.selection;
        if ($from.parent.type.name !== CAPTION_NODE) return false;
        const behind = $from.after($from.depth - 1);
        return editor.commands.command(({ tr, state }) => {
          tr.insert(behind, state.schema.nodes.paragraph!.create());
          tr.setSelection(TextSelection.create(tr.doc, behind + 1));
          tr.scrollIntoView();
          return true;
        });
      },
    };
  },
});

/** Names a captioned object by its number inside a line, and follows it. */
export const ReferenceNode = Node.create({
  name: REFERENCE_NODE,
  group: 'inline',
  inline: true,
  atom: true,
  selectable: true,
  addAttributes: () => ({ to: { default: null } }),
  parseHTML: () => [
    { tag: 'span[data-reference]', getAttrs: (element) => ({ to: element.dataset.reference }) },
  ],
  renderHTML: ({ node }) => ['span', { 'data-reference': String(node.attrs.to) }],
  addNodeView: () => (props) => {
    const dom = document.createElement('span');
    const show = (decorations: readonly { spec: { name?: string | null } }[]) => {
      const name = decorations.map(({ spec }) => spec.name).find((each) => each !== undefined);
      dom.textContent = name ?? 'an object that is gone';
      dom.className = name ? 'reference' : 'reference is-lost';
    };
    dom.dataset.reference = String(props.node.attrs.to);
    show(props.decorations as unknown as { spec: { name?: string | null } }[]);
    return {
      dom,
      update: (node, decorations) => {
        if (node.type.name !== REFERENCE_NODE) return false;
        dom.dataset.reference = String(node.attrs.to);
        show(decorations as unknown as { spec: { name?: string | null } }[]);
        return true;
      },
    };
  },
});

/** The list of the captioned tables and figures. */
export const ListNode = Node.create({
  name: LIST_NODE,
  group: 'block',
  atom: true,
  draggable: true,
  selectable: true,
  parseHTML: () => [{ tag: 'nav[data-list-of-objects]' }],
  renderHTML: () => ['nav', { 'data-list-of-objects': '' }],
  addNodeView: () => ReactNodeViewRenderer(ListOfObjects),
});

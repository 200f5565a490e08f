import { FOOTNOTE_NODE } from '@tether/documents';
import { type Editor, Node } from '@tiptap/core';
import { Fragment, type Node as TextNode } from '@tiptap/pm/model';
import { Plugin, PluginKey, TextSelection } from '@tiptap/pm/state';
import { Decoration, DecorationSet, type EditorView, type NodeView } from '@tiptap/pm/view';
import { asOneStep } from '../shared/shared-text.ts';

/** A note of a text: where its number stands, and what it says. */
interface NoteInText {
  position: number;
  words: string;
}

/** The notes of a text in reading order: the first is number 1. */
function notesIn(text: TextNode): NoteInText[] {
  const notes: NoteInText[] = [];
  text.descendants((node, position) => {
    if (node.type.name !== FOOTNOTE_NODE) return true;
    notes.push({ position, words: node.textContent });
    return false;
  });
  return notes;
}

const key = new PluginKey<DecorationSet>('footnotes');

function numbered(text: TextNode): DecorationSet {
  const decorations = notesIn(text).map(({ position }, index) =>
    Decoration.node(position, position + text.nodeAt(position)!.nodeSize, {
      'data-number': String(index + 1),
      style: `--number: "${index + 1}"`,
    }),
  );
  return decorations.length > 0 ? DecorationSet.create(text, decorations) : DecorationSet.empty;
}

/**
 * A note at the foot of the page: its number stands in the line, its words are in the node and are shown, and written, at the
 * foot. To the text around it is one sign.
 */
export const FootnoteNode = Node.create({
  name: FOOTNOTE_NODE,
  group: 'inline',
  inline: true,
  atom: true,
  selectable: true,
  content: 'text*',
  marks: '',
  parseHTML: () => [
    {
      tag: 'span[data-footnote]',
      // On its way through the clipboard its words are said aside: what stands in it is for other programs.
      getContent: (element, schema) => {
        const words = (element as HTMLElement).dataset.footnote ?? '';
        return words === '' ? Fragment.empty : Fragment.from(schema.text(words));
      },
    },
  ],
  renderHTML: ({ node }) => ['span', { 'data-footnote': node.textContent }],
  addNodeView: () => (props) =>
    new FootnoteView(props.node, props.view, props.getPos as () => number | undefined),
  addProseMirrorPlugins: () => [
    new Plugin<DecorationSet>({
      key,
      state: {
        init: (_, { doc }) => numbered(doc),
        apply: (transaction, before) =>
          transaction.docChanged ? numbered(transaction.doc) : before,
      },
      props: { decorations: (state) => key.getState(state) },
    }),
  ],
});

/** Puts a note behind the cursor and begins to write it. */
export function insertFootnote(editor: Editor): void {
  const { state, view } = editor;
  const { $to } = state.selection;
  if (!mayHaveNote(editor)) return;
  const node = state.schema.nodes[FOOTNOTE_NODE]!.create();
  const { tr } = state;
  tr.insert($to.pos, node);
  tr.setSelection(TextSelection.create(tr.doc, $to.pos + node.nodeSize));
  asOneStep(editor.storage.sharedText.steps, () => view.dispatch(tr));
  const element = view.nodeDOM($to.pos);
  // Once pages are broken anew it stands at its foot.
  requestAnimationFrame(() =>
    requestAnimationFrame(() => {
      if (element instanceof HTMLElement) element.querySelector<HTMLElement>('.note')?.focus();
    }),
  );
}

/** Whether a note can be put in at the cursor: into words of the text itself, not within tables or captions. */
export function mayHaveNote({ state }: Pick<Editor, 'state'>): boolean {
  const { $to } = state.selection;
  const { name } = $to.parent.type;
  const isInTable = Array.from({ length: $to.depth }, (_, depth) => $to.node(depth)).some(
    ({ type }) => type.name === 'tableRow',
  );
  return (name === 'paragraph' || name === 'heading') && !isInTable;
}

/** The number in its line and the words at the foot of the page, which are changed where they stand. */
class FootnoteView implements NodeView {
  readonly dom = document.createElement('span');
  readonly #number = document.createElement('sup');
  readonly #note = document.createElement('span');

  constructor(
    private node: TextNode,
    private readonly view: EditorView,
    private readonly getPos: () => number | undefined,
  ) {
    this.dom.className = 'footnote';
    this.dom.contentEditable = 'false';
    this.#number.title = 'To the note at the foot of the page';
    const note = this.#note;
    note.className = 'note';
    note.setAttribute('role', 'textbox');
    note.setAttribute('aria-label', 'Words of the note');
    note.setAttribute('contenteditable', view.editable ? 'plaintext-only' : 'false');
    note.textContent = node.textContent;
    this.dom.append(this.#number, note);
    this.#number.addEventListener('click', this.#enter);
    note.addEventListener('input', this.#write);
    note.addEventListener('keydown', this.#press);
    note.addEventListener('focus', this.#allow);
    note.addEventListener('mousedown', this.#allow);
  }

  /** Whether one may write here may have changed since. */
  readonly #allow = () => {
    this.#note.contentEditable = this.view.editable ? 'plaintext-only' : 'false';
  };

  readonly #enter = (event: MouseEvent) => {
    event.preventDefault();
    this.#allow();
    this.#note.focus();
    this.#note.scrollIntoView({ block: 'nearest' });
  };

  /** What was written here goes into the text: only what differs, so that others can write in the same note. */
  readonly #write = () => {
    const position = this.getPos();
    if (position === undefined) return;
    const [before, after] = [this.node.textContent, wordsIn(this.#note)];
    if (before === after) return;
    let from = 0;
    while (from < Math.min(before.length, after.length) && before[from] === after[from]) from++;
    let same = 0;
    const most = Math.min(before.length, after.length) - from;
    while (same < most && before.at(-1 - same) === after.at(-1 - same)) same++;
    const { tr } = this.view.state;
    const start = position + 1;
    const [left, right] = [start + from, start + before.length - same];
    const words = after.slice(from, after.length - same);
    if (words === '') tr.delete(left, right);
    else tr.replaceWith(left, right, this.view.state.schema.text(words));
    this.view.dispatch(tr);
  };

  readonly #press = (event: KeyboardEvent) => {
    const { key: pressed } = event;
    if (pressed.toLowerCase() === 'a' && (event.ctrlKey || event.metaKey)) {
      // All of the note: a browser would take all of the text that it stands in.
      event.preventDefault();
      event.stopPropagation();
      document.getSelection()?.selectAllChildren(this.#note);
      return;
    }
    const isDone = (pressed === 'Enter' && !event.isComposing) || pressed === 'Escape';
    // An empty note goes by the key that takes back a letter.
    const isTakenBack = pressed === 'Backspace' && this.node.content.size === 0;
    if (!isDone && !isTakenBack) return;
    event.preventDefault();
    event.stopPropagation();
    const position = this.getPos();
    if (position === undefined) return;
    const { tr } = this.view.state;
    if (isTakenBack) tr.delete(position, position + this.node.nodeSize);
    tr.setSelection(
      TextSelection.create(tr.doc, isTakenBack ? position : position + this.node.nodeSize),
    );
    this.view.dispatch(tr.scrollIntoView());
    this.view.focus();
  };

  update(node: TextNode): boolean {
    if (node.type !== this.node.type) return false;
    this.node = node;
    const words = node.textContent;
    if (wordsIn(this.#note) !== words) setWords(this.#note, words);
    return true;
  }

  stopEvent(event: Event): boolean {
    return event.target === this.#note || this.#note.contains(event.target as globalThis.Node);
  }

  ignoreMutation(): boolean {
    return true;
  }
}

/** Words of a field; it may have put in a line of its own at its end. */
function wordsIn(field: HTMLElement): string {
  return (field.textContent ?? '').replace(/\n/g, ' ');
}

/** Gives a field other words; a cursor in it stays between the same letters. */
function setWords(field: HTMLElement, words: string): void {
  const selection = document.getSelection();
  const { anchorNode, anchorOffset = 0 } = selection ?? {};
  const isHere = document.activeElement === field && field.contains(anchorNode ?? null);
  const before = field.textContent ?? '';
  field.textContent = words;
  if (!isHere || !selection) return;
  const grown = words.length - before.length;
  const isBehind = words.slice(0, anchorOffset) !== before.slice(0, anchorOffset);
  const at = Math.max(0, Math.min(words.length, anchorOffset + (isBehind ? grown : 0)));
  if (field.firstChild) selection.collapse(field.firstChild, at);
}

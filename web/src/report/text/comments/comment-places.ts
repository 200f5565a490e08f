import { type CommentAbout, isPlacedNode, sharedText } from '@tether/documents';
import {
  type EditorState,
  NodeSelection,
  Plugin,
  PluginKey,
  TextSelection,
} from '@tiptap/pm/state';
import { Decoration, DecorationSet, type EditorView } from '@tiptap/pm/view';
import {
  absolutePositionToRelativePosition,
  type ProsemirrorBinding,
  relativePositionToAbsolutePosition,
  ySyncPluginKey,
} from '@tiptap/y-tiptap';
import * as Y from 'yjs';
import type { Comments } from '../../../documents/comments/comments.ts';
import { placesThrough } from '../shared/shared-text.ts';

type AboutWords = Extract<CommentAbout, { kind: 'words' }>;

/** The longest quotation of the words that a comment is about. */
const QUOTE = 120;

const bindingOf = (state: EditorState) =>
  (ySyncPluginKey.getState(state) as { binding: ProsemirrorBinding | null } | undefined)?.binding;

/** What a comment would be about now: the marked words, or the selected object; null while nothing is marked. */
export function aboutSelection(state: EditorState): CommentAbout | null {
  const { selection, doc } = state;
  if (selection instanceof NodeSelection) {
    const { node } = selection;
    const object = isPlacedNode(node.type.name) ? node : node.firstChild;
    const id = object && isPlacedNode(object.type.name) ? object.attrs.tetherId : null;
    return id ? { kind: 'object', tetherId: String(id) } : null;
  }
  const binding = bindingOf(state);
  const { from, to } = selection;
  const words = doc.textBetween(from, to, ' ', ' ').trim();
  if (!binding || words === '') return null;
  const place = (position: number): unknown =>
    // As plain data: it is kept in the document.
    JSON.parse(
      JSON.stringify(
        absolutePositionToRelativePosition(position, binding.type, binding.mapping as never),
      ),
    );
  return {
    kind: 'words',
    from: place(from),
    to: place(to),
    quote: words.length > QUOTE ? `${words.slice(0, QUOTE)}…` : words,
  };
}

/** Where the words stand now that a comment is about; null where they are gone. */
function placeOf(state: EditorState, about: AboutWords): { from: number; to: number } | null {
  const binding = bindingOf(state);
  if (!binding?.doc) return null;
  const find = (place: unknown): number | null => {
    try {
      return relativePositionToAbsolutePosition(
        binding.doc,
        sharedText(binding.doc),
        Y.createRelativePositionFromJSON(place),
        binding.mapping as never,
      );
    } catch {
      // What came from elsewhere need be no place at all.
      return null;
    }
  };
  const [from, to] = [find(about.from), find(about.to)];
  if (from === null || to === null || from >= to || to > state.doc.content.size) return null;
  return { from, to };
}

/** Selects the words that a comment is about and brings them into view. False where they are gone. */
export function showWords(view: EditorView, about: AboutWords): boolean {
  const place = placeOf(view.state, about);
  if (!place) return false;
  const { tr } = view.state;
  const selection = TextSelection.between(tr.doc.resolve(place.from), tr.doc.resolve(place.to));
  view.dispatch(tr.setSelection(selection).scrollIntoView());
  view.focus();
  return true;
}

const key = new PluginKey<DecorationSet>('comments');

/** Marks words that somebody said something of, with a sign in the margin that shows what. */
export function commentsPlugin(comments: Comments, onShow: (thread: string) => void): Plugin {
  const marksIn = (state: EditorState): DecorationSet => {
    const marks: Decoration[] = [];
    /** How many signs each block of words has already: they stand beside each other. */
    const signs = new Map<number, number>();
    for (const { id, about, notes, resolved } of comments.threads()) {
      if (resolved || about.kind !== 'words') continue;
      const place = placeOf(state, about);
      if (!place) continue;
      marks.push(Decoration.inline(place.from, place.to, { class: 'commented' }, { thread: id }));
      const block = state.doc.resolve(place.from).start();
      const nth = signs.get(block) ?? 0;
      signs.set(block, nth + 1);
      const sign = () => {
        const button = document.createElement('button');
        button.type = 'button';
        button.className = 'comment-sign';
        button.contentEditable = 'false';
        button.style.setProperty('--nth', String(nth));
        button.setAttribute('aria-label', `Comment by ${notes[0]!.by.name}. Show`);
        button.textContent = String(notes.length);
        button.onclick = () => onShow(id);
        return button;
      };
      marks.push(
        Decoration.widget(place.from, sign, {
          side: -1,
          key: `comment ${id} ${notes.length} ${nth}`,
          ignoreSelection: true,
          stopEvent: () => true,
        }),
      );
    }
    return DecorationSet.create(state.doc, marks);
  };
  return new Plugin<DecorationSet>({
    key,
    state: {
      init: () => DecorationSet.empty,
      apply: (transaction, marks, before) => {
        const fresh = transaction.getMeta(key) as DecorationSet | undefined;
        if (fresh) return fresh;
        return marks.map(placesThrough(transaction, before), transaction.doc);
      },
    },
    props: { decorations: (state) => key.getState(state) },
    view: (view) => {
      let frame = 0;
      const draw = () => {
        cancelAnimationFrame(frame);
        frame = requestAnimationFrame(() => {
          if (view.isDestroyed) return;
          view.dispatch(
            view.state.tr.setMeta(key, marksIn(view.state)).setMeta('addToHistory', false),
          );
        });
      };
      draw();
      const deaf = comments.subscribe(draw);
      return {
        destroy: () => {
          cancelAnimationFrame(frame);
          deaf();
        },
      };
    },
  });
}

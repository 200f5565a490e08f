import { FOOTNOTE_NODE } from '@tether/documents';
import type { Node as TextNode } from '@tiptap/pm/model';
import {
  type EditorState,
  Plugin,
  PluginKey,
  TextSelection,
  type Transaction,
} from '@tiptap/pm/state';
import { Decoration, DecorationSet } from '@tiptap/pm/view';
import { lettersOf } from '../reading/own-words.ts';

/** What is looked for in the words of a text. */
export interface Wanted {
  words: string;
  /** Whether capitals are told from small letters. */
  withCase: boolean;
}

/** A place at which it stands. */
export interface Place {
  from: number;
  to: number;
}

/** What stands in a line and is no letter: one sign, so that places can be counted. */
const NO_LETTER = '\ufffc';

/** Every place of the words, also in captions and tables of one's own; they do not reach from one paragraph into the next. */
export function placesOf(text: TextNode, { words, withCase }: Wanted): Place[] {
  if (words === '') return [];
  // Some letters become two when they are made small: then places would not be right any more.
  const folded = (all: string) => {
    const small = all.toLowerCase();
    return withCase || small.length !== all.length ? all : small;
  };
  const wanted = folded(words);
  const places: Place[] = [];
  text.descendants((node, position) => {
    const isNote = node.type.name === FOOTNOTE_NODE;
    if (!node.isTextblock && !isNote) return true;
    const line = folded(lettersOf(node, NO_LETTER));
    for (let at = line.indexOf(wanted); at >= 0; at = line.indexOf(wanted, at + wanted.length)) {
      const from = position + 1 + at;
      places.push({ from, to: from + wanted.length });
    }
    // Its notes are looked through after it.
    return !isNote;
  });
  return places;
}

/** Puts other words in all of these places, with the look of the letters that stood there. */
export function replaceAt(tr: Transaction, places: readonly Place[], words: string): Transaction {
  // From the end, so that the places before stay where they are.
  for (const { from, to } of [...places].reverse()) tr.insertText(words, from, to);
  return tr;
}

/** What is found now: where, and at which of the places one is. */
export interface Finding {
  wanted: Wanted | null;
  places: readonly Place[];
  at: number;
}

const NOTHING: Finding = { wanted: null, places: [], at: -1 };
const key = new PluginKey<Finding>('finding');

/** What is found in this state of the text. */
export function findingOf(state: EditorState): Finding {
  return key.getState(state) ?? NOTHING;
}

/** Looks for something from the cursor on; null ends looking. */
export function look(state: EditorState, wanted: Wanted | null): Transaction {
  return state.tr.setMeta(key, wanted ?? 'end');
}

/** Goes to the next place (1) or the one before (-1), around the end of the text. */
export function goOn(state: EditorState, by: 1 | -1): Transaction | null {
  const { places, at } = findingOf(state);
  if (places.length === 0) return null;
  const next = (at + by + places.length) % places.length;
  const { from, to } = places[next]!;
  const { tr } = state;
  tr.setSelection(TextSelection.create(tr.doc, from, to));
  return tr.setMeta(key, next).scrollIntoView();
}

/** Marks what is found, for as long as it is looked for. */
export function findingPlugin(): Plugin<Finding> {
  return new Plugin<Finding>({
    key,
    state: {
      init: () => NOTHING,
      apply: (transaction, before) => {
        const said = transaction.getMeta(key) as Wanted | 'end' | number | undefined;
        if (said === 'end') return NOTHING;
        if (typeof said === 'number') return { ...before, at: said };
        const wanted = said ?? before.wanted;
        if (!wanted || (!said && !transaction.docChanged)) return before;
        const places = placesOf(transaction.doc, wanted);
        const cursor = said ? transaction.selection.from : (before.places[before.at]?.from ?? 0);
        const from = said ? cursor : transaction.mapping.map(cursor);
        const next = places.findIndex((place) => place.from >= from);
        return { wanted, places, at: next < 0 ? places.length - 1 : next };
      },
    },
    props: {
      decorations: (state) => {
        const { places, at } = findingOf(state);
        if (places.length === 0) return null;
        return DecorationSet.create(
          state.doc,
          places.map(({ from, to }, index) =>
            Decoration.inline(from, to, { class: index === at ? 'found is-here' : 'found' }),
          ),
        );
      },
    },
  });
}

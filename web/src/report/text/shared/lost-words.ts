import { sharedText } from '@tether/documents';
import { type EditorState, Plugin, PluginKey } from '@tiptap/pm/state';
import type { EditorView } from '@tiptap/pm/view';
import * as Y from 'yjs';
import { isFromShared } from './shared-text.ts';

/** For so long what one wrote last is looked after, and longer where the server does not have it yet. */
const OWN_MS = 60_000;

/** What somebody wrote in a block of the text, and when. */
interface Own {
  words: string;
  at: number;
}

interface Options {
  doc: Y.Doc;
  /** Whether something that was written here is not on the server yet. */
  isUnsent: () => boolean;
  /** Told of the words of a block that somebody else took out while one wrote in it. */
  onLost: (words: string) => void;
}

const key = new PluginKey<number>('lostWords');

/**
 * Looks after the blocks that one writes in. Where somebody else takes such a block out at the same time, its words are gone
 * for both: whoever wrote them is told, and can put them back.
 */
export function lostWords({ doc, isUnsent, onLost }: Options): Plugin<number> {
  const own = new Map<Y.XmlElement, Own>();
  return new Plugin<number>({
    key,
    state: {
      init: () => 0,
      // Another number after every change that was made here.
      apply: (transaction, count) =>
        transaction.docChanged && !isFromShared(transaction) ? count + 1 : count,
    },
    view: (view) => {
      const look = ({ local }: Y.Transaction) => {
        for (const [block, { words, at }] of own) {
          const isOld = Date.now() - at > OWN_MS && !isUnsent();
          if (!isOld && !isGone(block)) continue;
          own.delete(block);
          // What was moved, or put back by undo, is there in another block.
          if (!isOld && !local && !isThere(view, words)) onLost(words);
        }
      };
      doc.on('afterTransaction', look);
      return {
        update: (now, before) => {
          if (key.getState(now.state) === key.getState(before)) return;
          const block = blockAtCursor(now.state, doc);
          const words = now.state.selection.$from.parent.textContent;
          if (block) own.set(block, { words, at: Date.now() });
        },
        destroy: () => doc.off('afterTransaction', look),
      };
    },
  });
}

/** The shared type of the block of words that the cursor stands in. */
function blockAtCursor({ selection }: EditorState, doc: Y.Doc): Y.XmlElement | null {
  const { $from } = selection;
  if (!$from.parent.isTextblock || $from.parent.content.size === 0) return null;
  let block: Y.XmlFragment = sharedText(doc);
  for (let depth = 0; depth < $from.depth; depth++) {
    const inner = block.get($from.index(depth));
    if (!(inner instanceof Y.XmlElement)) return null;
    block = inner;
  }
  return block as Y.XmlElement;
}

/** Whether a block, or one that it stands in, was taken out. */
function isGone(block: Y.XmlElement): boolean {
  let type: Y.AbstractType<unknown> | null = block as Y.AbstractType<unknown>;
  while (type) {
    const item: Y.Item | null = type._item;
    if (!item) return false;
    if (item.deleted) return true;
    type = item.parent as Y.AbstractType<unknown> | null;
  }
  return false;
}

function isThere(view: EditorView, words: string): boolean {
  let isFound = false;
  view.state.doc.descendants((node) => {
    isFound ||= node.isTextblock && node.textContent.includes(words);
    return !isFound;
  });
  return isFound;
}

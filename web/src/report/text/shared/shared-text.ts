import type { HocuspocusProvider } from '@hocuspocus/provider';
import { kindOf, sharedDressings, sharedSettings, sharedText } from '@tether/documents';
import { Extension } from '@tiptap/core';
import type { Schema, Node as TextNode } from '@tiptap/pm/model';
import { type EditorState, Plugin, type Transaction } from '@tiptap/pm/state';
import { Mapping, StepMap } from '@tiptap/pm/transform';
import {
  initProseMirrorDoc,
  ProsemirrorBinding,
  redo,
  undo,
  yCursorPlugin,
  ySyncPlugin,
  ySyncPluginKey,
  yUndoPlugin,
} from '@tiptap/y-tiptap';
import * as Y from 'yjs';
import { OWN_STEP } from '../../../documents/writing/own-step.ts';
import { placeBlocks } from './place-blocks.ts';

/** Changes within this time are one step of undo. */
const ONE_STEP_MS = 500;

/** Whether a transaction brings in what was written elsewhere, or what undo brought back. */
export function isFromShared(transaction: Transaction): boolean {
  const said = transaction.getMeta(ySyncPluginKey) as { isChangeOrigin?: boolean } | undefined;
  return said?.isChangeOrigin === true;
}

/**
 * Which node of the text stands for which shared type. The binding forgets all of it at every change from elsewhere, and would
 * make every node of a long text anew; what changed is taken out one by one as well, which is enough.
 */
class KeptMapping<Key, Value> extends Map<Key, Value> {
  override clear(): void {
    // Nothing: see above.
  }
}

/** The undo of this window: text, settings and dressings of one document, and nobody else’s steps. */
class Steps extends Y.UndoManager {
  constructor(doc: Y.Doc) {
    super([sharedText(doc), sharedSettings(doc), sharedDressings(doc)], {
      trackedOrigins: new Set<unknown>([ySyncPluginKey, OWN_STEP]),
      captureTimeout: ONE_STEP_MS,
      captureTransaction: ({ meta }) => meta.get('addToHistory') !== false,
    });
  }

  /** Nothing: the binding ends it whenever the editor draws its plug-ins anew, and undo goes on after that. */
  override destroy(): void {}

  end(): void {
    super.destroy();
  }
}

/** Does something as one step of undo, apart from what was done right before and after it. */
export function asOneStep<T>(steps: Y.UndoManager, act: () => T): T {
  const { captureTimeout } = steps;
  steps.stopCapturing();
  steps.captureTimeout = Number.MAX_SAFE_INTEGER;
  try {
    return act();
  } finally {
    steps.captureTimeout = captureTimeout;
    steps.stopCapturing();
  }
}

/** The text as it is now, for an editor to begin with. Drawing it a second time for the binding would take as long again. */
function beginningOf(
  doc: Y.Doc,
  schema: Schema,
): { text: TextNode; mapping: KeptMapping<Y.AbstractType<unknown>, TextNode> } {
  const { doc: text, mapping } = initProseMirrorDoc(sharedText(doc), schema) as {
    doc: TextNode;
    mapping: Map<Y.AbstractType<unknown>, TextNode>;
  };
  const attrs = Object.fromEntries(
    Object.entries(kindOf('report').shared.settings(doc)).filter(([name]) => name in text.attrs),
  );
  return {
    text: text.type.create({ ...text.attrs, ...attrs }, text.content, text.marks),
    mapping: new KeptMapping(mapping),
  };
}

interface Options {
  doc: Y.Doc;
  /** Tells others where the cursor is; null for a text that nobody else sees. */
  provider: HocuspocusProvider | null;
}

export interface SharedTextStorage {
  steps: Steps;
  mapping: Map<Y.AbstractType<unknown>, TextNode> | null;
}

declare module '@tiptap/core' {
  interface Storage {
    sharedText: SharedTextStorage;
  }
  interface Commands<ReturnType> {
    sharedText: {
      /** Takes back the last step of this window. */
      undo: () => ReturnType;
      /** Does again what was taken back last. */
      redo: () => ReturnType;
    };
  }
}

/** Ties the text of the editor to a document that people write together: text, settings, undo, and where others are. */
export const SharedText = Extension.create<Options, SharedTextStorage>({
  name: 'sharedText',
  // Before what the editor's library does with these keys.
  priority: 1000,

  addStorage() {
    return { steps: new Steps(this.options.doc), mapping: null };
  },

  onBeforeCreate() {
    const { text, mapping } = beginningOf(this.options.doc, this.editor.schema);
    this.editor.options.content = text as never;
    this.storage.mapping = mapping;
  },

  onDestroy() {
    this.storage.steps.end();
  },

  addCommands() {
    return {
      undo:
        () =>
        ({ tr, state, dispatch }) => {
          tr.setMeta('preventDispatch', true);
          if (this.storage.steps.undoStack.length === 0) return false;
          return dispatch ? undo(state) : true;
        },
      redo:
        () =>
        ({ tr, state, dispatch }) => {
          tr.setMeta('preventDispatch', true);
          if (this.storage.steps.redoStack.length === 0) return false;
          return dispatch ? redo(state) : true;
        },
    };
  },

  addKeyboardShortcuts() {
    return {
      'Mod-z': () => this.editor.commands.undo(),
      'Mod-y': () => this.editor.commands.redo(),
      'Shift-Mod-z': () => this.editor.commands.redo(),
    };
  },

  addProseMirrorPlugins() {
    const { doc, provider } = this.options;
    const { mapping } = this.storage;
    this.storage.mapping = null;
    return [
      ySyncPlugin(sharedText(doc), mapping ? { mapping } : {}),
      placingPlugin(),
      yUndoPlugin({ undoManager: this.storage.steps as never }),
      ...(provider?.awareness
        ? [
            yCursorPlugin(provider.awareness as never, {
              cursorBuilder: caretOf,
              selectionBuilder: selectionOf,
            }),
          ]
        : []),
      settingsPlugin(doc),
      lastLinePlugin(),
    ];
  },
});

/** Lets the binding write blocks as `placeBlocks` does, before it writes what is left in its own way. */
function placingPlugin(): Plugin {
  return new Plugin({
    view: (view) => {
      const { binding } = ySyncPluginKey.getState(view.state) as { binding: ProsemirrorBinding };
      const write = ProsemirrorBinding.prototype._prosemirrorChanged;
      binding._prosemirrorChanged = (text: TextNode) => {
        binding.doc.transact(() => {
          placeBlocks(binding.type, text, binding);
          write.call(binding, text);
        }, ySyncPluginKey);
      };
      return {};
    },
  });
}

/** Settings that somebody changed come into the text's own. */
function settingsPlugin(doc: Y.Doc): Plugin {
  return new Plugin({
    view: (view) => {
      const settings = sharedSettings(doc);
      const take = () => {
        const { tr } = view.state;
        const said = kindOf('report').shared.settings(doc);
        for (const name of Object.keys(tr.doc.attrs)) {
          const value = said[name] ?? null;
          if (JSON.stringify(tr.doc.attrs[name]) !== JSON.stringify(value)) {
            tr.setDocAttribute(name, value);
          }
        }
        if (tr.docChanged) view.dispatch(tr.setMeta(ySyncPluginKey, { isChangeOrigin: true }));
      };
      settings.observe(take);
      return { destroy: () => settings.unobserve(take) };
    },
  });
}

/** A line to write on at the end, whatever was put there. Each window cares for what was done in it. */
function lastLinePlugin(): Plugin {
  return new Plugin({
    appendTransaction: (transactions, _before, { doc, tr, schema }) => {
      const isOwn = transactions.some((each) => each.docChanged && !isFromShared(each));
      if (!isOwn || doc.lastChild?.type.name === 'paragraph') return null;
      return tr.insert(doc.content.size, schema.nodes.paragraph!.create());
    },
  });
}

/** What was changed between two texts, as far as places need it: from where to where they differ. */
export function changeBetween(before: TextNode, after: TextNode): Mapping {
  const start = before.content.findDiffStart(after.content);
  const ends = before.content.findDiffEnd(after.content);
  if (start === null || ends === null) return new Mapping();
  // What came or went may be equal to what stands beside it: then the ends found lie before the start.
  const overlap = Math.max(0, start - Math.min(ends.a, ends.b));
  const [was, is] = [ends.a + overlap - start, ends.b + overlap - start];
  return new Mapping([new StepMap([start, was, is])]);
}

/** How places of the text move with a change. What comes from elsewhere puts in the whole text anew: they stay where the text does. */
export function placesThrough(transaction: Transaction, before: EditorState): Mapping {
  return transaction.docChanged && isFromShared(transaction)
    ? changeBetween(before.doc, transaction.doc)
    : transaction.mapping;
}

interface Said {
  name: string;
  color: string;
}

/** Where somebody else’s cursor stands, with the name. */
function caretOf({ name, color }: Said): HTMLElement {
  const caret = document.createElement('span');
  caret.className = 'caret';
  caret.style.setProperty('--caret', color);
  // Drawn by the style sheet: it is no part of the text, neither for who copies it nor for who has it read out.
  caret.dataset.name = name;
  return caret;
}

function selectionOf({ color }: Said): Record<string, string> {
  return { class: 'caret-selection', style: `--caret: ${color}` };
}

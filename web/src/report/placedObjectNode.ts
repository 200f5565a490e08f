import { PLACED_NODE } from '@tether/contract';
import { mergeAttributes, Node } from '@tiptap/core';
import type { Node as TextNode } from '@tiptap/pm/model';
import { Plugin, PluginKey, type Transaction } from '@tiptap/pm/state';
import { ReactNodeViewRenderer } from '@tiptap/react';
import { PlacedObject } from './PlacedObject.tsx';

/** Set on a transaction that brings in text saved elsewhere: its objects are what they say. */
export const REMOTE_TEXT = 'remoteText';

interface Options {
  /** Whether a tether belongs to this document. */
  isOwn: (tetherId: string) => boolean;
}

/**
 * The node of a placed object. It can be moved, copied, cut, deleted and brought back by undo; an object that appears a
 * second time, or comes from another document, gets a tether of its own, marked as a copy.
 */
export const PlacedObjectNode = Node.create<Options>({
  name: PLACED_NODE,
  group: 'block',
  atom: true,
  draggable: true,
  selectable: true,

  addOptions: () => ({ isOwn: () => true }),

  addAttributes: () => ({
    tetherId: {
      default: null,
      parseHTML: (element) => element.getAttribute('data-tether'),
      renderHTML: ({ tetherId }) => ({ 'data-tether': tetherId as string }),
    },
    copyOf: {
      default: null,
      parseHTML: (element) => element.getAttribute('data-copy-of'),
      renderHTML: ({ copyOf }) => (copyOf ? { 'data-copy-of': copyOf as string } : {}),
    },
  }),

  parseHTML: () => [{ tag: 'div[data-tether]' }],
  renderHTML: ({ HTMLAttributes }) => ['div', mergeAttributes(HTMLAttributes)],
  addNodeView: () => ReactNodeViewRenderer(PlacedObject, { className: 'placed-object' }),

  addProseMirrorPlugins() {
    const { isOwn } = this.options;
    /** Ids that this screen gave to copies, or that came with text from the server. */
    const own = new Set<string>();
    return [
      new Plugin({
        key: new PluginKey('ownTethers'),
        appendTransaction(transactions, before, after) {
          if (!transactions.some((each) => each.docChanged)) return null;
          if (transactions.some((each) => each.getMeta(REMOTE_TEXT))) {
            for (const { id } of objectsIn(after.doc)) own.add(id);
            return null;
          }
          const kept = placesKept(transactions, before.doc);
          const seen = new Set<string>();
          const change = after.tr;
          const objects = objectsIn(after.doc);
          for (const { id, position, node } of objects) {
            const isTwin = objects.some((each) => each.id === id && each.position !== position);
            const isOriginal = kept.get(id) === position || (!kept.has(id) && !seen.has(id));
            seen.add(id);
            const isForeign = !own.has(id) && !isOwn(id);
            if (!isForeign && (!isTwin || isOriginal)) continue;
            const fresh = crypto.randomUUID();
            own.add(fresh);
            change.setNodeMarkup(position, undefined, {
              ...node.attrs,
              tetherId: fresh,
              copyOf: isForeign || !node.attrs.copyOf ? id : (node.attrs.copyOf as string),
            });
          }
          return change.docChanged ? change : null;
        },
      }),
    ];
  },
});

/** Every placed object of the text with its tether's id and its place. */
export function objectsIn(text: TextNode): { id: string; position: number; node: TextNode }[] {
  const found: { id: string; position: number; node: TextNode }[] = [];
  text.descendants((node, position) => {
    if (node.type.name === PLACED_NODE) {
      found.push({ id: String(node.attrs.tetherId), position, node });
    }
  });
  return found;
}

/** Where the objects of the earlier text stand after the transactions, unless they were cut out. */
function placesKept(transactions: readonly Transaction[], before: TextNode): Map<string, number> {
  const places = new Map<string, number>();
  for (const { id, position } of objectsIn(before)) {
    let place = position;
    let isDeleted = false;
    for (const { mapping } of transactions) {
      const result = mapping.mapResult(place, 1);
      isDeleted ||= result.deletedAfter;
      place = result.pos;
    }
    if (!isDeleted) places.set(id, place);
  }
  return places;
}

import { type Dressing, PLACED_INLINE, PLACED_NODE, REFERENCE_NODE } from '@tether/documents';
import { type Attributes, mergeAttributes, Node } from '@tiptap/core';
import type { Node as TextNode } from '@tiptap/pm/model';
import { Plugin, PluginKey, type Transaction } from '@tiptap/pm/state';
import { ReactNodeViewRenderer } from '@tiptap/react';
import type { Dressings } from '../../../documents/object/dressings.ts';
import { objectsIn } from '../reading/objects-in.ts';
import { isFromShared } from '../shared/shared-text.ts';
import { OWN_TETHER, REMOTE_TEXT } from '../shared/transaction-marks.ts';
import { PlacedInline } from './PlacedInline.tsx';
import { PlacedObject } from './PlacedObject.tsx';

interface Options {
  /** Whether a tether belongs to this document. */
  isOwn: (tetherId: string) => boolean;
  dressings: Dressings | null;
}

const plain = (name: string, fallback: unknown) => ({
  default: fallback,
  parseHTML: (element: HTMLElement) => {
    const text = element.getAttribute(`data-${name}`);
    if (text === null) return fallback;
    try {
      return JSON.parse(text) as unknown;
    } catch {
      return fallback;
    }
  },
  renderHTML: (attributes: Record<string, unknown>) => ({
    [`data-${name}`]: JSON.stringify(attributes[name] ?? fallback),
  }),
});

const ATTRIBUTES: Attributes = {
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
  form: plain('form', 'table'),
  /** Only on its way through the clipboard: in a text it lies beside it, see `dressings`. */
  dressing: plain('dressing', null),
};

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

  addOptions: () => ({ isOwn: () => true, dressings: null }),

  addAttributes: () => ATTRIBUTES,

  parseHTML: () => [{ tag: 'div[data-tether]' }],
  renderHTML: ({ HTMLAttributes }) => ['div', mergeAttributes(HTMLAttributes)],
  addNodeView: () => ReactNodeViewRenderer(PlacedObject, { className: 'placed-object' }),

  addProseMirrorPlugins() {
    const { isOwn, dressings } = this.options;
    /** Ids that this screen gave to copies, or that came with text from the server. */
    const own = new Set<string>();
    return [
      new Plugin({
        key: new PluginKey('ownTethers'),
        appendTransaction(transactions, before, after) {
          if (!transactions.some((each) => each.docChanged)) return null;
          if (transactions.some((each) => each.getMeta(REMOTE_TEXT) || isFromShared(each))) {
            for (const { id } of objectsIn(after.doc)) own.add(id);
            return null;
          }
          for (const each of transactions) {
            const placed = each.getMeta(OWN_TETHER) as string | undefined;
            if (placed) own.add(placed);
          }
          const kept = placesKept(transactions, before.doc);
          const seen = new Set<string>();
          const change = after.tr;
          const copies = new Map<string, string>();
          const objects = objectsIn(after.doc);
          for (const { id, position, node } of objects) {
            const isTwin = objects.some((each) => each.id === id && each.position !== position);
            const isOriginal = kept.get(id) === position || (!kept.has(id) && !seen.has(id));
            seen.add(id);
            const isForeign = !own.has(id) && !isOwn(id);
            const dressing = node.attrs.dressing as Dressing | null;
            if (!isForeign && (!isTwin || isOriginal)) {
              if (dressing) change.setNodeAttribute(position, 'dressing', null);
              continue;
            }
            const fresh = crypto.randomUUID();
            own.add(fresh);
            copies.set(id, fresh);
            dressings?.set(fresh, dressing ?? dressings.of(id));
            change.setNodeMarkup(position, undefined, {
              ...node.attrs,
              tetherId: fresh,
              dressing: null,
              copyOf: isForeign || !node.attrs.copyOf ? id : (node.attrs.copyOf as string),
            });
          }
          followCopies(change, after.doc, copies, changedRanges(transactions));
          return change.docChanged ? change : null;
        },
      }),
    ];
  },
});

/** The node of a placed object inside a line of text. What is said of the other node holds for it as well. */
export const PlacedInlineNode = Node.create({
  name: PLACED_INLINE,
  group: 'inline',
  inline: true,
  atom: true,
  draggable: true,
  selectable: true,
  addAttributes: () => ATTRIBUTES,
  parseHTML: () => [{ tag: 'span[data-tether]' }],
  renderHTML: ({ HTMLAttributes }) => ['span', mergeAttributes(HTMLAttributes)],
  addNodeView: () =>
    ReactNodeViewRenderer(PlacedInline, { as: 'span', className: 'placed-inline' }),
});

/** Where a text stands that came with transactions, in the text after them. */
function changedRanges(transactions: readonly Transaction[]): { from: number; to: number }[] {
  const ranges: { from: number; to: number }[] = [];
  transactions.forEach((transaction, index) => {
    const later = transactions.slice(index + 1);
    const map = (place: number, side: -1 | 1) =>
      later.reduce((at, { mapping }) => mapping.map(at, side), place);
    transaction.mapping.maps.forEach((each, step) => {
      const rest = transaction.mapping.slice(step + 1);
      each.forEach((_from, _to, from, to) => {
        ranges.push({ from: map(rest.map(from, -1), -1), to: map(rest.map(to, 1), 1) });
      });
    });
  });
  return ranges;
}

/** References that came along with objects of which copies were made name the copies. */
function followCopies(
  change: Transaction,
  text: TextNode,
  copies: ReadonlyMap<string, string>,
  ranges: readonly { from: number; to: number }[],
): void {
  if (copies.size === 0) return;
  for (const { from, to } of ranges) {
    text.nodesBetween(from, Math.min(to, text.content.size), (node, position) => {
      const copy = node.type.name === REFERENCE_NODE && copies.get(String(node.attrs.to));
      const isWithin = position >= from && position + node.nodeSize <= to;
      if (copy && isWithin) change.setNodeAttribute(position, 'to', copy);
    });
  }
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

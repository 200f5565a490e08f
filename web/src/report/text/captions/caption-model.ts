import {
  CAPTION_NODE,
  CAPTIONED_NODE,
  type CaptionKind,
  type NumberedCaption,
  numberCaptions,
  PICTURE_NODE,
  type Placement,
  placementSchema,
} from '@tether/documents';
import type { Node as TextNode } from '@tiptap/pm/model';
import type { EditorState, Transaction } from '@tiptap/pm/state';
import { objectsIn } from '../reading/objects-in.ts';
import { ownWords } from '../reading/own-words.ts';

/** A caption in the text, with what a list says of it. */
export interface CaptionInText extends NumberedCaption {
  words: string;
  /** Its words, and in their places the values among them. */
  parts: (string | Placement)[];
  /** Place of the node that holds object and caption. */
  position: number;
}

/** By which a captioned object is named: its tether, or of a picture its own id. */
export function captionedId(node: TextNode | null | undefined): string {
  return String(node?.attrs.tetherId ?? node?.attrs.id ?? '');
}

/** The captions of a text in reading order, numbered. */
export function captionsIn(text: TextNode): CaptionInText[] {
  const found: (Omit<CaptionInText, 'number'> & { kind: CaptionKind })[] = [];
  text.descendants((node, position) => {
    if (node.type.name !== CAPTIONED_NODE) return true;
    const kind = node.attrs.kind === 'figure' ? 'figure' : 'table';
    const caption = node.lastChild?.type.name === CAPTION_NODE ? node.lastChild : null;
    const words = (caption && ownWords(caption)) ?? '';
    const parts = caption ? partsOf(caption) : [];
    const tetherId = captionedId(node.firstChild);
    found.push({ tetherId, kind, words, parts, position });
    return false;
  });
  const numbers = numberCaptions(found);
  return found.map((each, index) => ({ ...each, number: numbers[index]!.number }));
}

function partsOf(caption: TextNode): CaptionInText['parts'] {
  const parts: CaptionInText['parts'] = [];
  caption.forEach((node) => {
    const value = node.isText ? null : placementSchema.safeParse(node.attrs);
    if (node.isText) parts.push(node.text ?? '');
    else if (value?.success && value.data.form === 'value') parts.push(value.data);
  });
  return parts;
}

/**
 * Brings an object and its caption together again where one of them was moved alone; a caption whose object is gone stays
 * as a paragraph, so that no words are lost.
 */
export function mend(state: EditorState): Transaction | null {
  const { tr, schema } = state;
  const broken: { position: number; node: TextNode }[] = [];
  const stale: { position: number; of: string }[] = [];
  const twins: number[] = [];
  const seen = new Set<string>();
  state.doc.descendants((node, position) => {
    if (node.type.name !== CAPTIONED_NODE) return true;
    const object = node.firstChild?.type.name === CAPTION_NODE ? null : node.firstChild;
    const id = object ? captionedId(object) : null;
    if (object?.type.name === PICTURE_NODE && id !== null) {
      if (seen.has(id)) twins.push(position);
      seen.add(id);
    }
    if (!object || node.childCount < 2) broken.push({ position, node });
    else if (node.attrs.of !== id) stale.push({ position, of: id! });
    return false;
  });
  if (broken.length + stale.length + twins.length === 0) return null;
  // A copy of a picture is another picture: its caption has a number of its own.
  for (const position of twins) {
    const id = crypto.randomUUID();
    tr.setNodeAttribute(position + 1, 'id', id);
    tr.setNodeAttribute(position, 'of', id);
  }
  for (const { position, of } of stale) tr.setNodeAttribute(position, 'of', of);
  for (const { position, node } of broken) {
    const from = tr.mapping.map(position);
    const caption = node.lastChild?.type.name === CAPTION_NODE ? node.lastChild : null;
    if (!caption) {
      // The caption went: the object stands alone.
      if (node.firstChild) tr.replaceWith(from, from + node.nodeSize, node.firstChild);
      else tr.delete(from, from + node.nodeSize);
      continue;
    }
    const lost = objectsIn(tr.doc).find(
      (each) =>
        each.id === node.attrs.of &&
        !each.node.isInline &&
        tr.doc.resolve(each.position).parent.type.name !== CAPTIONED_NODE,
    );
    if (lost) {
      const whole = schema.nodes[CAPTIONED_NODE]!.create(node.attrs, [lost.node, caption]);
      const size = lost.node.nodeSize;
      const steps = tr.steps.length;
      tr.replaceWith(lost.position, lost.position + size, whole);
      const now = tr.mapping.slice(steps).map(from);
      tr.delete(now, now + node.nodeSize);
    } else if (caption.content.size > 0) {
      const words = schema.nodes.paragraph!.create(null, caption.content);
      tr.replaceWith(from, from + node.nodeSize, words);
    } else tr.delete(from, from + node.nodeSize);
  }
  return tr.docChanged ? tr : null;
}

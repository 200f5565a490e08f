import { type KeptPicture, PICTURE_DENSITY } from '@tether/contract';
import { PIXELS_PER_MM } from '@tether/core';
import {
  type Form,
  isInline,
  PICTURE_NODE,
  type PictureAttributes,
  PLACED_NODE,
} from '@tether/documents';
import type { Node as TextNode } from '@tiptap/pm/model';
import type { Editor } from '@tiptap/react';
import { objectsIn } from '../reading/objects-in.ts';
import { OWN_TETHER } from '../shared/transaction-marks.ts';
import { insertObject } from './object-commands.ts';

/**
 * Puts a picture of an object between paragraphs in its place. The picture has the object's name for its own, so that its caption and what refers to it
 * stay, and the object is found again from it.
 */
export function pictureObject(
  editor: Editor,
  tetherId: string,
  { hash, width, height, alt }: KeptPicture & { alt: string },
): void {
  const { tr, schema } = editor.state;
  const object = objectsIn(editor.state.doc).find(({ id }) => id === tetherId);
  if (!object || object.node.isInline) return;
  const attributes: PictureAttributes = {
    ...{ id: tetherId, hash, alt },
    ...{ pixelWidth: width, pixelHeight: height },
    // As wide as it was.
    width: width / PICTURE_DENSITY / PIXELS_PER_MM,
  };
  const picture = schema.nodes[PICTURE_NODE]!.create(attributes);
  const { position, node } = object;
  tr.replaceWith(position, position + node.nodeSize, picture);
  editor.view.dispatch(tr.scrollIntoView());
}

/** The object that a node stands for: its picture, or the table of its texts. */
function wasOf({ type, attrs }: TextNode): string | null {
  const was = type.name === PICTURE_NODE ? attrs.id : type.name === 'table' ? attrs.was : null;
  return typeof was === 'string' ? was : null;
}

/** The objects that pictures and tables of a text stand for; of a picture that was never an object its own name. */
export function remainsIn(doc: TextNode): string[] {
  const found: string[] = [];
  doc.descendants((node) => {
    const was = wasOf(node);
    if (was !== null) found.push(was);
    return !node.isTextblock;
  });
  return found;
}

/** What stands in the text for an object that was let go. */
function remainsOf(doc: TextNode, tetherId: string): { position: number; node: TextNode } | null {
  let found: { position: number; node: TextNode } | null = null;
  doc.descendants((node, position) => {
    if (wasOf(node) === tetherId) found = { position, node };
    return found === null;
  });
  return found;
}

/** Puts an object back where its picture or its texts stand; where these are gone, at the cursor. */
export function bringIn(editor: Editor, { id, form }: { id: string; form: Form }): void {
  const remains = remainsOf(editor.state.doc, id);
  if (!remains || isInline(form)) {
    insertObject(editor, id, form);
    return;
  }
  const { tr, schema } = editor.state;
  const placed = schema.nodes[PLACED_NODE]!.create({ tetherId: id, copyOf: null, form });
  const { position, node } = remains;
  tr.replaceWith(position, position + node.nodeSize, placed);
  editor.view.dispatch(tr.setMeta(OWN_TETHER, id).scrollIntoView());
}

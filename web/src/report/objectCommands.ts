import {
  type Dressing,
  type Form,
  isInline,
  PLACED_INLINE,
  PLACED_NODE,
  placedAttributesSchema,
} from '@tether/contract';
import { Fragment } from '@tiptap/pm/model';
import { NodeSelection } from '@tiptap/pm/state';
import type { Editor } from '@tiptap/react';
import { OWN_TETHER, objectsIn } from './placedObjectNode.ts';

/** Puts a new object into the text and selects it: in the line at the cursor, or behind the block that it stands in. */
export function insertObject(editor: Editor, tetherId: string, form: Form): void {
  const attrs = { tetherId, copyOf: null, form, dressing: {} };
  if (isInline(form)) {
    const { schema, tr } = editor.state;
    // Behind an object that is selected, not in its place.
    const at = editor.state.selection.to;
    const node = schema.nodes[PLACED_INLINE]!.create(attrs);
    const isInText = tr.doc.resolve(at).parent.inlineContent;
    tr.insert(at, isInText ? node : schema.nodes.paragraph!.create(null, node));
    tr.setSelection(NodeSelection.create(tr.doc, isInText ? at : at + 1));
    editor.view.dispatch(tr.setMeta(OWN_TETHER, tetherId).scrollIntoView());
    return;
  }
  const { $to } = editor.state.selection;
  const isEmptyLine = $to.depth === 1 && $to.parent.content.size === 0;
  const after = $to.depth === 0 ? $to.pos : isEmptyLine ? $to.before(1) : $to.after(1);
  editor
    .chain()
    .setMeta(OWN_TETHER, tetherId)
    .insertContentAt(after, { type: PLACED_NODE, attrs })
    .run();
  selectObject(editor, tetherId);
}

/**
 * Selects the object at a place of the text. The text takes the focus, so that the keys act on the object: cut, copy,
 * delete; and at once, since a focus that comes a moment later would take back a click made meanwhile.
 */
export function selectAt(editor: Editor, position: number): void {
  editor.commands.setNodeSelection(position);
  editor.view.focus();
}

/** Selects an object and brings it into view. False when it does not stand in the text. */
export function selectObject(editor: Editor, tetherId: string): boolean {
  const found = objectsIn(editor.state.doc).find(({ id }) => id === tetherId);
  if (!found) return false;
  selectAt(editor, found.position);
  const element = editor.view.nodeDOM(found.position);
  if (element instanceof HTMLElement) element.scrollIntoView({ block: 'nearest' });
  return true;
}

/** The form and dressing of an object in the text, or null when it does not stand there. */
export function faceOf(
  editor: Editor,
  tetherId: string,
): { form: Form; dressing: Dressing } | null {
  const found = objectsIn(editor.state.doc).find(({ id }) => id === tetherId);
  const attributes = found && placedAttributesSchema.safeParse(found.node.attrs);
  return attributes?.success ? attributes.data : null;
}

/** Changes the dressing of an object; what is not named stays. Undo brings the old one back. */
export function dressObject(editor: Editor, tetherId: string, change: Dressing): void {
  const found = objectsIn(editor.state.doc).find(({ id }) => id === tetherId);
  const face = faceOf(editor, tetherId);
  if (!found || !face) return;
  const attrs = { ...found.node.attrs, dressing: { ...face.dressing, ...change } };
  const { tr } = editor.state;
  tr.setNodeMarkup(found.position, undefined, attrs);
  // The object stays selected, so that its panel stays open.
  tr.setSelection(NodeSelection.create(tr.doc, found.position));
  editor.view.dispatch(tr);
}

/** Turns an object into another form: the same tether, so that it keeps its source, standing and history. */
export function turnObject(editor: Editor, tetherId: string, form: Form): void {
  const found = objectsIn(editor.state.doc).find(({ id }) => id === tetherId);
  if (!found || found.node.attrs.form === form) return;
  const { schema, tr } = editor.state;
  const { position, node } = found;
  const attrs = { ...node.attrs, form };
  const isNow = node.type.name === PLACED_INLINE;
  if (isNow === isInline(form)) {
    tr.setNodeMarkup(position, undefined, attrs);
    tr.setSelection(NodeSelection.create(tr.doc, position));
  } else if (isNow) {
    // Out of its line, and behind the block that the line is.
    const behind = tr.doc.resolve(position).after(1);
    tr.insert(behind, schema.nodes[PLACED_NODE]!.create(attrs));
    tr.setSelection(NodeSelection.create(tr.doc, behind));
    tr.delete(position, position + node.nodeSize);
  } else {
    // A line of its own takes the block's place; words can be written around it.
    const line = schema.nodes.paragraph!.create(null, schema.nodes[PLACED_INLINE]!.create(attrs));
    tr.replaceWith(position, position + node.nodeSize, line);
    tr.setSelection(NodeSelection.create(tr.doc, position + 1));
  }
  editor.view.dispatch(tr.scrollIntoView());
}

/** Takes an object out of the text; undo brings it back. */
export function removeObject(editor: Editor, tetherId: string): void {
  const found = objectsIn(editor.state.doc).find(({ id }) => id === tetherId);
  if (!found) return;
  const { position, node } = found;
  editor
    .chain()
    .focus()
    .deleteRange({ from: position, to: position + node.nodeSize })
    .run();
}

/** Puts a second object behind this one, with a tether of its own. */
export function copyObject(editor: Editor, tetherId: string): void {
  const found = objectsIn(editor.state.doc).find(({ id }) => id === tetherId);
  if (!found) return;
  const { position, node } = found;
  editor
    .chain()
    .insertContentAt(position + node.nodeSize, node.toJSON() as Record<string, unknown>)
    .run();
}

/** Moves an object over the block before (-1) or behind (1) it. False when there is none. */
export function moveObject(editor: Editor, tetherId: string, by: -1 | 1): boolean {
  const found = objectsIn(editor.state.doc).find(({ id }) => id === tetherId);
  if (!found) return false;
  const { position, node } = found;
  // Inside a line there is no block to change places with: it is dragged, or cut and pasted.
  if (node.isInline) return false;
  const place = editor.state.doc.resolve(position);
  const neighbour = by < 0 ? place.nodeBefore : place.parent.maybeChild(place.index() + 1);
  if (!neighbour) return false;
  // The two blocks change places in one step, so that undo is one step too.
  const from = by < 0 ? position - neighbour.nodeSize : position;
  const pair = by < 0 ? [node, neighbour] : [neighbour, node];
  return editor
    .chain()
    .command(({ tr }) => {
      tr.replaceWith(from, from + node.nodeSize + neighbour.nodeSize, Fragment.from(pair));
      tr.setSelection(NodeSelection.create(tr.doc, by < 0 ? from : from + neighbour.nodeSize));
      tr.scrollIntoView();
      return true;
    })
    .run();
}

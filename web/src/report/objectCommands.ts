import { PLACED_NODE } from '@tether/contract';
import { Fragment } from '@tiptap/pm/model';
import { NodeSelection } from '@tiptap/pm/state';
import type { Editor } from '@tiptap/react';
import { objectsIn } from './placedObjectNode.ts';

/** Puts a new object behind the block that the cursor stands in, and selects it. */
export function insertObject(editor: Editor, tetherId: string): void {
  const { $to } = editor.state.selection;
  const isEmptyLine = $to.depth === 1 && $to.parent.content.size === 0;
  const after = $to.depth === 0 ? $to.pos : isEmptyLine ? $to.before(1) : $to.after(1);
  editor
    .chain()
    .insertContentAt(after, { type: PLACED_NODE, attrs: { tetherId, copyOf: null } })
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

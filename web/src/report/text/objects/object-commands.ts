import {
  CAPTION_NODE,
  CAPTIONED_NODE,
  type CaptionKind,
  type Dressing,
  type Form,
  isInline,
  isPlacedNode,
  PICTURE_NODE,
  PLACED_INLINE,
  PLACED_NODE,
  placementSchema,
  REFERENCE_NODE,
  usualCaption,
} from '@tether/documents';
import { Fragment, type Node as TextNode } from '@tiptap/pm/model';
import { type EditorState, NodeSelection, TextSelection } from '@tiptap/pm/state';
import type { EditorView } from '@tiptap/pm/view';
import type { Editor } from '@tiptap/react';
import type { Dressings } from '../../../documents/object/dressings.ts';
import { objectsIn } from '../reading/objects-in.ts';
import { goBehind, placeForBlock } from '../reading/places.ts';
import { asOneStep } from '../shared/shared-text.ts';
import { OWN_TETHER } from '../shared/transaction-marks.ts';

/**
 * Puts a new object into the text, in the line at the cursor or behind the block that it stands in; at `place` instead of
 * the cursor where that is given. The cursor then stands behind it, in a line to write on.
 */
export function insertObject(editor: Editor, tetherId: string, form: Form, place?: number): void {
  const attrs = { tetherId, copyOf: null, form };
  const { schema, tr, selection } = editor.state;
  if (isInline(form)) {
    // Behind an object that is selected, not in its place.
    const at = place ?? selection.to;
    const node = schema.nodes[PLACED_INLINE]!.create(attrs);
    const isInText = tr.doc.resolve(at).parent.inlineContent;
    tr.insert(at, isInText ? node : schema.nodes.paragraph!.create(null, node));
    tr.setSelection(TextSelection.create(tr.doc, (isInText ? at : at + 1) + node.nodeSize));
  } else {
    const $to = place === undefined ? selection.$to : tr.doc.resolve(place);
    const at = placeForBlock($to);
    const node = schema.nodes[PLACED_NODE]!.create(attrs);
    tr.insert(at, node);
    goBehind(tr, at + node.nodeSize);
  }
  editor.view.dispatch(tr.setMeta(OWN_TETHER, tetherId).scrollIntoView());
  editor.view.focus();
}

/** The object or picture that is selected as one thing, an object with its caption; null while the cursor stands in words. */
export function wholeSelected({ selection }: EditorState): { node: TextNode; to: number } | null {
  if (!(selection instanceof NodeSelection)) return null;
  const { node, to } = selection;
  const { name } = node.type;
  const isWhole = isPlacedNode(name) || name === CAPTIONED_NODE || name === PICTURE_NODE;
  return isWhole ? { node, to } : null;
}

/** Puts the cursor behind the object that is selected, so that what comes in does not take its place. */
export function leaveSelected(view: EditorView): void {
  const whole = wholeSelected(view.state);
  if (!whole) return;
  const { tr } = view.state;
  if (whole.node.isInline) tr.setSelection(TextSelection.create(tr.doc, whole.to));
  else goBehind(tr, whole.to);
  view.dispatch(tr);
}

/** An object with what belongs to it: its caption, where it has one. */
function wholeAt(text: TextNode, position: number): { position: number; node: TextNode } {
  const place = text.resolve(position);
  if (place.parent.type.name === CAPTIONED_NODE) {
    return { position: place.before(), node: place.parent };
  }
  return { position, node: text.nodeAt(position)! };
}

/**
 * Selects the object at a place of the text. The text takes the focus, so that the keys act on the object: cut, copy,
 * delete; and at once, since a focus that comes a moment later would take back a click made meanwhile.
 */
export function selectAt(editor: Editor, position: number): void {
  editor.commands.setNodeSelection(wholeAt(editor.state.doc, position).position);
  editor.view.focus();
}

/** Begins to drag an object with its caption: what is dropped is both, or a copy of both where a key asks for one. */
export function dragCaptioned(editor: Editor, position: number, event: globalThis.DragEvent): void {
  const { view } = editor;
  const { dataTransfer } = event;
  if (!dataTransfer) return;
  const { state } = view;
  const selection = NodeSelection.create(state.doc, wholeAt(state.doc, position).position);
  view.dispatch(state.tr.setSelection(selection));
  const { dom, text, slice } = view.serializeForClipboard(selection.content());
  dataTransfer.clearData();
  dataTransfer.setData('text/html', dom.innerHTML);
  dataTransfer.setData('text/plain', text);
  dataTransfer.effectAllowed = 'copyMove';
  // What the editor's library looks at when something is dropped.
  view.dragging = { slice, move: !(event.ctrlKey || event.altKey) };
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

/** The form of an object in the text, or null when it does not stand there. */
export function formOf(editor: Editor, tetherId: string): Form | null {
  const found = objectsIn(editor.state.doc).find(({ id }) => id === tetherId);
  const attributes = found && placementSchema.safeParse(found.node.attrs);
  return attributes?.success ? attributes.data.form : null;
}

/** Changes the dressing of an object; what is not named stays. Undo brings the old one back. */
export function dressObject(
  editor: Editor,
  dressings: Dressings,
  tetherId: string,
  change: Dressing,
): void {
  const found = objectsIn(editor.state.doc).find(({ id }) => id === tetherId);
  if (!found) return;
  asOneStep(editor.storage.sharedText.steps, () => {
    dressings.set(tetherId, { ...dressings.of(tetherId), ...change });
  });
  // The object stays selected, so that its panel stays open.
  const { tr } = editor.state;
  tr.setSelection(NodeSelection.create(tr.doc, wholeAt(tr.doc, found.position).position));
  editor.view.dispatch(tr);
}

/** Turns an object into another form: the same tether, so that it keeps its source, standing and history. */
export function turnObject(editor: Editor, tetherId: string, form: Form): void {
  const found = objectsIn(editor.state.doc).find(({ id }) => id === tetherId);
  if (!found || found.node.attrs.form === form) return;
  const { schema, tr } = editor.state;
  const { position, node } = found;
  const attrs = { ...node.attrs, form };
  const whole = wholeAt(tr.doc, position);
  const isNow = node.type.name === PLACED_INLINE;
  if (isNow === isInline(form)) {
    tr.setNodeMarkup(position, undefined, attrs);
    const isUsual = whole.node.attrs.kind === usualCaption(node.attrs.form as Form);
    if (whole.position !== position && isUsual) {
      tr.setNodeAttribute(whole.position, 'kind', usualCaption(form));
    }
    tr.setSelection(NodeSelection.create(tr.doc, whole.position));
  } else if (isNow) {
    // Out of its line, and behind the block that the line is.
    const behind = tr.doc.resolve(position).after(1);
    tr.insert(behind, schema.nodes[PLACED_NODE]!.create(attrs));
    tr.setSelection(NodeSelection.create(tr.doc, behind));
    tr.delete(position, position + node.nodeSize);
  } else {
    // A line of its own takes the block's place; words can be written around it. A caption's words stay below it.
    const line = schema.nodes.paragraph!.create(null, schema.nodes[PLACED_INLINE]!.create(attrs));
    const words = whole.position === position ? null : whole.node.lastChild;
    const below =
      words && words.content.size > 0 ? [schema.nodes.paragraph!.create(null, words.content)] : [];
    tr.replaceWith(whole.position, whole.position + whole.node.nodeSize, [line, ...below]);
    tr.setSelection(NodeSelection.create(tr.doc, whole.position + 1));
  }
  editor.view.dispatch(tr.scrollIntoView());
}

/** Gives an object a caption, counted as a table or a figure, and puts the cursor into it; null takes it away. */
export function captionObject(editor: Editor, tetherId: string, kind: CaptionKind | null): void {
  const found = objectsIn(editor.state.doc).find(({ id }) => id === tetherId);
  if (!found || found.node.isInline) return;
  const { schema, tr } = editor.state;
  const whole = wholeAt(tr.doc, found.position);
  const { position } = whole;
  const isCaptioned = position !== found.position;
  if (kind === null) {
    if (!isCaptioned) return;
    tr.replaceWith(position, position + whole.node.nodeSize, found.node);
    tr.setSelection(NodeSelection.create(tr.doc, position));
  } else if (isCaptioned) {
    tr.setNodeAttribute(position, 'kind', kind);
    tr.setSelection(NodeSelection.create(tr.doc, position));
  } else {
    const caption = schema.nodes[CAPTION_NODE]!.create();
    const captioned = schema.nodes[CAPTIONED_NODE]!.create({ kind, of: tetherId }, [
      found.node,
      caption,
    ]);
    tr.replaceWith(position, position + found.node.nodeSize, captioned);
    tr.setSelection(TextSelection.create(tr.doc, position + 1 + found.node.nodeSize + 1));
  }
  editor.view.dispatch(tr.scrollIntoView());
}

/** As what an object is counted in its caption, or null when it has none. */
export function captionOf(editor: Editor, tetherId: string): CaptionKind | null {
  const found = objectsIn(editor.state.doc).find(({ id }) => id === tetherId);
  if (!found) return null;
  const whole = wholeAt(editor.state.doc, found.position);
  if (whole.position === found.position) return null;
  return whole.node.attrs.kind === 'figure' ? 'figure' : 'table';
}

/** Puts a reference to a captioned object into the line at the cursor. */
export function insertReference(editor: Editor, tetherId: string): void {
  editor
    .chain()
    .focus()
    .insertContent({ type: REFERENCE_NODE, attrs: { to: tetherId } })
    .run();
}

/** Takes an object out of the text; undo brings it back. */
export function removeObject(editor: Editor, tetherId: string): void {
  const found = objectsIn(editor.state.doc).find(({ id }) => id === tetherId);
  if (!found) return;
  const { position, node } = wholeAt(editor.state.doc, found.position);
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
  const { position, node } = wholeAt(editor.state.doc, found.position);
  editor
    .chain()
    .insertContentAt(position + node.nodeSize, node.toJSON() as Record<string, unknown>)
    .run();
}

/** Moves an object over the block before (-1) or behind (1) it. False when there is none. */
export function moveObject(editor: Editor, tetherId: string, by: -1 | 1): boolean {
  const found = objectsIn(editor.state.doc).find(({ id }) => id === tetherId);
  if (!found) return false;
  const { position, node } = wholeAt(editor.state.doc, found.position);
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

import type { DocumentLook } from '@tether/core';
import type {
  CaptionKind,
  DocumentContent,
  Dressing,
  Form,
  ReportContent,
  ReportSettings,
} from '@tether/documents';
import type { Editor } from '@tiptap/react';
import type { Anchor, ObjectThere, Surface } from '../documents/surface.ts';
import { bringBack, turnInto, withoutUndo } from './text/bring-in.ts';
import { findPastedTable, fixObject, insertFixed } from './text/fixed-table.ts';
import {
  captionObject,
  captionOf,
  copyObject,
  dressObject,
  faceOf,
  insertObject,
  moveObject,
  removeObject,
  selectObject,
  turnObject,
} from './text/object-commands.ts';
import { objectsIn } from './text/objects-in.ts';
import { changeSettings, readSettings } from './text/report-document.ts';
import { REMOTE_TEXT } from './text/transaction-marks.ts';

/** The open text of a report as a surface: a thin layer over its editor. A place in it is a position of the text. */
export class ReportSurface implements Surface {
  revision = 0;
  private readonly listeners = new Set<() => void>();

  constructor(readonly editor: Editor) {
    editor.on('transaction', this.tell);
  }

  /** Nobody is told of anything any more. */
  close(): void {
    this.editor.off('transaction', this.tell);
    this.listeners.clear();
  }

  private readonly tell = () => {
    this.revision++;
    for (const listener of this.listeners) listener();
  };

  subscribe(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  onWritten(listener: () => void): () => void {
    this.editor.on('update', listener);
    return () => this.editor.off('update', listener);
  }

  get isEditable(): boolean {
    return this.editor.isEditable;
  }

  get element(): HTMLElement {
    return this.editor.view.dom;
  }

  objects(): string[] {
    return objectsIn(this.editor.state.doc).map(({ id }) => id);
  }

  object(id: string): ObjectThere | null {
    const face = faceOf(this.editor, id);
    return face && { ...face, caption: captionOf(this.editor, id) };
  }

  look(): DocumentLook {
    return this.settings().look;
  }

  select(id: string): boolean {
    return selectObject(this.editor, id);
  }

  insert({ id, form }: { id: string; form: Form }, at?: Anchor): void {
    insertObject(this.editor, id, form, at as number | undefined);
  }

  dress(id: string, change: Dressing): void {
    dressObject(this.editor, id, change);
  }

  turn(id: string, form: Form): void {
    turnObject(this.editor, id, form);
  }

  caption(id: string, kind: CaptionKind | null): void {
    captionObject(this.editor, id, kind);
  }

  move(id: string, by: -1 | 1): boolean {
    return moveObject(this.editor, id, by);
  }

  copy(id: string): void {
    copyObject(this.editor, id);
  }

  remove(id: string): void {
    removeObject(this.editor, id);
  }

  undo(): void {
    this.editor.commands.undo();
  }

  redo(): void {
    this.editor.commands.redo();
  }

  focus(): void {
    this.editor.view.focus();
  }

  insertFixed(rows: readonly (readonly string[])[]): Anchor | null {
    const pasted = crypto.randomUUID();
    insertFixed(this.editor, rows, pasted);
    return findPastedTable(this.editor.state.doc, pasted) ? pasted : null;
  }

  tie(fixed: Anchor, object: { id: string; form: Form }): void {
    const table = findPastedTable(this.editor.state.doc, fixed as string);
    if (!table) {
      this.insert(object);
      return;
    }
    const { position, node } = table;
    this.editor
      .chain()
      .deleteRange({ from: position, to: position + node.nodeSize })
      .run();
    this.insert(object, position);
  }

  fix(id: string, rows: readonly (readonly string[])[]): void {
    const object = objectsIn(this.editor.state.doc).find((each) => each.id === id);
    if (object) fixObject(this.editor, object, rows);
  }

  content(): ReportContent {
    return this.editor.getJSON() as ReportContent;
  }

  bringBack(content: DocumentContent): void {
    bringBack(this.editor, content as ReportContent);
  }

  load(content: DocumentContent, { undoable }: { undoable: boolean }): void {
    const { tr, schema } = this.editor.state;
    turnInto(tr, schema.nodeFromJSON(content));
    tr.setMeta(REMOTE_TEXT, true).setMeta('preventUpdate', true);
    if (!undoable) tr.setMeta('addToHistory', false);
    this.editor.view.dispatch(tr);
    if (!undoable) this.editor.view.updateState(withoutUndo(this.editor.state));
  }

  /** What is settled for the report. */
  settings(): ReportSettings {
    return readSettings(this.editor);
  }

  /** Sets something for the whole report. */
  changeSettings(change: Partial<ReportSettings>): void {
    changeSettings(this.editor, change);
  }
}

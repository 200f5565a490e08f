import type { KeptPicture } from '@tether/contract';
import type { DocumentLook } from '@tether/core';
import {
  type CaptionKind,
  type CommentAbout,
  type DocumentContent,
  type Dressing,
  type Form,
  isInline,
  kindOf,
  type ReportContent,
  type ReportSettings,
  reportSettingsSchema,
  undressed,
} from '@tether/documents';
import type { Editor } from '@tiptap/react';
import type * as Y from 'yjs';
import type { Dressings } from '../documents/object/dressings.ts';
import type { Anchor, LayerOffer, ObjectThere, StandOffer, Surface } from '../documents/surface.ts';
import { OWN_STEP } from '../documents/writing/own-step.ts';
import {
  type FixedRows,
  findPastedTable,
  fixObject,
  insertFixed,
} from './text/blocks/fixed-table.ts';
import { aboutSelection, showWords } from './text/comments/comment-places.ts';
import { turnInto } from './text/copying/bring-in.ts';
import { bringIn, pictureObject, remainsIn } from './text/objects/let-go.ts';
import {
  captionObject,
  captionOf,
  copyObject,
  dressObject,
  formOf,
  insertObject,
  moveObject,
  removeObject,
  selectObject,
  turnObject,
} from './text/objects/object-commands.ts';
import { objectsIn } from './text/reading/objects-in.ts';
import { readSettings } from './text/shared/report-document.ts';
import { asOneStep } from './text/shared/shared-text.ts';
import { REMOTE_TEXT } from './text/shared/transaction-marks.ts';

const SHARED = kindOf('report').shared;

/** The open text of a report as a surface: a thin layer over its editor. A place in it is a position of the text. */
export class ReportSurface implements Surface {
  revision = 0;
  readonly foldsTables = false;
  readonly hasCaptions = true;
  readonly moveWords = ['Move up', 'Move down'] as const;
  private readonly listeners = new Set<() => void>();

  private readonly unsubscribe: () => void;

  constructor(
    readonly editor: Editor,
    private readonly doc: Y.Doc,
    private readonly dressings: Dressings,
  ) {
    editor.on('transaction', this.tell);
    this.unsubscribe = dressings.subscribe(this.tell);
  }

  /** Does something as one step of undo. */
  private step<T>(act: () => T): T {
    return asOneStep(this.editor.storage.sharedText.steps, act);
  }

  /** Nobody is told of anything any more. */
  close(): void {
    this.editor.off('transaction', this.tell);
    this.unsubscribe();
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

  get isEditable(): boolean {
    return this.editor.isEditable;
  }

  get element(): HTMLElement {
    return this.editor.view.dom;
  }

  stands(): readonly StandOffer[] {
    return [];
  }

  layersForNew(): readonly LayerOffer[] {
    return [];
  }

  objects(): string[] {
    return objectsIn(this.editor.state.doc).map(({ id }) => id);
  }

  object(id: string): ObjectThere | null {
    const form = formOf(this.editor, id);
    if (form === null) return null;
    return { form, dressing: this.dressings.of(id), caption: captionOf(this.editor, id) };
  }

  look(): DocumentLook {
    return this.settings().look;
  }

  select(id: string): boolean {
    return selectObject(this.editor, id);
  }

  insert({ id, form }: { id: string; form: Form }, at?: Anchor): void {
    this.step(() => insertObject(this.editor, id, form, at as number | undefined));
  }

  dress(id: string, change: Dressing): void {
    dressObject(this.editor, this.dressings, id, change);
  }

  turn(id: string, form: Form): void {
    this.step(() => turnObject(this.editor, id, form));
  }

  caption(id: string, kind: CaptionKind | null): void {
    this.step(() => captionObject(this.editor, id, kind));
  }

  mayMove(form: Form): boolean {
    return !isInline(form);
  }

  move(id: string, by: -1 | 1): boolean {
    return this.step(() => moveObject(this.editor, id, by));
  }

  copy(id: string): void {
    this.step(() => copyObject(this.editor, id));
  }

  remove(id: string): void {
    this.step(() => removeObject(this.editor, id));
  }

  about(): CommentAbout | null {
    return aboutSelection(this.editor.state);
  }

  showAbout(about: CommentAbout): boolean {
    return about.kind === 'object'
      ? this.select(about.tetherId)
      : showWords(this.editor.view, about);
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
    this.step(() => insertFixed(this.editor, rows, pasted));
    return findPastedTable(this.editor.state.doc, pasted) ? pasted : null;
  }

  tie(fixed: Anchor, object: { id: string; form: Form }): void {
    const table = findPastedTable(this.editor.state.doc, fixed as string);
    if (!table) {
      this.insert(object);
      return;
    }
    const { position, node } = table;
    this.step(() => {
      this.editor
        .chain()
        .deleteRange({ from: position, to: position + node.nodeSize })
        .run();
      insertObject(this.editor, object.id, object.form, position);
    });
  }

  fix(id: string, rows: FixedRows): void {
    const object = objectsIn(this.editor.state.doc).find((each) => each.id === id);
    if (object) this.step(() => fixObject(this.editor, object, rows));
  }

  picture(id: string, picture: KeptPicture & { alt: string }): void {
    this.step(() => pictureObject(this.editor, id, picture));
  }

  remains(): string[] {
    return remainsIn(this.editor.state.doc);
  }

  bringIn(object: { id: string; form: Form }): void {
    this.step(() => bringIn(this.editor, object));
  }

  /** Puts words as a paragraph of their own behind the block at the cursor. */
  addWords(words: string): void {
    const { $to } = this.editor.state.selection;
    const behind = $to.depth === 0 ? $to.pos : $to.after(1);
    const paragraph = { type: 'paragraph', content: [{ type: 'text', text: words }] };
    this.step(() => this.editor.chain().insertContentAt(behind, paragraph).run());
  }

  content(): ReportContent {
    return SHARED.read(this.doc) as ReportContent;
  }

  bringBack(state: DocumentContent): void {
    const content = state as ReportContent;
    const { blocks, dressings } = undressed(content);
    this.step(() => {
      this.doc.transact(() => {
        const attrs: Record<string, unknown> = content.attrs ?? {};
        for (const name of Object.keys(reportSettingsSchema.shape)) {
          SHARED.setSetting(this.doc, name, attrs[name]);
        }
      }, OWN_STEP);
      for (const [tetherId, dressing] of dressings) this.dressings.set(tetherId, dressing);
      const { tr, schema } = this.editor.state;
      const next = schema.nodeFromJSON({ type: 'doc', attrs: tr.doc.attrs, content: blocks });
      turnInto(tr, next);
      this.editor.view.dispatch(tr.setMeta(REMOTE_TEXT, true));
    });
  }

  /** What is settled for the report. */
  settings(): ReportSettings {
    return readSettings(this.editor);
  }

  /** Sets something for the whole report. */
  changeSettings(change: Partial<ReportSettings>): void {
    this.step(() => {
      this.doc.transact(() => {
        for (const [name, value] of Object.entries(change)) {
          SHARED.setSetting(this.doc, name, value);
        }
      }, OWN_STEP);
    });
  }
}

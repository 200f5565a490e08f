import type { KeptPicture } from '@tether/contract';
import type { DocumentLook } from '@tether/core';
import type { CaptionKind, CommentAbout, DocumentContent, Dressing, Form } from '@tether/documents';
import { deepEqual } from 'fast-equals';
import { useCallback } from 'react';
import { useSyncExternalStoreWithSelector } from 'use-sync-external-store/with-selector';

/** A place on a surface. Only the surface that gave it knows what it means. */
export type Anchor = unknown;

/** A place that a new object can be given when it is placed. */
export interface StandOffer {
  /** What it is called; the name of an object follows where it stands by one. */
  words: string;
  beside?: string;
  at: Anchor;
}

/** A layer that a new object can be put onto when it is placed; the usual one is null. */
export interface LayerOffer {
  id: string | null;
  words: string;
}

/** A cell of fixed texts, where it is more than its words. */
export interface FixedCell {
  text: string;
  isHead: boolean;
  isRight: boolean;
  /** Rows and columns that it spans; what it spans has no cell of its own. */
  rows: number;
  columns: number;
}

/** How an object is on a surface. */
export interface ObjectThere {
  form: Form;
  dressing: Dressing;
  /** As what it is counted in its caption; null where it has none. */
  caption: CaptionKind | null;
}

/**
 * The open content of a document, of whatever kind, for everything around it: panel, cords, offers, incoming cells, saving.
 * Each change is one step that undo takes back. Objects are named by their tethers.
 */
export interface Surface {
  /** Calls back after every change of content or selection; gives the way to stop that. */
  subscribe(listener: () => void): () => void;
  /** Another number after every change of content or selection. */
  readonly revision: number;
  /** Whether people may change it here. */
  readonly isEditable: boolean;

  /** The objects on it, in reading order. */
  objects(): string[];
  /** How an object is there; null when it is not on the surface. */
  object(id: string): ObjectThere | null;
  /** How objects look that follow their document. */
  look(): DocumentLook;

  /** Selects an object and brings it into view. False when it is not on the surface. */
  select(id: string): boolean;
  /** Where a new object can be told to stand, the usual place first; none where that is where people are at work. */
  stands(): readonly StandOffer[];
  /** The layers that a new object can be put onto, first the one it comes onto by itself; none where there is no choice. */
  layersForNew(): readonly LayerOffer[];
  /** Places a new object where people are at work, or at a place; onto a layer of those offered. */
  insert(object: { id: string; form: Form }, at?: Anchor, layer?: string | null): void;
  /** Changes the dressing of an object; what is not named stays. */
  dress(id: string, change: Dressing): void;
  /** Turns an object into another form: the same tether, so that it keeps its source, standing and history. */
  turn(id: string, form: Form): void;
  /** Whether tables that are too high for their room stand in parts side by side; else they go on on the next page. */
  readonly foldsTables: boolean;
  /** Whether objects can have captions here. */
  readonly hasCaptions: boolean;
  /** Gives an object a caption, counted as a table or a figure; null takes it away. */
  caption(id: string, kind: CaptionKind | null): void;
  /** Whether an object of this form can be moved so. */
  mayMove(form: Form): boolean;
  /** What the two moves are called. */
  readonly moveWords: readonly [back: string, forth: string];
  /** Moves an object before (-1) or behind (1) what stands there. False when nothing does. */
  move(id: string, by: -1 | 1): boolean;
  /** Places a second object beside this one, with a tether of its own. */
  copy(id: string): void;
  /** Takes an object off the surface. */
  remove(id: string): void;
  undo(): void;
  redo(): void;
  /** Lets the keyboard act on the surface. */
  focus(): void;

  /** Puts rows of texts where people are at work, following nothing. Gives where they can be found again, if they can. */
  insertFixed(rows: readonly (readonly string[])[]): Anchor | null;
  /** Puts a new object in the place of fixed texts, or where people are at work when they are gone. */
  tie(fixed: Anchor, object: { id: string; form: Form }): void;
  /** Puts fixed texts in the place of an object: its tether is let go. */
  fix(id: string, rows: readonly (readonly string[])[] | readonly (readonly FixedCell[])[]): void;
  /** Puts a picture of an object in its place; its caption stays, and what refers to it. */
  picture(id: string, picture: KeptPicture & { alt: string }): void;
  /** Objects that a picture or texts stand for. */
  remains(): string[];
  /** Puts an object that was let go back where its picture or its texts stand, or where people are at work when they are gone. */
  bringIn(object: { id: string; form: Form }): void;

  /** What a comment would be about now: what is marked or selected; null while nothing is. */
  about(): CommentAbout | null;
  /** Selects what a comment is about and brings it into view. False where it is gone. */
  showAbout(about: CommentAbout): boolean;

  /** Everything in it as it is now. */
  content(): DocumentContent;
  /** Turns it into other content, which undo takes back. */
  bringBack(content: DocumentContent): void;

  /** What it is drawn in. */
  readonly element: HTMLElement;
}

/** Something of a surface as it is now; drawn anew only when it is another. */
export function useSurface<T>(surface: Surface, read: (surface: Surface) => T): T {
  const subscribe = useCallback((listener: () => void) => surface.subscribe(listener), [surface]);
  return useSyncExternalStoreWithSelector(
    subscribe,
    () => surface.revision,
    undefined,
    () => read(surface),
    deepEqual,
  );
}

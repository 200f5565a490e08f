import type { Box, Point, TurnedBox } from '@tether/core';
import type { Thing } from '@tether/documents';
import type { ComponentType } from 'react';
import type { PageSurface } from '../surface/page-surface.ts';

/** What is known where a thing is drawn. */
export interface DrawnProps<T extends Thing> {
  documentId: string;
  surface: PageSurface;
  thing: T;
  /** Where it stands while it is not moved: its room is that which it has there. */
  place: TurnedBox;
  /** What there is to stand on, of the page. */
  space: Box;
  isChosen: boolean;
  isWriting: boolean;
  onWritten: () => void;
  onShowPanel: (thing: Thing) => void;
  /** The mark that is dragged, and how far. */
  dragged?: { key: string; by: Point } | null;
}

/** What the fields of one chosen thing need. */
export interface FieldsProps<T extends Thing> {
  surface: PageSurface;
  thing: T;
  isAllowed: boolean;
}

/** What a screen knows of a kind of thing. */
export interface ThingScreen<T extends Thing> {
  /** The thing as it is drawn, from its corner. */
  Drawn: ComponentType<DrawnProps<T>>;
  /** The fields that only this kind has; null for none. */
  Fields: ComponentType<FieldsProps<T>> | null;
  /** What it says in words, for other programs. `drawn`: its element, where it is shown. */
  said?(thing: T, drawn: Element | null): string;
}

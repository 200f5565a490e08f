import type { Box, DocumentLook, Size } from '@tether/core';
import type { AnyPage, KindName } from '@tether/documents';
import type { CSSProperties } from 'react';

/** What a kind of document says of its pages. */
export interface PageKind {
  name: KindName;
  /** A page's size in millimetres, by what is settled for the document. */
  size(page: AnyPage, settings: Record<string, unknown>): Size;
  /** The part of it that things are to stand in. */
  space(page: AnyPage, settings: Record<string, unknown>): Box;
  /** Whether plans can be put on its pages. */
  hasPlans: boolean;
  /** What that part is called. */
  spaceName: string;
  /** What is kept free of objects on a page, by the words that it is called by. */
  kept(page: AnyPage): { id: string; box: Box }[];
  /** Boxes of fields that objects can fill, by name. */
  fields(page: AnyPage): ReadonlyMap<string, Box>;
  /** How its objects look that follow the document. */
  look(settings: Record<string, unknown>): DocumentLook;
  /** Style of its paper. */
  style?(settings: Record<string, unknown>): CSSProperties;
}

import type { DocumentLook } from '@tether/core';
import type { z } from 'zod';
import type { Placement } from './object/placement.ts';

/**
 * What a kind of document is, for all who need not know more of it: the server that keeps it, the ledger, the desk, printing.
 * Where in it an object stands is known to the kind alone.
 */
export interface DocumentKind<Content> {
  /** What it is called, inside a sentence. */
  name: string;
  /** What its content must be. The content of a document is all that people write, place and settle in it. */
  schema: z.ZodType<Content>;
  /** The objects placed in it, in reading order. */
  placements(content: Content): Placement[];
  /** What is settled once for all of its objects. */
  look(content: Content): DocumentLook;
  /** What a new document of this kind begins with. */
  firstContent(name: string): Content;
  /** As much of it as a small picture shows: a document can be long, and many are listed. */
  beginning(content: Content): Content;
  /** The same with every object marked as a copy, for a document of its own. `newId` makes names that nothing has yet. */
  asCopies(content: Content, newId: () => string): Content;
  /** As much of it as is known here, for looking at it, and the names of what is not: a later version may know more. */
  knownPart(content: Content): { content: Content; unknown: string[] };
}

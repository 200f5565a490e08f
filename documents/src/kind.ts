import type { DocumentLook } from '@tether/core';
import type * as Y from 'yjs';
import type { z } from 'zod';
import type { Placement } from './object/placement.ts';

/** How the content of a kind lies in a shared type, in which several people write at the same time. */
export interface SharedForm<Content> {
  /** The content as it is now. It came from many hands: its kind's schema says whether it is content at all. */
  read(doc: Y.Doc): unknown;
  /** Makes it this content, by changing only what differs: what others do meanwhile elsewhere in it stays. */
  write(doc: Y.Doc, content: Content): void;
  /** What is settled once for it, by its name; checked by whoever takes it. */
  settings(doc: Y.Doc): Record<string, unknown>;
  /** Settles one thing, or one entry of it by its path (`fields.title`); undefined for as usual. */
  setSetting(doc: Y.Doc, name: string, value: unknown): void;
  /** Takes out what stands in it twice and may not: two people who move an object at the same time put it in two places. */
  mend(doc: Y.Doc): void;
}

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
  /** Hashes of the pictures that stand in it, each once. */
  pictures(content: Content): string[];
  /** What is settled once for all of its objects. */
  look(content: Content): DocumentLook;
  /** How people write in it together. */
  shared: SharedForm<Content>;
  /** What a new document of this kind begins with. */
  firstContent(name: string): Content;
  /** As much of it as a small picture shows: a document can be long, and many are listed. */
  beginning(content: Content): Content;
  /** The same with every object marked as a copy, for a document of its own. `newId` makes names that nothing has yet. */
  asCopies(content: Content, newId: () => string): Content;
  /** As much of it as is known here, for looking at it, and the names of what is not: a later version may know more. */
  knownPart(content: Content): { content: Content; unknown: string[] };
}

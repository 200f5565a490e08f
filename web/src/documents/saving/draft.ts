import { type DocumentContent, type KindName, readContent } from '@tether/documents';
import { z } from 'zod';

/** Content that the server does not have yet, with the version it was written upon. */
export interface Draft {
  version: number;
  content: DocumentContent;
}

const draftSchema = z.object({ version: z.number(), content: z.unknown() });
const keyOf = (documentId: string) => `tether-draft-${documentId}`;

/** Keeps the draft in the browser. A browser that has no room must not keep anybody from writing. */
export function keepDraft(documentId: string, draft: Draft): void {
  try {
    localStorage.setItem(keyOf(documentId), JSON.stringify(draft));
  } catch {
    // The server is asked to save the text all the same.
  }
}

export function forgetDraft(documentId: string): void {
  localStorage.removeItem(keyOf(documentId));
}

/** The draft that was left of a document of this kind, or null. */
export function readDraft(documentId: string, kind: KindName): Draft | null {
  const kept = localStorage.getItem(keyOf(documentId));
  if (kept === null) return null;
  try {
    const { version, content } = draftSchema.parse(JSON.parse(kept));
    const read = readContent(kind, content);
    return read.ok ? { version, content: read.value } : null;
  } catch {
    return null;
  }
}

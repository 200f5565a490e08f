import { type DocumentContent, documentContentSchema } from '@tether/contract';
import { z } from 'zod';

/** Text that the server does not have yet, with the version it was written upon. */
export interface Draft {
  version: number;
  content: DocumentContent;
}

const draftSchema = z.object({ version: z.number(), content: documentContentSchema });
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

/** The draft that was left, or null. */
export function readDraft(documentId: string): Draft | null {
  const kept = localStorage.getItem(keyOf(documentId));
  if (kept === null) return null;
  try {
    return draftSchema.parse(JSON.parse(kept));
  } catch {
    return null;
  }
}

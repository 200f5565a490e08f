import { type DocumentContent, type KindName, kindOf } from '@tether/documents';
import * as Y from 'yjs';
import type { SharedWith } from './shared-document.ts';

/** Content as a document of this window alone: to be looked at or printed, without anybody else's doing. */
export function apart(kind: KindName, content: DocumentContent): SharedWith {
  const doc = new Y.Doc();
  doc.transact(() => kindOf(kind).shared.write(doc, content));
  return { doc, provider: null };
}

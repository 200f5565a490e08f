import type { Person } from '@tether/contract';
import { useEffect, useState, useSyncExternalStore } from 'react';
import { type Present, SharedDocument, type WritingState } from './shared-document.ts';

/** Documents of this window that are open, or still sending what was written last. */
const open = new Map<string, { shared: SharedDocument; users: number }>();

function take(documentId: string, person: Person, mayWrite: boolean): SharedDocument {
  const known = open.get(documentId);
  if (known) {
    known.users++;
    return known.shared;
  }
  const shared = new SharedDocument(documentId, { id: person.id, name: person.name, mayWrite });
  open.set(documentId, { shared, users: 1 });
  return shared;
}

/** Who comes back within this time goes on with the document as it is. */
const LINGER_MS = 1_000;

function letGo(documentId: string): void {
  const known = open.get(documentId);
  if (!known) return;
  known.users--;
  setTimeout(() => {
    if (known.users > 0 || open.get(documentId) !== known) return;
    open.delete(documentId);
    void known.shared.close();
  }, LINGER_MS);
}

/** The document as everybody writes it, once it is there; null before. */
export function useSharedDocument(
  documentId: string,
  person: Person | undefined,
  mayWrite: boolean,
): SharedDocument | null {
  const [ready, setReady] = useState<{ documentId: string; shared: SharedDocument } | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the person is the same for as long as the page is open
  useEffect(() => {
    if (!person) return;
    const shared = take(documentId, person, mayWrite);
    let isWanted = true;
    void shared.ready.then(() => isWanted && setReady({ documentId, shared }));
    return () => {
      isWanted = false;
      setReady(null);
      letGo(documentId);
    };
  }, [documentId, person?.id, mayWrite]);
  // Who goes from one document to another has the one before for a moment.
  return ready?.documentId === documentId ? ready.shared : null;
}

/** How what was written stands to what the server has. */
export function useWritingState(shared: SharedDocument): WritingState {
  return useSyncExternalStore(shared.subscribe, () => shared.state);
}

/** Who else has the document open. */
export function usePresent(shared: SharedDocument): readonly Present[] {
  return useSyncExternalStore(shared.subscribe, () => shared.present);
}

import { type CreateDocument, placedObjects, type SaveDocument } from '@tether/contract';
import { fail, ok, type Result } from '@tether/core';
import type { Database } from '../db/database.ts';
import { insertDocument, lockDocument, storeContent } from '../db/documents.ts';
import { findTethers, insertTether, setPlaced } from '../db/tethers.ts';
import type { Services } from '../services.ts';

/**
 * Saves the text of a document upon the version it was written on. Objects that were copied get a tether of their own;
 * which objects stand in the text is recorded. Faults: `not-found`, `document-saved-elsewhere` (nothing is stored).
 */
export async function saveDocument(
  { db, events }: Pick<Services, 'db' | 'events'>,
  person: { id: string; name: string },
  id: string,
  { version, content }: SaveDocument,
): Promise<Result<{ version: number }>> {
  const saved = await db.transaction(async (tx): Promise<Result<{ version: number }>> => {
    const current = await lockDocument(tx, id);
    if (!current) return fail('not-found', { what: 'document' });
    if (current.version !== version) {
      return fail('document-saved-elsewhere', { who: current.savedBy ?? 'Somebody' });
    }
    await tieObjects(tx, id, content);
    return ok({ version: await storeContent(tx, id, content, person.id) });
  });
  if (saved.ok) {
    events.publish({
      kind: 'document',
      documentId: id,
      version: saved.value.version,
      by: person.name,
    });
  }
  return saved;
}

/** Makes a new document, empty or with a text to start from. Objects in that text must be marked as copies. */
export async function createDocument(
  { db, events }: Pick<Services, 'db' | 'events'>,
  person: { id: string; name: string },
  { name, content }: CreateDocument,
): Promise<string> {
  const start = content ?? {
    type: 'doc' as const,
    content: [
      { type: 'heading', attrs: { level: 1 }, content: [{ type: 'text', text: name }] },
      { type: 'paragraph' },
    ],
  };
  const id = await db.transaction(async (tx) => {
    const created = await insertDocument(tx, { name, content: start, savedBy: person.id });
    await tieObjects(tx, created, start);
    return created;
  });
  events.publish({ kind: 'document', documentId: id, version: 1, by: person.name });
  return id;
}

/** Makes tethers for copied objects and records which tethers of the document its text shows. */
async function tieObjects(
  tx: Database,
  documentId: string,
  content: SaveDocument['content'],
): Promise<void> {
  const objects = placedObjects(content);
  const known = new Set(
    (
      await findTethers(
        tx,
        objects.map((each) => each.tetherId),
      )
    ).map(({ id }) => id),
  );
  for (const { tetherId, copyOf, form } of objects) {
    if (known.has(tetherId) || !copyOf) continue;
    const [origin] = await findTethers(tx, [copyOf]);
    if (!origin) continue;
    await insertTether(tx, { ...origin, id: tetherId, documentId, form, placed: true });
    known.add(tetherId);
  }
  await setPlaced(tx, documentId, new Map(objects.map(({ tetherId, form }) => [tetherId, form])));
}

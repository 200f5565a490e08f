import { kindOf } from '@tether/documents';
import * as Y from 'yjs';
import type { Database } from '../db/database.ts';
import { findContent, lockDocument } from '../db/documents.ts';
import { insertUpdate, listUpdates, replaceUpdates, type Update } from '../db/updates.ts';
import { signal } from '../events/announce.ts';

/** A document as a shared type, with the pieces that it is made of. */
export interface Shared {
  doc: Y.Doc;
  pieces: Omit<Update, 'update'>[];
}

/**
 * A document as a shared type. One that was written before people could write together, or that a program made, is turned
 * into one now: once, whoever comes first.
 */
export async function readShared(tx: Database, documentId: string): Promise<Shared> {
  const pieces = await listUpdates(tx, documentId);
  return joined(pieces.length > 0 ? pieces : await begin(tx, documentId));
}

function joined(updates: readonly Update[]): Shared {
  const doc = new Y.Doc();
  doc.transact(() => {
    for (const { update } of updates) Y.applyUpdate(doc, update);
  });
  return { doc, pieces: updates.map(({ update: _, ...piece }) => piece) };
}

async function begin(db: Database, documentId: string): Promise<Update[]> {
  return db.transaction(async (tx) => {
    const current = await lockDocument(tx, documentId);
    const pieces = await listUpdates(tx, documentId);
    const content = await findContent(tx, documentId);
    if (!current || !content || pieces.length > 0) return pieces;
    const doc = new Y.Doc();
    doc.transact(() => kindOf(current.kind).shared.write(doc, content));
    const update = Y.encodeStateAsUpdate(doc);
    await insertUpdate(tx, { documentId, personId: null, update, isWrittenOut: true });
    return listUpdates(tx, documentId);
  });
}

/** Writes something in a document that is locked for the running transaction, and in `doc`. Gives the number of that piece; null where nothing differed. */
export async function writeShared(
  tx: Database,
  documentId: string,
  personId: string | null,
  { doc, write }: { doc: Y.Doc; write: (doc: Y.Doc) => void },
): Promise<number | null> {
  const updates: Uint8Array[] = [];
  const note = (update: Uint8Array) => updates.push(update);
  doc.on('update', note);
  doc.transact(() => write(doc));
  doc.off('update', note);
  const [update] = updates;
  return update ? keepUpdate(tx, { documentId, personId, update }) : null;
}

/** Keeps a piece of what was written and tells every process of it; gives its number. */
export async function keepUpdate(
  db: Database,
  piece: { documentId: string; personId: string | null; update: Uint8Array },
): Promise<number> {
  const id = await insertUpdate(db, piece);
  await signal(db, 'updates', piece.documentId);
  return id;
}

/** Puts the pieces of a document together into one. What is added meanwhile stays beside it. */
export async function gather(db: Database, documentId: string): Promise<void> {
  await db.transaction(async (tx) => {
    await lockDocument(tx, documentId);
    const { doc, pieces } = await readShared(tx, documentId);
    const ids = pieces.map(({ id }) => id);
    await replaceUpdates(tx, documentId, ids, Y.encodeStateAsUpdate(doc));
  });
}

import type { DocumentSummary } from '@tether/contract';
import { fail, type Result } from '@tether/core';
import { type DocumentContent, type KindName, kindOf, readContent } from '@tether/documents';
import type * as Y from 'yjs';
import type { Database } from '../db/database.ts';
import { findContent, lockDocument, storeContent } from '../db/documents.ts';
import { findPerson } from '../db/people.ts';
import { isNotWrittenOut, listNotWrittenOut, listScattered, setWrittenOut } from '../db/updates.ts';
import { announce } from '../events/announce.ts';
import { reasonOf, tell } from '../tell.ts';
import { gather, readShared, writeShared } from './shared.ts';
import { tieObjects } from './tie.ts';

type Current = Pick<DocumentSummary, 'kind' | 'version' | 'savedBy'>;

/** Pieces from which on a document is put together into one. */
const MOST_PIECES = 200;

/**
 * Brings a document's content up to what was written in it together: objects that were copied get tethers, which ones stand
 * in it is recorded, and whoever lists or prints it has it as it is.
 */
export async function writeOutDocument(db: Database, documentId: string): Promise<void> {
  if (!(await isNotWrittenOut(db, documentId))) return;
  await db.transaction(async (tx) => {
    const current = await lockDocument(tx, documentId);
    if (current) await writeOutLocked(tx, documentId, current);
  });
}

/** The same of a document that is locked for the running transaction; gives how it stands then. */
export async function writeOutLocked(
  tx: Database,
  documentId: string,
  current: Current,
): Promise<Current> {
  const { kind: kindName } = current;
  const kind = kindOf(kindName);
  const { doc, pieces } = await readShared(tx, documentId);
  const fresh = pieces.filter(({ isWrittenOut }) => !isWrittenOut);
  if (fresh.length === 0) return current;
  const by = fresh.findLast(({ personId }) => personId !== null)?.personId ?? null;
  // What two people did at the same time may have put an object in twice.
  const mended = await writeShared(tx, documentId, by, { doc, write: kind.shared.mend });
  const read = contentIn(kindName, doc);
  const ids = fresh.map(({ id }) => id);
  await setWrittenOut(tx, documentId, mended === null ? ids : [...ids, mended]);
  if (!read.ok) {
    // The last content that was one stays.
    tell(`Document ${documentId}`, read.fault.message);
    return current;
  }
  if (JSON.stringify(await findContent(tx, documentId)) === JSON.stringify(read.value))
    return current;
  const person = by === null ? null : await findPerson(tx, by);
  const isTied = await tieObjects(tx, by, documentId, kind.placements(read.value));
  const version = await storeContent(
    tx,
    { id: documentId, kind: kindName, content: read.value },
    by,
  );
  await announce(tx, { kind: 'written', documentId, version, by: person?.name ?? null });
  if (isTied) await announce(tx, { kind: 'tethers', documentId });
  return { kind: kindName, version, savedBy: person?.name ?? current.savedBy };
}

/** What a shared document says, if it is content of its kind: whatever came in over the wire. */
function contentIn(kind: KindName, doc: Y.Doc): Result<DocumentContent> {
  try {
    return readContent(kind, kindOf(kind).shared.read(doc));
  } catch (error) {
    // Nested deeper than anything can be read.
    return fail('request-malformed', { detail: reasonOf(error) });
  }
}

/** Writes out what a process left that ended too early, and puts together what lies in many pieces. */
export async function writeOutLeft(db: Database): Promise<void> {
  for (const id of await listNotWrittenOut(db)) await writeOutDocument(db, id);
  for (const id of await listScattered(db, MOST_PIECES)) await gather(db, id);
}

import type { CreateDocument, SaveDocument } from '@tether/contract';
import { fail, ok, type Result } from '@tether/core';
import { kindOf, type Placement, readContent } from '@tether/documents';
import { scheduleTethers } from '../changing/timetable.ts';
import type { Database } from '../db/database.ts';
import { insertDocument, lockDocument, storeContent } from '../db/documents.ts';
import { insertStates } from '../db/history.ts';
import { insertLog, listPutBack } from '../db/log.ts';
import { findTethers, insertTethers, setPlaced, type TetherRow } from '../db/tethers.ts';
import { announce } from '../events/announce.ts';
import { takeWhatWaited } from '../following/follow.ts';
import type { Means } from '../sources/means.ts';

/**
 * Saves the text of a document upon the version it was written on. Objects that were copied get a tether of their own;
 * which objects stand in it is recorded. Faults: `not-found`, `document-saved-elsewhere`,
 * `request-malformed` for what no document of its kind can be; then nothing is stored.
 */
export async function saveDocument(
  { db }: Pick<Means, 'db'>,
  person: { id: string; name: string },
  id: string,
  { version, content }: SaveDocument,
): Promise<Result<{ version: number }>> {
  return db.transaction(async (tx): Promise<Result<{ version: number }>> => {
    const current = await lockDocument(tx, id);
    if (!current) return fail('not-found', { what: 'document' });
    if (current.version !== version) {
      return fail('document-saved-elsewhere', { who: current.savedBy ?? 'Somebody' });
    }
    const { kind } = current;
    const read = readContent(kind, content);
    if (!read.ok) return read;
    await tieObjects(tx, person.id, id, kindOf(kind).placements(read.value));
    const next = await storeContent(tx, { id, kind, content: read.value }, person.id);
    await announce(tx, { kind: 'document', documentId: id, version: next, by: person.name });
    return ok({ version: next });
  });
}

/**
 * Makes a new document, as its kind begins or with content to start from. Objects in that must be marked as copies. Fault:
 * `request-malformed`.
 */
export async function createDocument(
  { db }: Pick<Means, 'db'>,
  person: { id: string; name: string },
  { kind: kindName = 'report', name, content }: CreateDocument,
): Promise<Result<string>> {
  const kind = kindOf(kindName);
  const start = content ? readContent(kindName, content) : ok(kind.firstContent(name));
  if (!start.ok) return start;
  return db.transaction(async (tx) => {
    const created = await insertDocument(tx, {
      kind: kindName,
      name,
      content: start.value,
      savedBy: person.id,
    });
    await insertLog(tx, [
      { kind: 'document made', personId: person.id, documentId: created, summary: `“${name}”.` },
    ]);
    await tieObjects(tx, person.id, created, kind.placements(start.value));
    await announce(tx, { kind: 'log' });
    await announce(tx, { kind: 'document', documentId: created, version: 1, by: person.name });
    return ok(created);
  });
}

/** Makes tethers for copied objects and records which tethers of the document it shows. */
async function tieObjects(
  tx: Database,
  personId: string,
  documentId: string,
  objects: readonly Placement[],
): Promise<void> {
  const named = objects.flatMap(({ tetherId, copyOf }) => [tetherId, ...(copyOf ? [copyOf] : [])]);
  const known = new Map((await findTethers(tx, named)).map((row) => [row.id, row]));
  const copies: TetherRow[] = [];
  for (const { tetherId, copyOf, form } of objects) {
    const origin = known.get(tetherId) || !copyOf ? undefined : known.get(copyOf);
    if (!origin) continue;
    const copy = { ...origin, id: tetherId, documentId, form, placed: true };
    copies.push(copy);
    // It can be copied in turn.
    known.set(tetherId, copy);
  }
  await insertTethers(tx, copies);
  await insertStates(
    tx,
    copies.map((copy) => ({
      tetherId: copy.id,
      snapshot: copy.base,
      reach: copy.reach,
      at: copy.refreshedAt,
      personId: copy.refreshedBy,
      how: 'placed' as const,
      summary: `A copy of ${copy.name}.`,
    })),
  );
  const copied = copies.map(({ id }) => id);
  const forms = new Map(objects.map(({ tetherId, form }) => [tetherId, form]));
  const { came, left } = await setPlaced(tx, documentId, forms);
  // What was just placed comes into the text for the first time: that has an entry of its own.
  const before = await listPutBack(
    tx,
    came.map(({ id }) => id),
  );
  const entry =
    (kind: 'taken out' | 'put back', summary: string) => (row: (typeof left)[number]) => ({
      kind,
      personId,
      documentId,
      tetherId: row.id,
      tetherName: row.name,
      sourceId: row.sourceId,
      summary,
    });
  await insertLog(tx, [
    ...left.map(entry('taken out', 'It keeps its tether, and comes back when its text does.')),
    ...came
      .filter(({ id }) => before.has(id))
      .map(entry('put back', 'It follows its source again.')),
  ]);
  if (left.length > 0 || before.size > 0) await announce(tx, { kind: 'log' });
  await scheduleTethers(tx, copied);
  // An automatic object may have come back into the text, or into another document, while it was behind.
  await takeWhatWaited(tx, [...copied, ...came.map(({ id }) => id)]);
}

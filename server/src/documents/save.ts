import { randomUUID } from 'node:crypto';
import type { CreateDocument, SaveDocument } from '@tether/contract';
import { fail, ok, type Result } from '@tether/core';
import { type DocumentContent, type KindName, kindOf, readContent } from '@tether/documents';
import type { Database } from '../db/database.ts';
import {
  findDocument,
  insertDocument,
  lockDocument,
  namesLike,
  setDocumentRules,
} from '../db/documents.ts';
import { insertLog } from '../db/log.ts';
import { announce } from '../events/announce.ts';
import type { Means } from '../sources/means.ts';
import { readShared, writeShared } from './shared.ts';
import { tieObjects } from './tie.ts';
import { writeOutDocument, writeOutLocked } from './write-out.ts';

/**
 * Writes the content of a document as a whole, upon the version that it was written on: for programs; people write in it piece
 * by piece (`writing`). What differs from what stands there is changed. Faults: `not-found`,
 * `document-saved-elsewhere`, `request-malformed` for what no document of its kind can be; then nothing is stored.
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
    const read = readContent(current.kind, content);
    if (!read.ok) return read;
    // What was written piece by piece until now counts as a version of its own.
    const now = await writeOutLocked(tx, id, current);
    if (now.version !== version) {
      return fail('document-saved-elsewhere', { who: now.savedBy ?? 'Somebody' });
    }
    const { doc } = await readShared(tx, id);
    const write = () => kindOf(current.kind).shared.write(doc, read.value);
    await writeShared(tx, id, person.id, { doc, write });
    return ok({ version: (await writeOutLocked(tx, id, now)).version });
  });
}

/**
 * Makes a new document, as its kind begins or with content to start from. Objects in that must be marked as copies. Fault:
 * `request-malformed`.
 */
export async function createDocument(
  { db }: Pick<Means, 'db'>,
  person: { id: string; name: string },
  { kind: kindName = 'report', name, content: given }: CreateDocument,
): Promise<Result<string>> {
  const kind = kindOf(kindName);
  const start = given ? readContent(kindName, given) : ok(kind.firstContent(name));
  if (!start.ok) return start;
  const said = `“${name}”.`;
  const content = start.value;
  return ok(
    await db.transaction((tx) => makeDocument(tx, person, { kind: kindName, name, content, said })),
  );
}

/** Stores a new document in a running transaction. Before its objects are tied, `before` may bring tethers of theirs. */
export async function makeDocument(
  tx: Database,
  person: { id: string; name: string },
  made: {
    kind: KindName;
    name: string;
    content: DocumentContent;
    /** Of the entry in the log. */
    said: string;
    before?: (documentId: string) => Promise<void>;
  },
): Promise<string> {
  const { kind, name, content, said, before } = made;
  const created = await insertDocument(tx, { kind, name, content, savedBy: person.id });
  await insertLog(tx, [
    { kind: 'document made', personId: person.id, documentId: created, summary: said },
  ]);
  await before?.(created);
  await tieObjects(tx, person.id, created, kindOf(kind).placements(content));
  await announce(tx, { kind: 'log' });
  await announce(tx, { kind: 'document', documentId: created, version: 1, by: person.name });
  return created;
}

/**
 * Makes a document of what another one says now, with copies of its objects and its rules for refreshing. What it is a copy
 * of stays as it is; comments and versions stay there. Fault: `not-found`.
 */
export async function duplicateDocument(
  means: Pick<Means, 'db'>,
  person: { id: string; name: string },
  id: string,
): Promise<Result<string>> {
  const { db } = means;
  await writeOutDocument(db, id);
  const found = await findDocument(db, id);
  if (!found) return fail('not-found', { what: 'document' });
  const { kind, mode, share } = found;
  const taken = new Set(await namesLike(db, found.name));
  const made = await createDocument(means, person, {
    kind,
    name: copyName(found.name, taken),
    content: kindOf(kind).asCopies(found.content, randomUUID),
  });
  if (made.ok) await setDocumentRules(db, made.value, { mode, share });
  return made;
}

/** `Report, copy`, `Report, copy 2` and so on: the first that no other has. */
export function copyName(name: string, taken: ReadonlySet<string>): string {
  // Names are 200 letters long at most.
  const stem = name.slice(0, 180);
  for (let nth = 1; ; nth++) {
    const each = nth === 1 ? `${stem}, copy` : `${stem}, copy ${nth}`;
    if (!taken.has(each)) return each;
  }
}

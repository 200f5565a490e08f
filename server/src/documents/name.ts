import { fail, ok, type Result } from '@tether/core';
import { findDocument, renameDocument } from '../db/documents.ts';
import { insertLog } from '../db/log.ts';
import { announce } from '../events/announce.ts';
import type { Means } from '../sources/means.ts';

/** Gives a document another name. Fault: `not-found`. */
export async function nameDocument(
  { db }: Pick<Means, 'db'>,
  personId: string,
  id: string,
  name: string,
): Promise<Result<null>> {
  return db.transaction(async (tx): Promise<Result<null>> => {
    const before = await findDocument(tx, id);
    if (!before) return fail('not-found', { what: 'document' });
    if (before.name === name) return ok(null);
    await renameDocument(tx, id, name);
    await insertLog(tx, [
      {
        kind: 'renamed',
        personId,
        documentId: id,
        summary: `From “${before.name}” to “${name}”.`,
        undo: { kind: 'name', before: before.name, after: name },
      },
    ]);
    await announce(tx, { kind: 'log' });
    return ok(null);
  });
}

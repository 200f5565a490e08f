import type { KeepVersion } from '@tether/contract';
import { fail, ok, type Result } from '@tether/core';
import { readContent } from '@tether/documents';
import { findDocument } from '../db/documents.ts';
import { insertVersion } from '../db/versions.ts';
import type { Means } from '../sources/means.ts';

/** Keeps content beside a document's own. Faults: `not-found`, `request-malformed`. */
export async function keepVersion(
  { db }: Pick<Means, 'db'>,
  personId: string,
  documentId: string,
  { why, content }: KeepVersion,
): Promise<Result<{ id: string }>> {
  const found = await findDocument(db, documentId);
  if (!found) return fail('not-found', { what: 'document' });
  const read = readContent(found.kind, content);
  if (!read.ok) return read;
  return ok({ id: await insertVersion(db, documentId, personId, { why, content: read.value }) });
}

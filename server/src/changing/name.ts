import { fail, ok, type Result } from '@tether/core';
import { insertLog } from '../db/log.ts';
import { lockTethers, updateTether } from '../db/tethers.ts';
import type { Means } from '../sources/means.ts';

/** Gives an object another name. Fault: `not-found`. */
export async function nameTether(
  { db }: Pick<Means, 'db'>,
  personId: string,
  id: string,
  name: string,
): Promise<Result<null>> {
  return db.transaction(async (tx): Promise<Result<null>> => {
    const [row] = await lockTethers(tx, [id]);
    if (!row) return fail('not-found', { what: 'placed object' });
    if (row.name === name) return ok(null);
    await updateTether(tx, id, { name });
    await insertLog(tx, [
      {
        kind: 'renamed',
        personId,
        documentId: row.documentId,
        tetherId: id,
        tetherName: name,
        sourceId: row.sourceId,
        summary: `From “${row.name}” to “${name}”.`,
        undo: { kind: 'name', before: row.name, after: name },
      },
    ]);
    return ok(null);
  });
}

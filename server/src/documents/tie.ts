import type { Placement } from '@tether/documents';
import { scheduleTethers } from '../changing/timetable.ts';
import type { Database } from '../db/database.ts';
import { insertStates } from '../db/history.ts';
import { insertLog, listPutBack } from '../db/log.ts';
import { findTethers, insertTethers, setPlaced, type TetherRow } from '../db/tethers.ts';
import { announce } from '../events/announce.ts';
import { takeWhatWaited } from '../following/follow.ts';
import { standingWithoutEdits } from '../following/show-edits.ts';

/**
 * Makes tethers for copied objects and records which tethers of the document it shows; gives whether any of them came or
 * left.
 */
export async function tieObjects(
  tx: Database,
  personId: string | null,
  documentId: string,
  objects: readonly Placement[],
): Promise<boolean> {
  const named = objects.flatMap(({ tetherId, copyOf }) => [tetherId, ...(copyOf ? [copyOf] : [])]);
  const known = new Map((await findTethers(tx, named)).map((row) => [row.id, row]));
  const copies: TetherRow[] = [];
  for (const { tetherId, copyOf, form } of objects) {
    const origin = known.get(tetherId) || !copyOf ? undefined : known.get(copyOf);
    if (!origin) continue;
    // What was corrected in one object is not corrected in another: the copy shows what the source and it agree on.
    const withoutEdits = {
      standing: standingWithoutEdits(origin),
      shown: null,
      editCount: 0,
      unlocked: null,
    };
    const copy = { ...origin, ...withoutEdits, id: tetherId, documentId, form, placed: true };
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
  return copies.length + came.length + left.length > 0;
}

import { createHash } from 'node:crypto';
import { fail, ok, type Result } from '@tether/core';
import { findHolds } from '../db/documents.ts';
import { listEdited } from '../db/edits.ts';
import { findSource } from '../db/sources.ts';
import { findTethers, lockTethers, type TetherRow } from '../db/tethers.ts';
import { announceTethers } from '../following/follow.ts';
import {
  type EditsMerged,
  mergedEdits,
  type Provisional,
  showEdits,
} from '../following/show-edits.ts';
import { locate } from './locate.ts';
import type { Means } from './means.ts';
import type { FileWritten, WishedCell, WritingTask } from './writing/written.ts';

/** Where a source lies, for writing into it. */
export type WriteWhere = Pick<WritingTask, 'path' | 'shownPath' | 'reading'>;

/** The edits of an object, and what writing them would do. */
export interface EditsPlanned extends EditsMerged {
  cells: WishedCell[];
  where: Result<WriteWhere>;
  plan: Result<FileWritten>;
  /** Of the file as it was looked at and of the cells: who agrees to it agrees to this. */
  token: string | null;
}

/** Where a source lies now. Faults: `not-found` and those of `locate`. */
export async function whereOf(db: Means['db'], sourceId: string): Promise<Result<WriteWhere>> {
  const found = await findSource(db, sourceId);
  if (!found) return fail('not-found', { what: 'source' });
  const { source, folder } = found;
  const located = await locate(folder, source.path);
  if (!located.ok) return located;
  return ok({ path: located.value.path, shownPath: source.path, reading: source.reading });
}

/** What writing some cells would do to a source as it is now. */
export async function planCells(
  { db, writer }: Pick<Means, 'db' | 'writer'>,
  sourceId: string,
  cells: WishedCell[],
): Promise<Omit<EditsPlanned, keyof EditsMerged>> {
  const where = await whereOf(db, sourceId);
  const plan: Result<FileWritten> = !where.ok
    ? where
    : cells.length === 0
      ? fail('nothing-to-write')
      : await writer.plan(where.value, cells);
  const token = plan.ok
    ? createHash('sha256')
        .update(JSON.stringify([plan.value.hash, cells]))
        .digest('hex')
    : null;
  return { cells, where, plan, token };
}

/** What writing the edits of an object would do to its source as it is now; null where what it shows is not kept. */
export async function planEdits(
  { db, writer }: Pick<Means, 'db' | 'writer'>,
  row: TetherRow,
): Promise<EditsPlanned | null> {
  const found = await mergedEdits(db, row);
  if (!found) return null;
  const { base, merged } = found;
  const cells = merged.flatMap(({ edit, kind, place }): WishedCell[] =>
    place && kind !== 'same'
      ? [{ sheet: base.sheet, ...place, value: edit.value, isOverFormula: edit.isOverFormula }]
      : [],
  );
  const planned = await planCells({ db, writer }, row.sourceId, cells);
  return { ...found, ...planned };
}

/**
 * Shows in documents what follows from the edits in them: totals of the same source are computed with them. Done after every
 * look at the source and every edit.
 */
export async function reshow(
  means: Pick<Means, 'db' | 'writer'>,
  tetherIds: readonly string[],
): Promise<void> {
  for (const row of await findTethers(means.db, tetherIds)) {
    const planned = await planEdits(means, row);
    if (!planned) continue;
    const { base, plan } = planned;
    // Results are those of the file as it is; where that is not what is shown, they belong to other cells.
    const figures = plan.ok && row.pending === null ? plan.value.recalculated : [];
    const provisional = figures
      .filter(({ sheet }) => sheet === base.sheet)
      .map(({ row, column, after }): Provisional => {
        const value = typeof after === 'object' && after !== null ? after.error : after;
        return { row, column, value };
      });
    await means.db.transaction(async (tx) => {
      const [now] = await lockTethers(tx, [row.id]);
      const isSame = now && now.base === row.base && now.pending === row.pending;
      await showEdits(tx, now!, isSame ? provisional : []);
      await announceTethers(tx, [row]);
    });
  }
}

/** The same for all objects of a source. */
export async function reshowSource(
  means: Pick<Means, 'db' | 'writer'>,
  sourceId: string,
): Promise<void> {
  const ids = await listEdited(means.db, sourceId);
  if (ids.length > 0) await reshow(means, ids);
}

/** Why nothing may be changed in an object now; null where it may. */
export async function heldOrFrozen(db: Means['db'], row: TetherRow): Promise<Result<null>> {
  const held = (await findHolds(db, [row.documentId])).get(row.documentId);
  if (held) return { ok: false, fault: held };
  return row.frozenAt ? fail('object-frozen') : ok(null);
}

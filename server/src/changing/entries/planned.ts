import type { EntrySeen } from '@tether/contract';
import { ok, type Result } from '@tether/core';
import { type EntryRow, findEntries } from '../../db/entries.ts';
import type { Means } from '../../sources/means.ts';
import { planCells, type WriteWhere, whereOf } from '../../sources/reshow.ts';
import type { CellLooked, FileWritten, WishedCell } from '../../sources/writing/written.ts';
import { isSame, keyOf } from './held.ts';

/** The entries of a source against what its file holds now, and what saving them would do. */
export interface Planned {
  seen: { entry: EntryRow; now: CellLooked; kind: EntrySeen['kind'] }[];
  where: WriteWhere;
  cells: WishedCell[];
  plan: Result<FileWritten>;
  token: string | null;
}

/** The entries of a source as they stand now. Faults: those of finding and reading the source. */
export async function planEntries(
  means: Pick<Means, 'db' | 'writer'>,
  sourceId: string,
): Promise<Result<Planned>> {
  const { db, writer } = means;
  const entries = await findEntries(db, sourceId);
  const where = await whereOf(db, sourceId);
  if (!where.ok) return where;
  const looked = await writer.look(where.value, entries);
  if (!looked.ok) return looked;
  const now = new Map(looked.value.cells.map((each) => [keyOf(each), each]));
  const seen = entries.map((entry) => {
    const cell = now.get(keyOf(entry))!;
    const isKnown = cell.landmark === entry.landmark;
    const kind: EntrySeen['kind'] =
      isKnown && isSame(entry.entered, cell)
        ? 'same'
        : isKnown && isSame(entry.agreed, cell)
          ? 'kept'
          : 'contested';
    return { entry, now: cell, kind };
  });
  const cells = seen
    .filter(({ kind }) => kind === 'kept')
    .map(({ entry, now: cell }): WishedCell => {
      const { sheet, row, column, entered } = entry;
      const { value, formula } = entered;
      const isOverFormula = cell.formula !== null;
      return { sheet, row, column, value, isOverFormula, ...(formula === null ? {} : { formula }) };
    });
  const { plan, token } = await planCells({ db, writer }, sourceId, cells);
  return ok({ seen, where: where.value, cells, plan, token });
}

import { columnName, type LineChange, movedReach, ok, type Reach, type Result } from '@tether/core';
import { z } from 'zod';
import type { Database } from '../../db/database.ts';
import { insertLog } from '../../db/log.ts';
import { findSource } from '../../db/sources.ts';
import { listSourceTethers, updateTethers } from '../../db/tethers.ts';
import { announce } from '../../events/announce.ts';
import { whereOf } from '../../sources/reshow.ts';
import type { Step, Tools } from '../step.ts';

const reachesSchema = z.array(
  z.object({ id: z.uuid(), before: z.custom<Reach>(), after: z.custom<Reach>() }),
);

const dataSchema = z.object({
  kind: z.literal('lines'),
  sourceId: z.uuid(),
  /** What was done; it is done the other way round where the step takes one back. */
  change: z.object({
    sheet: z.string(),
    axis: z.enum(['rows', 'columns']),
    kind: z.enum(['put in', 'take out']),
    at: z.int(),
    count: z.int(),
  }),
  isBack: z.boolean(),
  /** Under which name the file is kept as it was, and what it is now. */
  backup: z.string(),
  after: z.string(),
  /** Objects whose reach followed. */
  reaches: reachesSchema,
});
type Data = z.infer<typeof dataSchema>;

export interface Wish {
  sourceId: string;
  change: LineChange;
  /** The file that it is done to. */
  hash: string;
  /** The file that is put back, where a step is taken back, and the reaches that are. */
  back: { kept: string; isBack: boolean; reaches: Data['reaches'] } | null;
}

/** Puts rows or columns into a source or takes them out; reaches of fixed places follow. Faults: those of writing. */
export const lines: Step<Wish, Data> = {
  data: dataSchema,
  async apply(tx, wish, { personId, act = null }, tools) {
    const { sourceId, change, back } = wish;
    const done = await written(tx, wish, tools);
    if (!done.ok) return done;
    const rows = await listSourceTethers(tx, [sourceId], { lock: true });
    const reaches = back
      ? back.reaches.filter(({ id, before }) => {
          const now = rows.find((row) => row.id === id)?.reach;
          return JSON.stringify(now) === JSON.stringify(before);
        })
      : rows.flatMap(({ id, reach }) => {
          const after = movedReach(reach, change);
          return after === reach ? [] : [{ id, before: reach, after }];
        });
    await updateTethers(
      tx,
      reaches.map(({ id, after }) => ({ id, reach: after })),
    );
    const found = await findSource(tx, sourceId);
    const undo: Data = {
      ...{ kind: 'lines', sourceId, change, reaches },
      ...{ backup: done.value.backup, after: done.value.after },
      isBack: back ? !back.isBack : false,
    };
    await insertLog(
      tx,
      [
        {
          kind: 'written back' as const,
          personId,
          documentId: null,
          tetherId: null,
          tetherName: null,
          sourceId,
          source: found ? `${found.folder.name}/${found.source.path}` : null,
          summary: lines.describe(undo),
          undo,
        },
      ],
      act,
    );
    await announce(tx, { kind: 'log' });
    return ok({ changed: 1, refused: [], looks: [sourceId] });
  },
  describe({ change, isBack }) {
    const said = wordsFor(change);
    return isBack ? `Taken back: ${said}.` : `${said}.`;
  },
  // Whether the file was changed since is asked when it is put back.
  async changedSince() {
    return null;
  },
  invert: ({ sourceId, change, backup, after, isBack, reaches }) => ({
    sourceId,
    change,
    hash: after,
    back: {
      kept: backup,
      isBack,
      reaches: reaches.map((each) => ({ id: each.id, before: each.after, after: each.before })),
    },
  }),
};

async function written(
  tx: Database,
  { sourceId, change, hash, back }: Wish,
  { writer }: Tools,
): Promise<Result<{ after: string; backup: string }>> {
  const where = await whereOf(tx, sourceId);
  if (!where.ok) return where;
  const file = { id: sourceId, hash };
  return back
    ? writer.putBack(where.value, back.kept, file)
    : writer.writeLines(where.value, change, file);
}

/** What was done, in words. */
function wordsFor({ sheet, axis, kind, at, count }: LineChange): string {
  const one = axis === 'rows' ? 'row' : 'column';
  const name = (line: number) => (axis === 'rows' ? String(line) : columnName(line));
  const many = count === 1 ? `One ${one}` : `${count} ${one}s`;
  if (kind === 'put in') return `${many} put in before ${one} ${name(at)} of ${sheet}`;
  const last = at + count - 1;
  return count === 1
    ? `The ${one} ${name(at)} of ${sheet} taken out`
    : `The ${one}s ${name(at)} to ${name(last)} of ${sheet} taken out`;
}

import { fault, mooringName, mooringReference, ok, type Result } from '@tether/core';
import { z } from 'zod';
import type { Database } from '../../db/database.ts';
import { insertLog } from '../../db/log.ts';
import { insertMoorings } from '../../db/moorings.ts';
import { findSource } from '../../db/sources.ts';
import { lockTethers, type TetherRow, updateTether } from '../../db/tethers.ts';
import { announceTethers } from '../../following/follow.ts';
import { whereOf } from '../../sources/reshow.ts';
import type { Step, Tools } from '../step.ts';

const dataSchema = z.object({
  kind: z.literal('mooring'),
  tetherId: z.uuid(),
  isMoored: z.boolean(),
});

export interface Wish {
  tetherId: string;
  isMoored: boolean;
}

/** Files that hold names which nobody sees. */
const WORKBOOK = /\.(xlsx|xlsm)$/i;

/**
 * Puts a hidden name for the cells of an object into its file, or lets the object go from it; then the name is taken out when no
 * other holds on to it (`changing/moorings`). Faults: `mooring-not-possible` and those of writing.
 */
export const mooring: Step<Wish, z.infer<typeof dataSchema>> = {
  data: dataSchema,
  async apply(tx, { tetherId, isMoored }, { personId, act = null }, tools) {
    const [row] = await lockTethers(tx, [tetherId]);
    if (!row) return ok({ changed: 0, refused: [], looks: [] });
    const found = await findSource(tx, row.sourceId);
    const done = isMoored ? await moor(tx, row, tools) : letGo(row);
    if (!done.ok) return done;
    await updateTether(tx, tetherId, { reach: done.value });
    const undo = { kind: 'mooring' as const, tetherId, isMoored };
    await insertLog(
      tx,
      [
        {
          kind: isMoored ? 'moored' : 'mooring lifted',
          ...{ personId, documentId: row.documentId, tetherId, tetherName: row.name },
          sourceId: row.sourceId,
          source: found ? `${found.folder.name}/${found.source.path}` : null,
          summary: mooring.describe(undo),
          undo,
        },
      ],
      act,
    );
    await announceTethers(tx, [row]);
    return ok({ changed: 1, refused: [], looks: [row.sourceId] });
  },
  describe: ({ isMoored }) =>
    isMoored
      ? 'The workbook keeps its cells in step by a hidden name.'
      : 'It is found by what its cells hold.',
  async changedSince(tx, { tetherId, isMoored }) {
    const [row] = await lockTethers(tx, [tetherId]);
    if (!row) return 'the object is gone';
    const isNow = row.reach.kind === 'block' && row.reach.mooring !== undefined;
    return isNow === isMoored ? null : 'it was done since';
  },
  invert: ({ tetherId, isMoored }) => ({ tetherId, isMoored: !isMoored }),
};

async function moor(
  tx: Database,
  row: TetherRow,
  { writer }: Tools,
): Promise<Result<TetherRow['reach']>> {
  const { reach, sourceId } = row;
  const refusal = (why: 'kind' | 'file') => ({ ok: false as const, fault: whyNotMoored(why) });
  if (reach.kind !== 'block') return refusal('kind');
  const where = await whereOf(tx, sourceId);
  if (!where.ok) return where;
  if (!WORKBOOK.test(where.value.shownPath)) return refusal('file');
  const hash = (await findSource(tx, sourceId))?.source.hash ?? '';
  const name = mooringName(row.id);
  const refersTo = mooringReference(reach.sheet, reach.area);
  const change = { add: [{ name, refersTo }], remove: [] };
  const done = await writer.writeNames(where.value, change, { id: sourceId, hash });
  if (!done.ok) return done;
  await insertMoorings(tx, [{ sourceId, name }]);
  return ok({ ...reach, mooring: name });
}

function letGo({ reach }: TetherRow): Result<TetherRow['reach']> {
  if (reach.kind !== 'block') return ok(reach);
  const { mooring: _, ...loose } = reach;
  return ok(loose);
}

/** Why an object cannot be moored. */
function whyNotMoored(why: 'kind' | 'file') {
  return fault('mooring-not-possible', {
    why:
      why === 'kind'
        ? 'what it takes is found by its header or name already, or is a whole sheet'
        : 'only workbooks (.xlsx, .xlsm) hold names that nobody sees',
  });
}

import { modeSchema } from '@tether/contract';
import { describeMode, fail, type Mode, nextTime, ok } from '@tether/core';
import { z } from 'zod';
import type { Database } from '../../db/database.ts';
import { lockDocumentRules, setDocumentRules } from '../../db/documents.ts';
import { insertLog } from '../../db/log.ts';
import { lockSource, setSourceMode } from '../../db/sources.ts';
import {
  findRules,
  lockTethers,
  type TetherRow,
  tethersUnder,
  updateTethers,
} from '../../db/tethers.ts';
import { announce } from '../../events/announce.ts';
import { announceTethers, refreshesByItself, takeWhatWaited } from '../../following/follow.ts';
import type { By, Step } from '../step.ts';

const dataSchema = z.object({
  kind: z.literal('mode'),
  of: z.enum(['object', 'document', 'source']),
  id: z.string(),
  before: modeSchema.nullable(),
  /** What it was set to. Absent in entries of earlier versions. */
  after: modeSchema.nullable().optional(),
});
type Data = z.infer<typeof dataSchema>;

/** Null as a mode: as the source or document of an object says, as each document of a source says, or as usual. */
type Wish =
  | { of: 'object'; ids: readonly string[]; mode: Mode | null }
  | { of: 'document' | 'source'; id: string; mode: Mode | null };

/** Says when objects refresh: for some of them, or by default for a document or a source. Fault: `not-found`. */
export const mode: Step<Wish, Data> = {
  data: dataSchema,
  async apply(tx, wish, by) {
    const changed =
      wish.of === 'object'
        ? await ofObjects(tx, wish.ids, wish.mode, by)
        : wish.of === 'document'
          ? await ofDocument(tx, wish.id, wish.mode, by)
          : await ofSource(tx, wish.id, wish.mode, by);
    if (changed === null) return fail('not-found', { what: wish.of });
    return ok({ changed, refused: [], looks: [] });
  },
  describe({ of, after = null }, inForce = '') {
    const words = after ? describeMode(after) : null;
    if (of === 'object') {
      return words ? `To ${words}.` : `As its source or document says: ${inForce}.`;
    }
    if (of === 'document') return `The document’s default to ${words ?? 'the usual'}.`;
    return `The source’s default to ${words ?? 'that of each document'}.`;
  },
  async changedSince(tx, { of, id, after }) {
    const now = await modeNow(tx, of, id);
    if (now === undefined) return `the ${of} is gone`;
    if (after === undefined || JSON.stringify(now) === JSON.stringify(after)) return null;
    return `somebody changed it since, to ${now ? describeMode(now) : 'what holds by default'}`;
  },
  invert: ({ of, id, before }) =>
    of === 'object' ? { of, ids: [id], mode: before } : { of, id, mode: before },
};

async function modeNow(tx: Database, of: Data['of'], id: string): Promise<Mode | null | undefined> {
  if (of === 'object') return (await lockTethers(tx, [id]))[0]?.mode;
  if (of === 'document') return (await lockDocumentRules(tx, id))?.mode;
  return (await lockSource(tx, id))?.source.mode;
}

async function ofObjects(
  tx: Database,
  ids: readonly string[],
  wanted: Mode | null,
  { personId, act = null }: By,
): Promise<number> {
  const rows = await lockTethers(tx, ids);
  await updateTethers(
    tx,
    rows.map(({ id }) => ({ id, mode: wanted })),
  );
  const rules = await findRules(tx, ids);
  await insertLog(
    tx,
    rows.map((row) => {
      const { shownPath, mode: inForce } = rules.get(row.id)!;
      const undo = {
        kind: 'mode' as const,
        of: 'object' as const,
        id: row.id,
        before: row.mode,
        after: wanted,
      };
      return {
        kind: 'mode changed' as const,
        personId,
        documentId: row.documentId,
        tetherId: row.id,
        tetherName: row.name,
        sourceId: row.sourceId,
        source: shownPath,
        summary: mode.describe(undo, describeMode(inForce)),
        undo,
      };
    }),
    act,
  );
  await bringInLine(tx, ids);
  return rows.length;
}

async function ofDocument(
  tx: Database,
  id: string,
  wanted: Mode | null,
  { personId, act = null }: By,
): Promise<number | null> {
  const before = await lockDocumentRules(tx, id);
  if (!before) return null;
  await setDocumentRules(tx, id, { mode: wanted });
  const undo = {
    kind: 'mode' as const,
    of: 'document' as const,
    id,
    before: before.mode,
    after: wanted,
  };
  const summary = mode.describe(undo);
  await insertLog(tx, [{ kind: 'mode changed', personId, documentId: id, summary, undo }], act);
  await bringInLine(tx, await tethersUnder(tx, { documentId: id }));
  await announceTethers(tx, [{ documentId: id }]);
  return 1;
}

async function ofSource(
  tx: Database,
  id: string,
  wanted: Mode | null,
  { personId, act = null }: By,
): Promise<number | null> {
  const found = await lockSource(tx, id);
  if (!found) return null;
  await setSourceMode(tx, id, wanted);
  const undo = {
    kind: 'mode' as const,
    of: 'source' as const,
    id,
    before: found.source.mode,
    after: wanted,
  };
  await insertLog(
    tx,
    [
      {
        kind: 'mode changed',
        personId,
        sourceId: id,
        source: `${found.folder.name}/${found.source.path}`,
        summary: mode.describe(undo),
        undo,
      },
    ],
    act,
  );
  await bringInLine(tx, await tethersUnder(tx, { sourceId: id }));
  await announce(tx, { kind: 'sources' }, { kind: 'log' });
  return 1;
}

/** Brings tethers in line with the modes in force: next moments of timetables, nothing waits that nobody waits for. */
async function bringInLine(tx: Database, ids: readonly string[]): Promise<void> {
  const rows = await lockTethers(tx, ids);
  const rules = await findRules(tx, ids);
  const due: Pick<TetherRow, 'id' | 'nextDue' | 'waits'>[] = [];
  for (const row of rows) {
    const { mode: inForce } = rules.get(row.id)!;
    const nextDue =
      inForce.kind === 'timetable' ? new Date(nextTime(inForce.timetable, Date.now())) : null;
    // Who says when it refreshes anew decides anew about what waited.
    const waits = refreshesByItself(inForce) ? row.waits : null;
    if (nextDue?.getTime() === row.nextDue?.getTime() && waits === row.waits) continue;
    due.push({ id: row.id, nextDue, waits });
  }
  await updateTethers(tx, due);
  await takeWhatWaited(tx, ids);
  await announceTethers(tx, rows);
}

import { fail, formatCell, ok } from '@tether/core';
import { z } from 'zod';
import { insertLog } from '../../db/log.ts';
import { findSource } from '../../db/sources.ts';
import { findTethers } from '../../db/tethers.ts';
import { announce } from '../../events/announce.ts';
import { whereOf } from '../../sources/reshow.ts';
import { valueWords, type WishedCell, type WrittenCell } from '../../sources/writing/written.ts';
import type { Step } from '../step.ts';

const passedSchema = z.union([
  z.number(),
  z.string(),
  z.boolean(),
  z.null(),
  z.object({ error: z.string() }),
]);

const dataSchema = z.object({
  kind: z.literal('writeBack'),
  sourceId: z.uuid(),
  cells: z.array(
    z.object({
      sheet: z.string(),
      row: z.int(),
      column: z.int(),
      before: passedSchema,
      after: passedSchema,
      /** A formula gave way. */
      wasFormula: z.boolean(),
      /** The formulas that stood and stand in it; not said in entries of old, whose formulas are not brought back. */
      formulaBefore: z.string().optional(),
      formulaAfter: z.string().optional(),
    }),
  ),
});
type Data = z.infer<typeof dataSchema>;
type Expected = Pick<Data['cells'][number], 'after' | 'formulaAfter'>;

/** What a cell holds, in words. */
const held = (value: Data['cells'][number]['before'], formula: string | undefined) =>
  formula === undefined ? valueWords(value) || 'nothing' : `=${formula}`;

/** So many cells are named in the log; the others are counted. */
const MOST_NAMED = 4;

/** Cells to be written into a source. */
export interface Wish {
  sourceId: string;
  tetherId: string | null;
  /** The document whose edits these are, where they are of several objects. */
  documentId?: string;
  cells: WishedCell[];
  /** The file that was looked at; null where what the cells must hold is said instead. */
  hash: string | null;
  /** What each cell must hold for it, where somebody takes a write back. */
  expected?: Expected[];
}

/** Writes cells of a source: those alone, and what depends on them. Faults: those of writing; then nothing is written. */
export const writeBack: Step<Wish, Data> = {
  data: dataSchema,
  async apply(
    tx,
    { sourceId, tetherId, documentId, cells, hash, expected },
    { personId, act = null },
    { writer },
  ) {
    const where = await whereOf(tx, sourceId);
    if (!where.ok) return where;
    const planned = await writer.plan(where.value, cells);
    if (!planned.ok) return planned;
    const { written } = planned.value;
    // Of a formula it is the formula that must be the same: what it comes to may follow from other cells.
    const isOther = ({ before, formulaBefore }: WrittenCell, { after, formulaAfter }: Expected) =>
      formulaBefore !== formulaAfter ||
      (formulaAfter === undefined && JSON.stringify(before) !== JSON.stringify(after));
    if (expected && written.some((cell, at) => isOther(cell, expected[at]!))) {
      return fail('not-taken-back', { why: 'a cell that was written was changed since' });
    }
    const done = await writer.write(where.value, cells, {
      id: sourceId,
      hash: hash ?? planned.value.hash,
    });
    if (!done.ok) return done;
    const [tether] = tetherId ? await findTethers(tx, [tetherId]) : [];
    const found = await findSource(tx, sourceId);
    const undo: Data = {
      kind: 'writeBack',
      sourceId,
      cells: done.value.written.map((cell) => ({
        ...cell,
        wasFormula: cell.formulaBefore !== undefined && cell.formulaAfter === undefined,
      })),
    };
    await insertLog(
      tx,
      [
        {
          kind: 'written back' as const,
          personId,
          documentId: tether?.documentId ?? documentId ?? null,
          tetherId: tether?.id ?? null,
          tetherName: tether?.name ?? null,
          sourceId,
          source: found ? `${found.folder.name}/${found.source.path}` : null,
          summary: writeBack.describe(undo),
          undo,
        },
      ],
      act,
    );
    await announce(tx, { kind: 'log' });
    return ok({ changed: cells.length, refused: [], looks: [sourceId] });
  },
  describe({ cells }) {
    const few = cells
      .slice(0, MOST_NAMED)
      .map(
        (cell) =>
          `${formatCell(cell)} ${held(cell.before, cell.formulaBefore)} → ${held(cell.after, cell.formulaAfter)}`,
      );
    const more = cells.length - few.length;
    return `${few.join(', ')}${more > 0 ? ` and ${more} more` : ''}.`;
  },
  async changedSince(_tx, { cells }) {
    const isLost = cells.some((each) => each.wasFormula && each.formulaBefore === undefined);
    return isLost ? 'a formula gave way to a figure' : null;
  },
  invert: ({ sourceId, cells }, { tetherId }) => ({
    sourceId,
    tetherId,
    cells: cells.map(
      ({ sheet, row, column, before, formulaBefore, formulaAfter }): WishedCell => ({
        sheet,
        row,
        column,
        value: before,
        isOverFormula: formulaAfter !== undefined,
        ...(formulaBefore === undefined ? {} : { formula: formulaBefore }),
      }),
    ),
    hash: null,
    expected: cells,
  }),
};

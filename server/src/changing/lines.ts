import { createHash } from 'node:crypto';
import type { ChangeLines, LinesSeen } from '@tether/contract';
import { fail, formatCell, ok, type Result } from '@tether/core';
import { findEntries } from '../db/entries.ts';
import { lookNow } from '../sources/look.ts';
import type { Means } from '../sources/means.ts';
import { whereOf } from '../sources/reshow.ts';
import type { LinesWritten } from '../sources/writing/written.ts';
import { doStep } from './step.ts';
import { STEPS } from './steps/registry.ts';

/** What putting rows or columns in or taking them out would do. Faults: `entries-waiting` and those of `planLines`. */
export async function seeLines(
  means: Pick<Means, 'db' | 'writer'>,
  sourceId: string,
  change: ChangeLines,
): Promise<Result<LinesSeen>> {
  const plan = await planned(means, sourceId, change);
  if (!plan.ok) return plan;
  const { hash: _hash, after: _after, notFinal, ...said } = plan.value.plan;
  return ok({
    ...said,
    token: plan.value.token,
    notFinal: notFinal.map(({ sheet, row, column, why }) => ({
      ...{ sheet, why },
      ref: formatCell({ row, column }),
    })),
  });
}

async function planned(
  { db, writer }: Pick<Means, 'db' | 'writer'>,
  sourceId: string,
  change: ChangeLines,
): Promise<Result<{ plan: LinesWritten; token: string }>> {
  // They stand where the rows and columns are now.
  const waiting = (await findEntries(db, sourceId)).length;
  if (waiting > 0) return fail('entries-waiting', { count: waiting });
  const where = await whereOf(db, sourceId);
  if (!where.ok) return where;
  const plan = await writer.planLines(where.value, change);
  if (!plan.ok) return plan;
  const token = createHash('sha256')
    .update(JSON.stringify([plan.value.hash, change]))
    .digest('hex');
  return ok({ plan: plan.value, token });
}

/**
 * Puts rows or columns in or takes them out, as somebody agreed to by `token`. Faults: `slip-out-of-date`, `entries-waiting` and
 * those of writing; then nothing is written.
 */
export async function changeLines(
  means: Means,
  personId: string,
  sourceId: string,
  change: ChangeLines,
  token: string,
): Promise<Result<null>> {
  const now = await planned(means, sourceId, change);
  if (!now.ok) return now;
  if (now.value.token !== token) return fail('slip-out-of-date');
  const wish = { sourceId, change, hash: now.value.plan.hash, back: null };
  const done = await doStep(means, STEPS.lines, wish, { personId });
  if (!done.ok) return done;
  await lookNow(means, sourceId, { isForced: true });
  return ok(null);
}

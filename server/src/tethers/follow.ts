import {
  type ChangeSlip,
  cellsBehind,
  changeSlip,
  type Fault,
  harmOf,
  ok,
  type Reach,
  type ReachWarning,
  type Result,
  type Snapshot,
  standingOf,
  summariseSlip,
  type Taken,
} from '@tether/core';
import type { Database } from '../db/database.ts';
import { insertLog } from '../db/log.ts';
import { findSnapshots, hashSnapshot, storeSnapshots } from '../db/snapshots.ts';
import {
  findRules,
  listSourceTethers,
  lockTethers,
  type TetherRow,
  type TetherRules,
  updateTether,
} from '../db/tethers.ts';
import { announce } from '../events/announce.ts';
import type { Reading } from '../sources/reading.ts';
import { type Taking, takeStates } from './take.ts';

/** The reaches of the tethers, each once however many objects share it. */
export function reachesOf(tethers: readonly TetherRow[]): Reach[] {
  return [...new Map(tethers.map(({ reach }) => [reachKey(reach), reach])).values()];
}

function reachKey(reach: Reach): string {
  return JSON.stringify(reach);
}

/** What the tether takes, or why it cannot; null when it was not read for. */
type TakenByTether = (tether: Pick<TetherRow, 'reach'>) => Result<Taken> | null;

/** What each tether takes out of one reading. */
export function takenBy(reading: Reading, reaches: readonly Reach[]): TakenByTether {
  const byKey = new Map(reaches.map((reach, index) => [reachKey(reach), reading.taken[index]!]));
  return ({ reach }) => byKey.get(reachKey(reach)) ?? null;
}

/**
 * Gives every tether of a source its standing after the source was read (or could not be), within the transaction `tx`.
 * Changed standings are written with their reason or pending snapshot; going adrift and being found again are logged.
 * Automatic tethers take their changes at once, unless these should be looked at first. Frozen ones are left alone.
 */
export async function followSource(
  tx: Database,
  source: { id: string; shownPath: string },
  taken: TakenByTether | { fault: Fault },
): Promise<void> {
  const rows = (await listSourceTethers(tx, source.id, { lock: true })).filter(
    ({ frozenAt }) => !frozenAt,
  );
  const changed: TetherRow[] = [];
  const bases =
    typeof taken === 'function'
      ? await findSnapshots(
          tx,
          rows.map((row) => row.base),
        )
      : new Map<string, Snapshot>();
  const rules = await findRules(
    tx,
    rows.map(({ id }) => id),
  );
  const judged = rows.flatMap((row) => {
    const now =
      typeof taken === 'function' ? taken(row) : ({ ok: false, fault: taken.fault } as const);
    return now === null ? [] : [{ row, next: judge(row, bases.get(row.base), now) }];
  });
  await storeSnapshots(
    tx,
    judged.flatMap(({ next }) => (next.snapshot ? [next.snapshot] : [])),
  );
  const taking: Taking[] = [];
  for (const { row, next } of judged) {
    const base = bases.get(row.base);
    const isNew = next.pending !== row.pending || next.standing !== row.standing;
    const rule = rules.get(row.id)!;
    // What was held back or asked about is decided anew only when there is something new.
    if (next.slip && isNew && mayTakeByItself(row, rule, next.pending!)) {
      const harm = harmOf(base!, next.snapshot!, next.slip, rule.share);
      if (!harm) {
        changed.push(row);
        taking.push({
          row,
          shownPath: source.shownPath,
          snapshot: next.snapshot!,
          hash: next.pending!,
          slip: next.slip,
        });
        if (wordsOf(next.warnings) !== wordsOf(row.warnings)) {
          await updateTether(tx, row.id, { warnings: next.warnings });
        }
        continue;
      }
      next.waits = harm;
      await insertLog(tx, [logOf(row, source, 'waits', harm.message)]);
    } else if (!isNew) next.waits = row.waits;
    const isSame =
      !isNew &&
      next.reason?.message === row.reason?.message &&
      wordsOf(next.warnings) === wordsOf(row.warnings);
    if (isSame) continue;
    const { slip: _, snapshot: __, ...values } = next;
    await updateTether(tx, row.id, {
      ...values,
      ...(next.standing === row.standing ? {} : { standingSince: new Date() }),
      // Back at what the source holds: that is no earlier state on purpose any more.
      ...(next.standing === 'in step' ? { pinnedTo: null } : {}),
    });
    changed.push(row);
    if ((next.standing === 'adrift') !== (row.standing === 'adrift')) {
      const kind = next.standing === 'adrift' ? 'adrift' : 'found again';
      const words = next.reason?.message ?? 'The source can be read again.';
      await insertLog(tx, [logOf(row, source, kind, words)]);
    }
  }
  await takeStates(tx, taking, { personId: null, how: 'automatically', kind: 'refreshed' });
  await announceTethers(tx, changed);
}

/** Tells the screens which documents have tethers that changed, and that there is something new in the log. */
export async function announceTethers(
  tx: Database,
  changed: readonly Pick<TetherRow, 'documentId'>[],
): Promise<void> {
  if (changed.length === 0) return;
  const documentIds = [...new Set(changed.map(({ documentId }) => documentId))];
  await announce(
    tx,
    ...documentIds.map((documentId) => ({ kind: 'tethers' as const, documentId })),
    { kind: 'log' },
  );
}

function mayTakeByItself(row: TetherRow, rule: TetherRules, pending: string): boolean {
  return (
    rule.mode.kind === 'automatic' &&
    row.placed &&
    !rule.isHeld &&
    row.pinnedTo === null &&
    row.leftHash !== pending
  );
}

/**
 * Automatic objects that are behind take their changes, as far as these need not be looked at first: after they became
 * automatic, were released, came back into a text. The rows must be locked.
 */
export async function takeWhatWaited(tx: Database, ids: readonly string[]): Promise<void> {
  const rows = (await lockTethers(tx, ids)).filter(
    ({ standing, pending, frozenAt }) => standing === 'behind' && pending && !frozenAt,
  );
  const rules = await findRules(
    tx,
    rows.map(({ id }) => id),
  );
  const able = rows.filter((row) => mayTakeByItself(row, rules.get(row.id)!, row.pending!));
  const contents = await findSnapshots(
    tx,
    able.flatMap((row) => [row.base, row.pending!]),
  );
  const taking: Taking[] = [];
  for (const row of able) {
    const [base, snapshot] = [contents.get(row.base)!, contents.get(row.pending!)!];
    const slip = changeSlip(base, snapshot);
    const { share, shownPath } = rules.get(row.id)!;
    const harm = harmOf(base, snapshot, slip, share);
    if (harm) await updateTether(tx, row.id, { waits: harm });
    else taking.push({ row, shownPath, snapshot, hash: row.pending!, slip });
  }
  await takeStates(tx, taking, { personId: null, how: 'automatically', kind: 'refreshed' });
  await announceTethers(tx, able);
}

function logOf(
  row: TetherRow,
  source: { id: string; shownPath: string },
  kind: 'waits' | 'adrift' | 'found again',
  summary: string,
) {
  return {
    kind,
    documentId: row.documentId,
    tetherId: row.id,
    tetherName: row.name,
    sourceId: source.id,
    source: source.shownPath,
    summary,
  };
}

function wordsOf(warnings: readonly ReachWarning[]): string {
  return warnings.map(({ message }) => message).join('\n');
}

interface Judgement
  extends Pick<
    TetherRow,
    'standing' | 'pending' | 'reason' | 'summary' | 'behindBy' | 'warnings' | 'waits'
  > {
  /** What a refresh would change and where it leads, of one that is behind. */
  slip?: ChangeSlip;
  snapshot?: Snapshot;
}

function judge(row: TetherRow, base: Snapshot | undefined, now: Result<Taken>): Judgement {
  const warnings = now.ok ? now.value.warnings : row.warnings;
  const inStep: Judgement = {
    standing: 'in step',
    pending: null,
    reason: null,
    summary: null,
    behindBy: 0,
    warnings,
    waits: null,
  };
  // What was pending is kept out: nobody can say whether it still holds.
  if (!now.ok) return { ...inStep, standing: 'adrift', reason: now.fault };
  const { snapshot } = now.value;
  const hash = hashSnapshot(snapshot);
  if (hash === row.base) return inStep;
  const standing = standingOf(base!, ok(snapshot));
  if (standing.name !== 'behind') return inStep;
  const { slip } = standing;
  return {
    ...inStep,
    standing: 'behind',
    pending: hash,
    summary: summariseSlip(slip),
    behindBy: cellsBehind(slip),
    slip,
    snapshot,
  };
}

import type { LiveEvent, RefreshedHow } from '@tether/contract';
import {
  type Change,
  describeReach,
  type Fault,
  fault,
  harmOf,
  type Mode,
  type Reach,
  type ReachWarning,
  type Result,
} from '@tether/core';
import type { Database } from '../db/database.ts';
import { insertLog } from '../db/log.ts';
import { storePacked } from '../db/snapshots.ts';
import {
  findRules,
  listSourceTethers,
  lockTethers,
  type TetherRow,
  type TetherRules,
  updateTethers,
} from '../db/tethers.ts';
import { announce } from '../events/announce.ts';
import type { PackedSnapshot } from '../storage/packed.ts';
import type { Comparer } from './comparer.ts';
import type { Followed, FollowedReach } from './followed.ts';
import { showEdits, standingWithoutEdits } from './show-edits.ts';
import { type Taking, takeStates } from './take-states.ts';

/** The reaches of the tethers, each once however many objects share it, with what these show of it, out of `packed`. */
export function reachesOf(
  tethers: readonly TetherRow[],
  packed: ReadonlyMap<string, Uint8Array>,
): FollowedReach[] {
  const byKey = new Map<string, { reach: Reach; bases: Set<string>; isLost: boolean }>();
  for (const { reach, base, standing, reason } of tethers) {
    const key = reachKey(reach);
    const known = byKey.get(key) ?? { reach, bases: new Set(), isLost: false };
    known.bases.add(base);
    // One whose file was away for a while is where it was.
    const isAway = /^(source|folder)-/.test(reason?.code ?? '');
    known.isLost ||= standing === 'reshaped' || (standing === 'adrift' && !isAway);
    byKey.set(key, known);
  }
  return [...byKey.values()].map(({ reach, bases, isLost }) => ({
    reach,
    isLost,
    // One that was given up for another and swept meanwhile is compared with when the standing is written.
    bases: [...bases].flatMap((hash) => {
      const content = packed.get(hash);
      return content ? [{ hash, packed: content }] : [];
    }),
  }));
}

function reachKey(reach: Reach): string {
  return JSON.stringify(reach);
}

/** What the tether takes, or why it cannot; null when it was not read for. */
type TakenByTether = (tether: Pick<TetherRow, 'reach'>) => Result<Followed> | null;

/** What each tether takes out of one reading: `followed` is what that found of each of `follow`. */
export function takenBy(
  followed: readonly Result<Followed>[],
  follow: readonly FollowedReach[],
): TakenByTether {
  const byKey = new Map(follow.map(({ reach }, index) => [reachKey(reach), followed[index]!]));
  return ({ reach }) => byKey.get(reachKey(reach)) ?? null;
}

/** A source that was read, or could not be. */
interface FollowedSource {
  id: string;
  /** `folder/path`. */
  shownPath: string;
  taken: TakenByTether | { fault: Fault };
}

/**
 * Gives every tether of these sources its standing after they were read (or could not be), within the transaction `tx`.
 * Changed standings are written with their reason or pending snapshot; going adrift and being found again are logged.
 * Automatic tethers take their changes at once, unless these should be looked at first. Frozen ones are left alone. The
 * screens are told.
 */
export async function followSources(
  { tx, comparer }: { tx: Database; comparer: Comparer },
  followed: readonly FollowedSource[],
): Promise<void> {
  if (followed.length === 0) return;
  const bySource = new Map(followed.map((each) => [each.id, each]));
  const rows = (await listSourceTethers(tx, [...bySource.keys()], { lock: true })).filter(
    ({ frozenAt }) => !frozenAt,
  );
  const rules = await findRules(
    tx,
    rows.map(({ id }) => id),
  );
  const { judged, states, moved } = await judge({ tx, comparer }, rows, bySource);
  await storePacked(tx, states);
  await followCells(tx, moved);
  const became = new Became();
  for (const each of judged) became.add(each, rules.get(each.row.id)!);
  await became.write(tx);
}

/** A tether with what its standing is to be. */
interface Judged {
  row: TetherRow;
  source: FollowedSource;
  next: Judgement;
}

/** Compares what was read with what the tethers show. Those whose cells stand elsewhere now are among `moved` as well. */
async function judge(
  { tx, comparer }: { tx: Database; comparer: Comparer },
  rows: readonly TetherRow[],
  bySource: ReadonlyMap<string, FollowedSource>,
): Promise<{ judged: Judged[]; states: PackedSnapshot[]; moved: MovedRow[] }> {
  const judged: Judged[] = [];
  const states: PackedSnapshot[] = [];
  const moved: MovedRow[] = [];
  for (const row of rows) {
    const source = bySource.get(row.sourceId)!;
    const { taken } = source;
    if (typeof taken !== 'function') {
      judged.push({ row, source, next: adrift(row, taken.fault) });
      continue;
    }
    const now = taken(row);
    if (now === null) continue;
    if (!now.ok) {
      judged.push({ row, source, next: adrift(row, now.fault) });
      continue;
    }
    const next = await compare(tx, comparer, row, now.value);
    if (next.change) states.push(now.value.now);
    const { found, moved: reasons } = now.value;
    if (reasons) moved.push({ row, source, reach: found, reasons });
    judged.push({ row: reasons ? { ...row, reach: found } : row, source, next });
  }
  return { judged, states, moved };
}

const adrift = (row: TetherRow, reason: Fault): Judgement => ({
  ...inStep(row.warnings),
  standing: 'adrift',
  reason,
});

/** What becomes of tethers that were judged, gathered so that all of it is written at once. */
class Became {
  private readonly changed: TetherRow[] = [];
  private readonly taking: Taking[] = [];
  private readonly standings: Parameters<typeof updateTethers>[1][number][] = [];
  private readonly warned: Parameters<typeof updateTethers>[1][number][] = [];
  private readonly edited: TetherRow[] = [];
  private readonly log: ReturnType<typeof logOf>[] = [];

  add({ row, source, next }: Judged, rule: TetherRules): void {
    const was = standingWithoutEdits(row);
    const isNew =
      next.pending !== row.pending ||
      next.standing !== was ||
      (next.danger !== null && row.danger === null);
    // What was held back or asked about is decided anew only when there is something new.
    if (next.change && isNew && mayTakeByItself(row, rule, next.pending!)) {
      const harm = harmOf(next.change.danger, rule.share);
      if (!harm) {
        this.takes(row, source, next, next.change);
        return;
      }
      next.waits = harm;
      this.log.push(logOf(row, source, 'waits', harm.message));
    } else if (!isNew) next.waits = row.waits;
    const isSame =
      !isNew &&
      next.reason?.message === row.reason?.message &&
      JSON.stringify(next.reshaped) === JSON.stringify(row.reshaped) &&
      wordsOf(next.warnings) === wordsOf(row.warnings);
    if (!isSame) this.stands(row, source, next, next.standing === was);
  }

  /** It takes its change by itself. */
  private takes(row: TetherRow, source: FollowedSource, next: Judgement, change: Change): void {
    const { shownPath } = source;
    this.changed.push(row);
    this.taking.push({ row, shownPath, hash: next.pending!, summary: change.summary });
    if (wordsOf(next.warnings) !== wordsOf(row.warnings)) {
      this.warned.push({ id: row.id, warnings: next.warnings });
    }
  }

  /** It stands as it was judged; `isAsBefore`: in the same standing, for other reasons. */
  private stands(
    row: TetherRow,
    source: FollowedSource,
    { change: _, ...values }: Judgement,
    isAsBefore: boolean,
  ): void {
    this.standings.push({
      id: row.id,
      ...values,
      standing: isAsBefore ? row.standing : values.standing,
      standingSince: isAsBefore ? row.standingSince : new Date(),
    });
    this.changed.push(row);
    if (row.editCount > 0) this.edited.push({ ...row, ...values });
    if ((values.standing === 'adrift') !== (row.standing === 'adrift')) {
      const kind = values.standing === 'adrift' ? 'adrift' : 'found again';
      const words = values.reason?.message ?? 'The source can be read again.';
      this.log.push(logOf(row, source, kind, words));
    }
  }

  /** Writes all of it, and tells the screens. */
  async write(tx: Database): Promise<void> {
    await updateTethers(tx, this.standings);
    for (const row of this.edited) await showEdits(tx, row);
    await updateTethers(tx, this.warned);
    await insertLog(tx, this.log);
    await takeStates(tx, this.taking, { personId: null, how: 'automatically', kind: 'refreshed' });
    await announce(tx, { kind: 'sources' }, ...eventsOf(this.changed));
  }
}

/** An object whose cells stand elsewhere in its source. */
interface MovedRow {
  row: TetherRow;
  source: FollowedSource;
  reach: Reach;
  reasons: string[];
}

/** Lets reaches say where their cells stand now, and says so in the log. */
async function followCells(tx: Database, moved: readonly MovedRow[]): Promise<void> {
  if (moved.length === 0) return;
  await updateTethers(
    tx,
    moved.map(({ row, reach }) => ({ id: row.id, reach })),
  );
  await insertLog(
    tx,
    moved.map(({ row, source, reach, reasons }) => {
      const way = `From ${describeReach(row.reach)} to ${describeReach(reach)}.`;
      return logOf(row, source, 'reach followed', [way, ...reasons].join(' '));
    }),
  );
  await announceTethers(
    tx,
    moved.map(({ row }) => row),
  );
}

/** Tells the screens which documents have tethers that changed, and that there is something new in the log. */
export async function announceTethers(
  tx: Database,
  changed: readonly Pick<TetherRow, 'documentId'>[],
): Promise<void> {
  await announce(tx, ...eventsOf(changed));
}

function eventsOf(changed: readonly Pick<TetherRow, 'documentId'>[]): LiveEvent[] {
  if (changed.length === 0) return [];
  const documentIds = [...new Set(changed.map(({ documentId }) => documentId))];
  return [
    ...documentIds.map((documentId) => ({ kind: 'tethers' as const, documentId })),
    { kind: 'log' },
  ];
}

/** Whether objects of a mode take changes without being told to each time. */
export function refreshesByItself(mode: Mode): boolean {
  return HOW_OF.some((how) => isModeOf(mode, how));
}

type ByItself = Exclude<RefreshedHow, 'by hand'>;
const HOW_OF: ByItself[] = ['automatically', 'by timetable', 'on opening'];

/** Whether an object of this mode is refreshed in this way. */
function isModeOf(mode: Mode, how: ByItself): boolean {
  switch (how) {
    case 'automatically':
      return mode.kind === 'automatic';
    case 'by timetable':
      return mode.kind === 'timetable';
    case 'on opening':
      return mode.kind === 'on opening' && mode.how === 'always';
  }
}

/** What somebody left or went back from on purpose is left alone, as is what is held. */
function mayTakeByItself(
  row: TetherRow,
  rule: TetherRules,
  pending: string,
  how: ByItself = 'automatically',
): boolean {
  return (
    isModeOf(rule.mode, how) &&
    row.placed &&
    !rule.isHeld &&
    row.pinnedTo === null &&
    row.leftHash !== pending
  );
}

/**
 * Objects that are behind take their changes, as far as these need not be looked at first: automatic ones after they became
 * automatic, were released, came back into a text; or those that are due by timetable, or on opening. Gives how many.
 */
export async function takeWhatWaited(
  tx: Database,
  ids: readonly string[],
  by: { how: ByItself; personId: string | null } = { how: 'automatically', personId: null },
): Promise<number> {
  const rows = (await lockTethers(tx, ids)).filter(
    (row) => standingWithoutEdits(row) === 'behind' && row.pending && !row.frozenAt,
  );
  const rules = await findRules(
    tx,
    rows.map(({ id }) => id),
  );
  const able = rows.filter((row) => mayTakeByItself(row, rules.get(row.id)!, row.pending!, by.how));
  const taking: Taking[] = [];
  const waiting: { id: string; waits: Fault }[] = [];
  const log: ReturnType<typeof logOf>[] = [];
  for (const row of able) {
    // It was put behind by an earlier version: its source is being looked at once more (`listUncompared`).
    if (!row.danger) continue;
    const { share, shownPath } = rules.get(row.id)!;
    const harm = harmOf(row.danger, share);
    if (harm) {
      waiting.push({ id: row.id, waits: harm });
      const source = { id: row.sourceId, shownPath };
      // Said once, however often it is due meanwhile.
      if (row.waits?.message !== harm.message) log.push(logOf(row, source, 'waits', harm.message));
    } else taking.push({ row, shownPath, hash: row.pending!, summary: row.summary ?? '' });
  }
  await updateTethers(tx, waiting);
  await insertLog(tx, log);
  await takeStates(tx, taking, { ...by, kind: 'refreshed' });
  await announceTethers(tx, able);
  return taking.length;
}

function logOf(
  row: TetherRow,
  source: { id: string; shownPath: string },
  kind: 'waits' | 'adrift' | 'found again' | 'reach followed',
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
    | 'standing'
    | 'pending'
    | 'reason'
    | 'summary'
    | 'behindBy'
    | 'danger'
    | 'warnings'
    | 'waits'
    | 'reshaped'
  > {
  /** What a refresh would change, of one that is behind. */
  change?: Change;
}

function inStep(warnings: ReachWarning[]): Judgement {
  return {
    standing: 'in step',
    pending: null,
    reason: null,
    summary: null,
    behindBy: 0,
    danger: null,
    warnings,
    waits: null,
    reshaped: null,
  };
}

async function compare(
  tx: Database,
  comparer: Comparer,
  row: TetherRow,
  taken: Followed,
): Promise<Judgement> {
  const { now, warnings, changes, places } = taken;
  if (places && row.staysHash !== now.hash) {
    // What stands at the old place is not shown as if it were right, nor offered as a change.
    return {
      ...inStep(warnings),
      standing: 'reshaped',
      reason: fault('waits-moved', { place: places[0]!.where }),
      reshaped: { hash: now.hash, places },
    };
  }
  const known = changes.find(({ from }) => from === row.base);
  const change = known ? known.change : await changeFrom(tx, comparer, row.base, now);
  if (!change) return inStep(warnings);
  const { summary, behindBy, danger } = change;
  return {
    ...inStep(warnings),
    standing: 'behind',
    pending: now.hash,
    summary,
    behindBy,
    danger,
    change,
  };
}

/** For an object that was refreshed while its source was read: it shows something else than what was compared there. */
async function changeFrom(
  tx: Database,
  comparer: Comparer,
  base: string,
  now: PackedSnapshot,
): Promise<Change | null> {
  if (now.hash === base) return null;
  await storePacked(tx, [now]);
  const change = await comparer.change(tx, base, now.hash);
  if (!change.ok) throw new Error(`What the object shows is not kept: ${base}`);
  return change.value;
}

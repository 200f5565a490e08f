import { randomUUID } from 'node:crypto';
import type { RefreshResponse } from '@tether/contract';
import { describeMode, fail, type Mode, nextTime, ok, type Result } from '@tether/core';
import type { Database } from '../db/database.ts';
import { findHolds, lockDocumentRules, setDocumentRules } from '../db/documents.ts';
import { insertLog } from '../db/log.ts';
import { findSource, setSourceMode } from '../db/sources.ts';
import {
  describeTethers,
  findRules,
  listDueTethers,
  listTimedTethers,
  lockTethers,
  type TetherRow,
  tethersUnder,
  updateTethers,
} from '../db/tethers.ts';
import { announce } from '../events/announce.ts';
import { announceTethers, refreshesByItself, takeWhatWaited } from '../following/follow.ts';
import { catchUp } from '../sources/look.ts';
import type { Means } from '../sources/means.ts';

/** Gives objects a mode of their own, or (null) that of their source or document. */
export async function setTetherModes(
  { db }: Pick<Means, 'db'>,
  personId: string,
  ids: readonly string[],
  mode: Mode | null,
  act: string | null = null,
): Promise<void> {
  await db.transaction((tx) => setModes(tx, personId, ids, mode, act));
}

async function setModes(
  tx: Database,
  personId: string,
  ids: readonly string[],
  mode: Mode | null,
  act: string | null,
): Promise<void> {
  const rows = await lockTethers(tx, ids);
  await updateTethers(
    tx,
    rows.map(({ id }) => ({ id, mode })),
  );
  const rules = await findRules(tx, ids);
  await insertLog(
    tx,
    rows.map((row) => ({
      kind: 'mode changed' as const,
      personId,
      documentId: row.documentId,
      tetherId: row.id,
      tetherName: row.name,
      sourceId: row.sourceId,
      source: rules.get(row.id)!.shownPath,
      summary: mode
        ? `To ${describeMode(mode)}.`
        : `As its source or document says: ${describeMode(rules.get(row.id)!.mode)}.`,
      undo: { kind: 'mode', of: 'object', id: row.id, before: row.mode, after: mode } as const,
    })),
    act,
  );
  await applyModes(tx, ids);
}

/** Sets the default mode of a document, and how much may change unseen in it. Fault: `not-found`. */
export async function setDocumentModes(
  { db }: Pick<Means, 'db'>,
  personId: string,
  id: string,
  wanted: { mode?: Mode | null; share?: number },
): Promise<Result<null>> {
  return db.transaction(async (tx): Promise<Result<null>> => {
    const before = await lockDocumentRules(tx, id);
    if (!before) return fail('not-found', { what: 'document' });
    await setDocumentRules(tx, id, wanted);
    if (wanted.mode !== undefined) {
      await insertLog(tx, [
        {
          kind: 'mode changed',
          personId,
          documentId: id,
          summary: `The document’s default to ${wanted.mode ? describeMode(wanted.mode) : 'the usual'}.`,
          undo: { kind: 'mode', of: 'document', id, before: before.mode, after: wanted.mode },
        },
      ]);
      await applyModes(tx, await tethersUnder(tx, { documentId: id }));
    }
    const { share } = wanted;
    if (share !== undefined && share !== before.share) {
      await insertLog(tx, [
        {
          kind: 'share changed',
          personId,
          documentId: id,
          summary: `Automatic refreshes ask above ${share} per cent instead of ${before.share}.`,
          undo: { kind: 'share', before: before.share, after: share },
        },
      ]);
    }
    await announceTethers(tx, [{ documentId: id }]);
    return ok(null);
  });
}

/** Sets the default mode of a source. Fault: `not-found`. */
export async function setSourceModes(
  { db }: Pick<Means, 'db'>,
  personId: string,
  id: string,
  mode: Mode | null,
): Promise<Result<null>> {
  return db.transaction(async (tx): Promise<Result<null>> => {
    const found = await findSource(tx, id);
    if (!found) return fail('not-found', { what: 'source' });
    await setSourceMode(tx, id, mode);
    await insertLog(tx, [
      {
        kind: 'mode changed',
        personId,
        sourceId: id,
        source: `${found.folder.name}/${found.source.path}`,
        summary: `The source’s default to ${mode ? describeMode(mode) : 'that of each document'}.`,
        undo: { kind: 'mode', of: 'source', id, before: found.source.mode, after: mode },
      },
    ]);
    await applyModes(tx, await tethersUnder(tx, { sourceId: id }));
    await announce(tx, { kind: 'sources' }, { kind: 'log' });
    return ok(null);
  });
}

/** Brings tethers in line with the modes in force: next moments of timetables, nothing waits that nobody waits for. */
async function applyModes(tx: Database, ids: readonly string[]): Promise<void> {
  const rows = await lockTethers(tx, ids);
  const rules = await findRules(tx, ids);
  const due: Pick<TetherRow, 'id' | 'nextDue' | 'waits'>[] = [];
  for (const row of rows) {
    const { mode } = rules.get(row.id)!;
    const nextDue =
      mode.kind === 'timetable' ? new Date(nextTime(mode.timetable, Date.now())) : null;
    // Who says when it refreshes anew decides anew about what waited.
    const waits = refreshesByItself(mode) ? row.waits : null;
    if (nextDue?.getTime() === row.nextDue?.getTime() && waits === row.waits) continue;
    due.push({ id: row.id, nextDue, waits });
  }
  await updateTethers(tx, due);
  await takeWhatWaited(tx, ids);
  await announceTethers(tx, rows);
}

/** For tethers that are new in their document: the moment their timetable is due next. */
export async function scheduleTethers(tx: Database, ids: readonly string[]): Promise<void> {
  const rules = await findRules(tx, ids);
  const due = [...rules].flatMap(([id, { mode }]) =>
    mode.kind === 'timetable'
      ? [{ id, nextDue: new Date(nextTime(mode.timetable, Date.now())) }]
      : [],
  );
  await updateTethers(tx, due);
}

const DUE_AT_ONCE = 500;

/**
 * Refreshes what is due by timetable, and then sets the next moment of each: whoever is killed between leaves it due, and
 * what was taken before has nothing to take again. As with automatic ones, harm waits for somebody, and objects that were
 * left, pinned, frozen, or are held keep what they show. Gives how many took something.
 */
export async function refreshDue(means: Means): Promise<number> {
  let count = 0;
  for (;;) {
    const due = await listDueTethers(means.db, DUE_AT_ONCE);
    await catchUp(
      means,
      due.map(({ sourceId }) => sourceId),
    );
    await means.db.transaction(async (tx) => {
      const ids = due.map(({ id }) => id);
      count += await takeWhatWaited(tx, ids, { how: 'by timetable', personId: null });
      await setNextTimes(tx, ids);
    });
    if (due.length < DUE_AT_ONCE) return count;
  }
}

/** Sets the next moment of these tethers; one that stands further away than it can be is set as well. */
async function setNextTimes(tx: Database, ids: readonly string[]): Promise<void> {
  const rows = await lockTethers(tx, ids);
  const rules = await findRules(tx, ids);
  await updateTethers(
    tx,
    rows.map(({ id }) => {
      const { mode } = rules.get(id)!;
      const next = mode.kind === 'timetable' ? nextTime(mode.timetable, Date.now()) : null;
      return { id, nextDue: next === null ? null : new Date(next) };
    }),
  );
}

/**
 * Looks whether the next moments are those that the timetables say: a clock that ran ahead for a while has set them further
 * away than they are.
 */
export async function alignTimetables({ db }: Pick<Means, 'db'>): Promise<void> {
  const rows = await listTimedTethers(db);
  const rules = await findRules(
    db,
    rows.map(({ id }) => id),
  );
  const wrong = rows.filter(({ id, nextDue }) => {
    const { mode } = rules.get(id)!;
    return mode.kind === 'timetable' && nextDue.getTime() > nextTime(mode.timetable, Date.now());
  });
  if (wrong.length === 0) return;
  await db.transaction((tx) =>
    setNextTimes(
      tx,
      wrong.map(({ id }) => id),
    ),
  );
}

/** What opening a document refreshes by itself, for the person who opens it: objects whose mode says so, unless it may do harm. */
export async function refreshOnOpening(
  means: Means,
  personId: string,
  documentId: string,
): Promise<number> {
  const found = await describeTethers(means.db, { documentId });
  const wanted = found
    .map(({ tether }) => tether)
    .filter(({ mode, placed }) => mode.kind === 'on opening' && mode.how === 'always' && placed);
  if (wanted.length === 0) return 0;
  // A save of a moment ago counts as well, though nobody has looked at it yet.
  await catchUp(
    means,
    wanted.map(({ source }) => source.id),
  );
  return means.db.transaction((tx) =>
    takeWhatWaited(
      tx,
      wanted.map(({ id }) => id),
      { how: 'on opening', personId },
    ),
  );
}

/** Lets objects that were left or gone back follow their sources again, as their modes say. */
export async function followAgain(
  { db }: Pick<Means, 'db'>,
  personId: string,
  ids: readonly string[],
): Promise<number> {
  return db.transaction(async (tx) => {
    const rows = (await lockTethers(tx, ids)).filter(
      ({ leftHash, pinnedTo }) => leftHash !== null || pinnedTo !== null,
    );
    const rules = await findRules(tx, ids);
    await updateTethers(
      tx,
      rows.map(({ id }) => ({ id, leftHash: null, leftBy: null, leftAt: null, pinnedTo: null })),
    );
    await insertLog(
      tx,
      rows.map((row) => ({
        kind: 'follows again' as const,
        personId,
        documentId: row.documentId,
        tetherId: row.id,
        tetherName: row.name,
        sourceId: row.sourceId,
        source: rules.get(row.id)!.shownPath,
        summary: row.pinnedTo
          ? 'It is not kept at an earlier state any more.'
          : 'What was left counts again.',
      })),
    );
    await takeWhatWaited(
      tx,
      rows.map(({ id }) => id),
    );
    await announceTethers(tx, rows);
    return rows.length;
  });
}

/** Holds documents, or releases them: automatic objects then take what waited. Gives how many that changed. */
export async function setHold(
  { db }: Pick<Means, 'db'>,
  personId: string,
  documentIds: readonly string[],
  isHeld: boolean,
  act: string | null = null,
): Promise<number> {
  return db.transaction(async (tx) => {
    let changed = 0;
    const ids = [...new Set(documentIds)].sort();
    const name = act ?? (ids.length > 1 ? randomUUID() : null);
    for (const id of ids) {
      const before = await lockDocumentRules(tx, id);
      if (!before || (before.heldSince !== null) === isHeld) continue;
      changed++;
      await setDocumentRules(
        tx,
        id,
        isHeld ? { heldSince: new Date(), heldBy: personId } : { heldSince: null, heldBy: null },
      );
      const entry = {
        kind: isHeld ? ('held' as const) : ('released' as const),
        personId,
        documentId: id,
        summary: isHeld ? 'Nothing in it is refreshed.' : 'Its objects refresh again.',
        undo: { kind: 'hold' as const, wasHeld: !isHeld },
      };
      await insertLog(tx, [entry], name);
      if (!isHeld) await takeWhatWaited(tx, await tethersUnder(tx, { documentId: id }));
      await announceTethers(tx, [{ documentId: id }]);
      await announce(tx, { kind: 'log' });
    }
    return changed;
  });
}

/**
 * Cuts objects from their sources and keeps what they show, or ties them again. Gives how many that changed, and those of
 * held documents, which are not tied: `document-held`.
 */
export async function setFrozen(
  { db, queue }: Pick<Means, 'db' | 'queue'>,
  personId: string,
  ids: readonly string[],
  isFrozen: boolean,
  act: string | null = null,
): Promise<{ changed: number; refused: RefreshResponse['refused'] }> {
  const { able: changed, refused } = await db.transaction(async (tx) => {
    const rows = (await lockTethers(tx, ids)).filter(
      ({ frozenAt }) => (frozenAt !== null) !== isFrozen,
    );
    const rules = await findRules(tx, ids);
    const holds = await findHolds(
      tx,
      rows.map(({ documentId }) => documentId),
    );
    // Tying again would refresh an automatic object: a held document is left as it is.
    const able = rows.filter(({ documentId }) => isFrozen || !holds.has(documentId));
    const refused = rows
      .filter((row) => !able.includes(row))
      .map(({ id, documentId }) => ({ id, fault: holds.get(documentId)! }));
    const now = new Date();
    await updateTethers(
      tx,
      able.map(({ id }) => ({
        id,
        ...(isFrozen
          ? { frozenAt: now, frozenBy: personId, standing: 'frozen' as const }
          : { frozenAt: null, frozenBy: null, standing: 'in step' as const }),
        pending: null,
        reason: null,
        summary: null,
        behindBy: 0,
        waits: null,
        standingSince: now,
      })),
    );
    await insertLog(
      tx,
      able.map((row) => ({
        kind: isFrozen ? ('frozen' as const) : ('tied' as const),
        personId,
        documentId: row.documentId,
        tetherId: row.id,
        tetherName: row.name,
        sourceId: row.sourceId,
        source: rules.get(row.id)!.shownPath,
        summary: isFrozen ? 'It keeps what it shows.' : 'It follows its source again.',
        undo: { kind: 'freeze', wasFrozen: !isFrozen } as const,
      })),
      act,
    );
    await announceTethers(tx, able);
    return { able, refused };
  });
  if (!isFrozen) {
    for (const id of new Set(changed.map(({ sourceId }) => sourceId))) {
      await queue.askLook(id, { isForced: true });
    }
  }
  return { changed: changed.length, refused };
}

import type { RefreshResponse } from '@tether/contract';
import { describeMode, fail, type Mode, nextTime, ok, type Result } from '@tether/core';
import type { Database } from '../db/database.ts';
import { findHolds, lockDocumentRules, setDocumentRules } from '../db/documents.ts';
import { insertLog } from '../db/log.ts';
import { findSource, setSourceMode } from '../db/sources.ts';
import {
  describeTethers,
  findRules,
  lockDueTethers,
  lockTethers,
  type TetherRow,
  tethersUnder,
  updateTethers,
} from '../db/tethers.ts';
import { announce } from '../events/announce.ts';
import type { Means } from '../means.ts';
import type { Services } from '../services.ts';
import { announceTethers, takeWhatWaited } from './follow.ts';
import { asRequest, refreshTethers } from './refresh.ts';

/** Gives objects a mode of their own, or (null) that of their source or document. */
export async function setTetherModes(
  { db }: Pick<Services, 'db'>,
  personId: string,
  ids: readonly string[],
  mode: Mode | null,
): Promise<void> {
  await db.transaction((tx) => setModes(tx, personId, ids, mode));
}

async function setModes(
  tx: Database,
  personId: string,
  ids: readonly string[],
  mode: Mode | null,
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
      undo: { kind: 'mode', of: 'object', id: row.id, before: row.mode } as const,
    })),
  );
  await applyModes(tx, ids);
}

/** Sets the default mode of a document, and how much may change unseen in it. Fault: `not-found`. */
export async function setDocumentModes(
  { db }: Pick<Services, 'db'>,
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
          undo: { kind: 'mode', of: 'document', id, before: before.mode },
        },
      ]);
      await applyModes(tx, await tethersUnder(tx, { documentId: id }));
    }
    await announceTethers(tx, [{ documentId: id }]);
    return ok(null);
  });
}

/** Sets the default mode of a source. Fault: `not-found`. */
export async function setSourceModes(
  { db }: Pick<Services, 'db'>,
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
        undo: { kind: 'mode', of: 'source', id, before: found.source.mode },
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
    const waits = mode.kind === 'automatic' ? row.waits : null;
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
 * Refreshes what is due by timetable, and sets the next moment of each. Several processes share the work: none does what
 * another is doing. Objects of held documents, pinned and frozen ones keep what they show.
 */
export async function refreshDue(means: Means): Promise<number> {
  let count = 0;
  for (;;) {
    const due = await means.db.transaction(async (tx) => {
      const rows = await lockDueTethers(tx, DUE_AT_ONCE);
      const rules = await findRules(
        tx,
        rows.map(({ id }) => id),
      );
      await updateTethers(
        tx,
        rows.map(({ id }) => {
          const { mode } = rules.get(id)!;
          const next = mode.kind === 'timetable' ? nextTime(mode.timetable, Date.now()) : null;
          return { id, nextDue: next === null ? null : new Date(next) };
        }),
      );
      return rows.filter(
        (row) => row.placed && !row.pinnedTo && !row.frozenAt && !rules.get(row.id)!.isHeld,
      );
    });
    const tethers = due.map(({ id }) => ({ id, seen: null }));
    if (tethers.length > 0) await refreshTethers(means, null, { tethers }, 'by timetable');
    count += due.length;
    if (due.length < DUE_AT_ONCE) return count;
  }
}

/** What opening a document refreshes by itself: objects whose mode says so. Held, left and pinned ones stay. */
export async function refreshOnOpening(means: Means, documentId: string): Promise<number> {
  const found = await describeTethers(means.db, { documentId });
  const wanted = found
    .filter(({ hold }) => hold === null)
    .map(({ tether }) => tether)
    .filter(
      ({ mode, standing, placed, left, pinnedTo }) =>
        mode.kind === 'on opening' &&
        mode.how === 'always' &&
        standing === 'behind' &&
        placed &&
        !left &&
        !pinnedTo,
    );
  if (wanted.length === 0) return 0;
  const { refreshed } = await refreshTethers(
    means,
    null,
    { tethers: asRequest(wanted) },
    'on opening',
  );
  return refreshed.length;
}

/** Holds documents, or releases them: automatic objects then take what waited. Gives how many that changed. */
export async function setHold(
  { db }: Pick<Services, 'db'>,
  personId: string,
  documentIds: readonly string[],
  isHeld: boolean,
): Promise<number> {
  return db.transaction(async (tx) => {
    let changed = 0;
    for (const id of [...new Set(documentIds)].sort()) {
      const before = await lockDocumentRules(tx, id);
      if (!before || (before.heldSince !== null) === isHeld) continue;
      changed++;
      await setDocumentRules(
        tx,
        id,
        isHeld ? { heldSince: new Date(), heldBy: personId } : { heldSince: null, heldBy: null },
      );
      await insertLog(tx, [
        {
          kind: isHeld ? 'held' : 'released',
          personId,
          documentId: id,
          summary: isHeld ? 'Nothing in it is refreshed.' : 'Its objects refresh again.',
          undo: { kind: 'hold', wasHeld: !isHeld },
        },
      ]);
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
  { db, queue }: Pick<Services, 'db' | 'queue'>,
  personId: string,
  ids: readonly string[],
  isFrozen: boolean,
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

import type { LedgerOutcome } from '@tether/contract';
import { fail, ok, type Result } from '@tether/core';
import type { Database } from '../db/database.ts';
import { findDocument } from '../db/documents.ts';
import { findEntry, markTakenBack } from '../db/log.ts';
import { findSource } from '../db/sources.ts';
import { findTethers, lockTethers } from '../db/tethers.ts';
import { nameDocument } from '../documents/name.ts';
import type { Means } from '../sources/means.ts';
import { showEarlier } from './history.ts';
import { setDocumentModes, setFrozen, setHold, setSourceModes, setTetherModes } from './modes.ts';
import { nameTether } from './name.ts';

/**
 * Takes a logged step back. A refresh can be taken back while its object still shows what it brought. Faults:
 * `not-found`, `not-taken-back` with the reason, and those of going back.
 */
export async function takeBack(
  services: Pick<Means, 'db' | 'queue'>,
  personId: string,
  entryId: number,
): Promise<Result<null>> {
  const { db, queue } = services;
  const entry = await findEntry(db, entryId);
  if (!entry) return fail('not-found', { what: 'log entry' });
  const { undo } = entry;
  if (!undo) return fail('not-taken-back', { why: 'nothing was changed by it' });
  if (entry.takenBackAt) return fail('not-taken-back', { why: 'it was taken back before' });
  const done = async (): Promise<Result<null>> => {
    await markTakenBack(db, entryId);
    return ok(null);
  };
  switch (undo.kind) {
    case 'state': {
      const { tetherId } = entry;
      if (!tetherId) return fail('not-taken-back', { why: 'the object is gone' });
      const shown = await db.transaction(async (tx) => {
        const [row] = await lockTethers(tx, [tetherId]);
        if (!row) return fail('not-taken-back', { why: 'the object is gone' });
        if (row.base !== undo.to) {
          return fail('not-taken-back', { why: 'the object shows something else since' });
        }
        const earlier = { snapshot: undo.from, reach: undo.reach, at: new Date(undo.at) };
        const back = await showEarlier(tx, personId, row, earlier, 'taken back');
        if (back.ok) await markTakenBack(tx, entryId);
        return back;
      });
      if (!shown.ok) return shown;
      await queue.askLook(shown.value.sourceId, { isForced: true });
      return ok(null);
    }
    case 'mode': {
      const { of, id, before, after } = undo;
      if (after !== undefined && (await modeNow(db, of, id)) !== JSON.stringify(after)) {
        return fail('not-taken-back', { why: 'somebody changed it since' });
      }
      if (of === 'object') await setTetherModes(services, personId, [id], before);
      else {
        const result =
          of === 'document'
            ? await setDocumentModes(services, personId, id, { mode: before })
            : await setSourceModes(services, personId, id, before);
        if (!result.ok) return result;
      }
      return done();
    }
    case 'share':
    case 'name': {
      const { documentId, tetherId } = entry;
      if (undo.kind === 'name' && tetherId) {
        const [row] = await findTethers(db, [tetherId]);
        if (row?.name !== undo.after) {
          return fail('not-taken-back', { why: 'somebody changed it since' });
        }
        const named = await nameTether(services, personId, tetherId, undo.before);
        return named.ok ? done() : named;
      }
      const found = documentId ? await findDocument(db, documentId) : null;
      if (!found) return fail('not-taken-back', { why: 'the document is gone' });
      const isAsLeft =
        undo.kind === 'share' ? found.share === undo.after : found.name === undo.after;
      if (!isAsLeft) return fail('not-taken-back', { why: 'somebody changed it since' });
      const result =
        undo.kind === 'share'
          ? await setDocumentModes(services, personId, found.id, { share: undo.before })
          : await nameDocument(services, personId, found.id, undo.before);
      return result.ok ? done() : result;
    }
    case 'hold': {
      if (!entry.documentId) return fail('not-taken-back', { why: 'the document is gone' });
      const changed = await setHold(services, personId, [entry.documentId], undo.wasHeld);
      if (changed === 0) return fail('not-taken-back', { why: 'somebody changed it since' });
      return done();
    }
    case 'freeze': {
      if (!entry.tetherId) return fail('not-taken-back', { why: 'the object is gone' });
      const { changed, refused } = await setFrozen(
        services,
        personId,
        [entry.tetherId],
        undo.wasFrozen,
      );
      if (refused[0]) return { ok: false, fault: refused[0].fault };
      if (changed === 0) return fail('not-taken-back', { why: 'somebody changed it since' });
      return done();
    }
  }
}

/** The mode that was set for an object, document or source, as JSON. */
async function modeNow(
  db: Database,
  of: 'object' | 'document' | 'source',
  id: string,
): Promise<string> {
  const mode =
    of === 'object'
      ? (await findTethers(db, [id]))[0]?.mode
      : of === 'document'
        ? (await findDocument(db, id))?.mode
        : (await findSource(db, id))?.source.mode;
  return JSON.stringify(mode ?? null);
}

/** Takes several steps back, each as far as it can be; the latest first, as they must be given. */
export async function takeBackMany(
  services: Pick<Means, 'db' | 'queue'>,
  personId: string,
  entries: readonly number[],
): Promise<LedgerOutcome> {
  const outcome: LedgerOutcome = { done: 0, refused: [] };
  for (const id of entries) {
    const result = await takeBack(services, personId, id);
    if (result.ok) outcome.done++;
    else {
      const entry = await findEntry(services.db, id);
      outcome.refused.push({ id: String(id), name: entry?.tetherName ?? '', fault: result.fault });
    }
  }
  return outcome;
}

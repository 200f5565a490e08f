import type { LedgerAct, LedgerOutcome, RefreshResponse } from '@tether/contract';
import type { Result } from '@tether/core';
import { ledgerIds } from '../db/ledger.ts';
import { findTethers } from '../db/tethers.ts';
import type { Means } from '../sources/means.ts';
import { refreshTethers } from './refresh.ts';
import { type Done, doStep } from './step.ts';
import { STEPS } from './steps/registry.ts';

/** Does one thing to many tethers: those that are named, or all that a question to the ledger finds. */
export async function actOnMany(
  services: Means,
  personId: string,
  { selection, act, ...rest }: LedgerAct,
): Promise<LedgerOutcome> {
  const { db } = services;
  const name = rest.name ?? null;
  const ids = 'ids' in selection ? selection.ids : await ledgerIds(db, selection.query);
  if (ids.length === 0) return { done: 0, refused: [] };
  const rows = await findTethers(db, ids);
  const names = new Map(rows.map(({ id, name }) => [id, name]));
  const named = (refused: RefreshResponse['refused']): LedgerOutcome['refused'] =>
    refused.map(({ id, fault }) => ({ id, name: names.get(id) ?? '', fault }));
  const by = { personId, act: name };
  const outcomeOf = (done: Result<Done>): LedgerOutcome =>
    done.ok
      ? { done: done.value.changed, refused: named(done.value.refused) }
      : {
          done: 0,
          refused: ids.map((id) => ({ id, name: names.get(id) ?? '', fault: done.fault })),
        };
  switch (act.kind) {
    case 'refresh': {
      // Those in step have nothing to take: that is no refusal when many are refreshed at once.
      const wanted = rows.filter(
        ({ standing, pending }) => pending !== null || standing === 'adrift',
      );
      if (wanted.length === 0) return { done: 0, refused: [] };
      const tethers = wanted.map(({ id, pending }) => ({ id, seen: pending }));
      const { refreshed, refused } = await refreshTethers(services, personId, { tethers }, name);
      return { done: refreshed.length, refused: named(refused) };
    }
    case 'mode':
      return outcomeOf(
        await doStep(services, STEPS.mode, { of: 'object', ids, mode: act.mode }, by),
      );
    case 'hold': {
      const documentIds = rows.map(({ documentId }) => documentId);
      return outcomeOf(await doStep(services, STEPS.hold, { documentIds, isHeld: act.isHeld }, by));
    }
    case 'freeze':
    case 'tie': {
      const isFrozen = act.kind === 'freeze';
      return outcomeOf(await doStep(services, STEPS.freeze, { ids, isFrozen }, by));
    }
  }
}

import type { LedgerAct, LedgerOutcome, RefreshResponse } from '@tether/contract';
import { ledgerIds } from '../db/ledger.ts';
import { findTethers } from '../db/tethers.ts';
import type { Means } from '../sources/means.ts';
import { setFrozen, setHold, setTetherModes } from './modes.ts';
import { refreshTethers } from './refresh.ts';

/** Does one thing to many tethers: those that are named, or all that a question to the ledger finds. */
export async function actOnMany(
  services: Pick<Means, 'db' | 'reader' | 'readings' | 'locks' | 'queue'>,
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
  switch (act.kind) {
    case 'refresh': {
      // Those in step have nothing to take: that is no refusal when many are refreshed at once.
      const wanted = rows.filter(({ standing }) => standing === 'behind' || standing === 'adrift');
      if (wanted.length === 0) return { done: 0, refused: [] };
      const tethers = wanted.map(({ id, pending }) => ({ id, seen: pending }));
      const { refreshed, refused } = await refreshTethers(services, personId, { tethers }, name);
      return { done: refreshed.length, refused: named(refused) };
    }
    case 'mode':
      await setTetherModes(services, personId, ids, act.mode, name);
      return { done: rows.length, refused: [] };
    case 'hold': {
      const documentIds = rows.map(({ documentId }) => documentId);
      const done = await setHold(services, personId, documentIds, act.isHeld, name);
      return { done, refused: [] };
    }
    case 'freeze':
    case 'tie': {
      const isFrozen = act.kind === 'freeze';
      const { changed, refused } = await setFrozen(services, personId, ids, isFrozen, name);
      return { done: changed, refused: named(refused) };
    }
  }
}

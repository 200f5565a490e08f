import type { Carried, Carry, CarrySeen } from '@tether/contract';
import { fail, nextPeriods, ok, type Result } from '@tether/core';
import { seeRelink } from '../changing/relink.ts';
import { doStep } from '../changing/step.ts';
import { STEPS } from '../changing/steps/registry.ts';
import { findDocument } from '../db/documents.ts';
import { describeFolders, findSource } from '../db/sources.ts';
import { describeTethers } from '../db/tethers.ts';
import type { Means } from '../sources/means.ts';
import { duplicateDocument } from './save.ts';

/** What a document would be called for the next period, and which files would take the place of its own. Fault: `not-found`. */
export async function seeCarry(
  { db }: Pick<Means, 'db'>,
  documentId: string,
): Promise<Result<CarrySeen>> {
  const document = await findDocument(db, documentId);
  if (!document) return fail('not-found', { what: 'document' });
  const tethers = (await describeTethers(db, { documentId }))
    .map(({ tether }) => tether)
    .filter(({ placed }) => placed);
  const known = (await describeFolders(db)).flatMap(({ sources }) => sources);
  const ids = [...new Set(tethers.map(({ source }) => source.id))];
  const sources = ids.flatMap((id) => {
    const own = known.find((each) => each.id === id);
    if (!own) return [];
    const named = nextPeriods(own.path).map((path) => path.toLowerCase());
    const others = known.filter(
      (each) => (each.state === 'present' || each.state === 'new') && each.id !== id,
    );
    const next = named
      .map((path) => others.find((each) => each.path.toLowerCase() === path))
      .find((each) => each !== undefined);
    return [
      {
        ...{ id, path: `${own.folder}/${own.path}` },
        objects: tethers.filter(({ source }) => source.id === id).length,
        next: next ? { id: next.id, path: `${next.folder}/${next.path}` } : null,
      },
    ];
  });
  return ok({ name: nextPeriods(document.name)[0] ?? `${document.name}, next`, sources });
}

/**
 * Makes a document for the next period: a copy whose objects are tied to other files. What nothing is found for there stays tied as
 * it was, and is told; the old document stays, frozen if that is wished. Faults: `not-found` and those of reading the files.
 */
export async function carryForward(
  means: Means,
  person: { id: string; name: string },
  documentId: string,
  { name, freezes, sources }: Carry,
): Promise<Result<Carried>> {
  const { db } = means;
  const made = await duplicateDocument(means, person, documentId);
  if (!made.ok) return made;
  const by = { personId: person.id };
  const copy = made.value;
  const named = await doStep(means, STEPS.name, { of: 'document', id: copy, name }, by);
  if (!named.ok) return named;
  const carried: Carried = { documentId: copy, tied: 0, left: [] };
  for (const { from, to } of sources) {
    const seen = await seeRelink(means, from, to, copy);
    // A file that cannot be read takes nothing away: its objects stay as they are.
    if (!seen.ok) {
      const file = await findSource(db, to);
      carried.left.push({ name: file?.source.path ?? to, fault: seen.fault });
      continue;
    }
    const objects = seen.value.flatMap(({ id, reach }) => (reach ? [{ id, to, reach }] : []));
    for (const { name: object, fault } of seen.value) {
      if (fault) carried.left.push({ name: object, fault });
    }
    if (objects.length === 0) continue;
    const done = await doStep(means, STEPS.relink, { from, objects }, by);
    if (!done.ok) {
      carried.left.push(...seen.value.map((each) => ({ name: each.name, fault: done.fault })));
      continue;
    }
    carried.tied += done.value.changed;
    for (const { id, fault } of done.value.refused) {
      carried.left.push({ name: seen.value.find((each) => each.id === id)?.name ?? id, fault });
    }
  }
  if (freezes) {
    const ids = (await describeTethers(db, { documentId })).map(({ tether }) => tether.id);
    const frozen = await doStep(means, STEPS.freeze, { ids, isFrozen: true }, by);
    if (!frozen.ok) return frozen;
  }
  return ok(carried);
}

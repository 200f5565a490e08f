import type * as Y from 'yjs';
import type { Dressing } from '../object/dressing.ts';
import { type DressingEntries, dressingFrom, entriesOf } from '../object/dressing-entries.ts';

/**
 * The dressings of all objects of a shared document: a map of single entries, by the tether and the path of what is set.
 * They do not stand where the object stands, so that dressing it and moving it at the same time are both kept.
 */
export type SharedDressings = Y.Map<unknown>;

export function sharedDressings(doc: Y.Doc): SharedDressings {
  return doc.getMap('dressings');
}

const nameOf = (tetherId: string, path: string) => `${tetherId}:${path}`;

/** What is set for each object, by its tether; checked by whoever takes it. */
export function readDressings(dressings: SharedDressings): Map<string, Record<string, unknown>> {
  const entries = new Map<string, [string, unknown][]>();
  for (const [name, value] of dressings.entries()) {
    const at = name.indexOf(':');
    const tetherId = name.slice(0, at);
    const own = entries.get(tetherId) ?? [];
    own.push([name.slice(at + 1), value]);
    entries.set(tetherId, own);
  }
  return new Map([...entries].map(([tetherId, own]) => [tetherId, dressingFrom(own)]));
}

/** What is set for one object. */
export function readDressing(
  dressings: SharedDressings,
  tetherId: string,
): Record<string, unknown> {
  return dressingFrom(entriesAt(dressings, tetherId));
}

/** Sets what an object is dressed in, by changing only what differs. */
export function writeDressing(
  dressings: SharedDressings,
  tetherId: string,
  dressing: Dressing,
): void {
  const before = entriesAt(dressings, tetherId);
  const after = entriesOf(dressing);
  for (const path of before.keys()) {
    if (!after.has(path)) dressings.delete(nameOf(tetherId, path));
  }
  for (const [path, value] of after) {
    if (JSON.stringify(before.get(path)) !== JSON.stringify(value)) {
      dressings.set(nameOf(tetherId, path), value);
    }
  }
}

function entriesAt(dressings: SharedDressings, tetherId: string): DressingEntries {
  const entries: DressingEntries = new Map();
  const prefix = nameOf(tetherId, '');
  for (const [name, value] of dressings.entries()) {
    if (name.startsWith(prefix)) entries.set(name.slice(prefix.length), value);
  }
  return entries;
}

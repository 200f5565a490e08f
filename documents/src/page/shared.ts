import * as Y from 'yjs';
import type { SharedForm } from '../kind.ts';
import type { Dressing } from '../object/dressing.ts';
import { readDressings, sharedDressings, writeDressing } from '../shared/dressings.ts';
import type { PageContent } from './content.ts';

/** A part of a document by its properties; each changes for itself. */
export type SharedPart = Y.Map<unknown>;
/** Parts of a document by their names. */
export type SharedParts = Y.Map<SharedPart>;

/** The lists of parts that a document on pages has. */
export const PART_LISTS = ['pages', 'layers', 'things'] as const;
export type PartList = (typeof PART_LISTS)[number];

export function sharedParts(doc: Y.Doc, list: PartList): SharedParts {
  return doc.getMap(list);
}

/** What is settled once for a document on pages, by its name; a group of settings lies in single ones, `group.name`. */
export function pageSettings(doc: Y.Doc): Y.Map<unknown> {
  return doc.getMap('settings');
}

/** Settings that are many of one sort, each of which changes for itself. */
const GROUPS = ['fields'] as const;

/** Settings as they lie in a shared document. */
function settingEntries(settings: Record<string, unknown>): Map<string, unknown> {
  return grouped(settings, GROUPS);
}

/** Properties with those of groups each for itself, as `group.name`. */
function grouped(
  properties: Record<string, unknown>,
  groups: readonly string[],
): Map<string, unknown> {
  return new Map(
    Object.entries(properties).flatMap(([name, value]) =>
      groups.includes(name) && typeof value === 'object' && value !== null
        ? Object.entries(value).map(([each, said]): [string, unknown] => [`${name}.${each}`, said])
        : [[name, value] satisfies [string, unknown]],
    ),
  );
}

/** Properties as they were before `grouped`, in the order of their names, so that equal ones read equal. */
function ungrouped(
  entries: Iterable<[string, unknown]>,
  groups: readonly string[],
): Record<string, unknown> {
  const properties: Record<string, unknown> = {};
  for (const [name, value] of [...entries].sort(([a], [b]) => (a < b ? -1 : 1))) {
    const at = name.indexOf('.');
    const group = name.slice(0, Math.max(0, at));
    if (groups.includes(group)) {
      properties[group] = {
        ...(properties[group] as object | undefined),
        [name.slice(at + 1)]: value,
      };
    } else properties[name] = value;
  }
  return properties;
}

/**
 * A document on pages as a shared type: what people change of different things, or of different properties of one thing, is
 * kept from all of them. Dressings lie for themselves, as in every kind of document.
 */
export function sharedPages<Content extends PageContent>(
  /** Told with what is read: which kind of document it is. */
  head: Omit<Content, keyof PageContent>,
): SharedForm<Content> {
  return {
    read(doc) {
      const dressings = readDressings(sharedDressings(doc));
      return {
        ...head,
        settings: ungrouped(pageSettings(doc).entries(), GROUPS),
        pages: readParts(doc, 'pages'),
        layers: readParts(doc, 'layers'),
        things: readParts(doc, 'things').map((thing) =>
          thing.kind === 'object'
            ? { ...thing, dressing: dressings.get(String(thing.tetherId)) ?? {} }
            : thing,
        ),
      };
    },

    write(doc, content) {
      const settings = pageSettings(doc);
      const wanted = settingEntries(content.settings);
      for (const name of settings.keys()) if (!wanted.has(name)) settings.delete(name);
      for (const [name, value] of wanted) {
        if (!isSame(settings.get(name), value)) settings.set(name, value);
      }
      writeParts(doc, 'pages', content.pages);
      writeParts(doc, 'layers', content.layers);
      const bare = content.things.map((thing) => {
        if (thing.kind !== 'object') return thing;
        const { dressing, ...rest } = thing;
        writeDressing(sharedDressings(doc), thing.tetherId, dressing as Dressing);
        return rest;
      });
      writeParts(doc, 'things', bare);
    },

    mend,
  };
}

/** Parts by name, so that equal documents read equal. */
function readParts(doc: Y.Doc, list: PartList): Record<string, unknown>[] {
  return [...sharedParts(doc, list).entries()]
    .filter((entry): entry is [string, SharedPart] => entry[1] instanceof Y.Map)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([id, part]) => partFrom(id, part));
}

/** A part as plain values. */
export function partFrom(id: string, part: SharedPart): Record<string, unknown> {
  return { id, ...ungrouped(part.entries(), PART_GROUPS) };
}

/** Properties of parts that are many of one sort, each of which changes for itself: `places.P-01`. */
const PART_GROUPS = ['places', 'pulled'] as const;

function writeParts(doc: Y.Doc, list: PartList, wanted: readonly { id: string }[]): void {
  const parts = sharedParts(doc, list);
  const kept = new Set(wanted.map(({ id }) => id));
  for (const id of parts.keys()) if (!kept.has(id)) parts.delete(id);
  for (const part of wanted) writePart(parts, part);
}

/** Writes a part, by changing only those of its properties that differ. */
export function writePart(parts: SharedParts, { id, ...wanted }: { id: string }): void {
  const properties = [...grouped(wanted, PART_GROUPS)].filter(([, value]) => value !== undefined);
  const part = parts.get(id);
  if (!(part instanceof Y.Map)) {
    parts.set(id, new Y.Map(properties));
    return;
  }
  const names = new Set(properties.map(([name]) => name));
  for (const name of part.keys()) if (!names.has(name)) part.delete(name);
  for (const [name, value] of properties) {
    if (!isSame(part.get(name), value)) part.set(name, value);
  }
}

export const isSame = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/**
 * What two people did at the same time: an object that both put in stands once; things on a page that somebody took out
 * meanwhile come onto the first one, since nobody's work goes without a word; a layer that is gone is named by none. What
 * stands below or within a thing that is gone keeps saying so: it stands for itself until that comes back by undo.
 */
function mend(doc: Y.Doc): void {
  const things = sharedParts(doc, 'things');
  const pages = sharedParts(doc, 'pages');
  const layers = sharedParts(doc, 'layers');
  const first = readParts(doc, 'pages')
    .map(({ id, order }) => ({ id: String(id), order: Number(order) }))
    .sort((a, b) => a.order - b.order || (a.id < b.id ? -1 : 1))[0];
  const seen = new Set<string>();
  for (const [id, thing] of [...things.entries()].sort(([a], [b]) => (a < b ? -1 : 1))) {
    if (!(thing instanceof Y.Map)) continue;
    const tetherId = thing.get('kind') === 'object' ? String(thing.get('tetherId')) : null;
    if (tetherId !== null && seen.has(tetherId)) {
      things.delete(id);
      continue;
    }
    if (tetherId !== null) seen.add(tetherId);
    if (first && !pages.has(String(thing.get('page')))) thing.set('page', first.id);
    const layer = thing.get('layer');
    if (typeof layer === 'string' && !layers.has(layer)) thing.set('layer', null);
  }
}

import * as Y from 'yjs';
import type { z } from 'zod';
import type { SharedForm } from '../kind.ts';
import type { Dressing } from '../object/dressing.ts';
import { readDressings, sharedDressings, writeDressing } from '../shared/dressings.ts';
import { entriesFor, type Parts, partsOf, saidBy, setSaid, writeSaid } from '../shared/entries.ts';
import type { PageContent } from './content.ts';
import { thingSchema } from './things/table.ts';

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

/** What is settled once for a document on pages. */
export function pageSettings(doc: Y.Doc): Y.Map<unknown> {
  return doc.getMap('settings');
}

const THING_PARTS: ReadonlyMap<unknown, Parts> = new Map(
  thingSchema.options.map((schema) => [schema.shape.kind.value, partsOf(schema)]),
);
const NO_PARTS: Parts = new Map();

/** How the properties of a part of a document lie: those of a thing as its kind has them. */
function partsIn(kind: unknown): Parts {
  return THING_PARTS.get(kind) ?? NO_PARTS;
}

/**
 * A document on pages as a shared type: what people change of different things, or of different properties of one thing, is
 * kept from all of them. Dressings lie for themselves, as in every kind of document.
 */
export function sharedPages<Content extends PageContent>(
  /** Told with what is read: which kind of document it is. */
  head: Omit<Content, keyof PageContent>,
  /** What can be settled for it. */
  settingsSchema: z.ZodObject,
): SharedForm<Content> {
  const settingParts = partsOf(settingsSchema);
  const settingsOf = (doc: Y.Doc) => saidBy(pageSettings(doc).entries(), settingParts);
  return {
    settings: settingsOf,
    setSetting: (doc, name, value) => setSaid(pageSettings(doc), settingParts, name, value),

    read(doc) {
      const dressings = readDressings(sharedDressings(doc));
      return {
        ...head,
        settings: settingsOf(doc),
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
      writeSaid(pageSettings(doc), settingParts, content.settings);
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
  return { id, ...saidBy(part.entries(), partsIn(part.get('kind'))) };
}

function writeParts(doc: Y.Doc, list: PartList, wanted: readonly { id: string }[]): void {
  const parts = sharedParts(doc, list);
  const kept = new Set(wanted.map(({ id }) => id));
  for (const id of parts.keys()) if (!kept.has(id)) parts.delete(id);
  for (const part of wanted) writePart(parts, part);
}

/** Writes a part, by changing only those of its properties that differ. */
export function writePart(parts: SharedParts, part: { id: string; kind?: string }): void {
  const { id, ...wanted } = part;
  const split = partsIn(wanted.kind);
  const there = parts.get(id);
  if (there instanceof Y.Map) writeSaid(there, split, wanted);
  else parts.set(id, new Y.Map(entriesFor(split, wanted)));
}

/** Sets one property of a part, or one entry of it by its path; undefined takes it out. */
export function setOfPart(part: SharedPart, name: string, value: unknown): void {
  setSaid(part, partsIn(part.get('kind')), name, value);
}

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

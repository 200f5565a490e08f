import type { Placement } from '../object/placement.ts';
import type { Layer } from './layer.ts';
import { tethersIn } from './rich.ts';
import { renamed } from './things/copies.ts';
import type { ObjectThing } from './things/object.ts';
import type { Thing } from './things/table.ts';
import { richOf } from './things/text.ts';

/** A page, whatever else its kind says of it. */
export interface AnyPage {
  id: string;
  /** Its place among the pages. */
  order: number;
}

/** The content of a document whose things stand on pages in millimetres. */
export interface PageContent<Page extends AnyPage = AnyPage> {
  settings: Record<string, unknown>;
  pages: Page[];
  layers: Layer[];
  things: Thing[];
}

/** In the order of their numbers; equal ones by their names, so that everybody sees the same. */
export function inOrder<T extends { id: string; order: number }>(all: readonly T[]): T[] {
  return [...all].sort((a, b) => a.order - b.order || (a.id < b.id ? -1 : 1));
}

export const isObject = (thing: Thing): thing is ObjectThing => thing.kind === 'object';

/** Things that stand so nearly on one line are read from left to right; millimetres. */
const ONE_LINE = 5;

/** The objects on pages in reading order: page by page, from top to bottom, on one line from left to right. */
export function objectsOnPages({ pages, things }: PageContent): ObjectThing[] {
  const places = new Map(inOrder(pages).map(({ id }, at) => [id, at]));
  const texts = new Map(
    things.flatMap((thing) => (thing.kind === 'text' ? [[thing.id, thing]] : [])),
  );
  /** What stands in a line stands where its text stands. */
  const whole = (thing: ObjectThing): Thing =>
    (thing.within === null ? undefined : texts.get(thing.within)) ?? thing;
  const inText = (thing: ObjectThing): number => {
    const text = whole(thing);
    return text.kind === 'text' ? tethersIn(richOf(text)).indexOf(thing.tetherId) : -1;
  };
  const page = (thing: Thing) => places.get(thing.page) ?? places.size;
  const line = ({ y }: Thing) => Math.round(y / ONE_LINE);
  return things
    .filter(isObject)
    .map((thing) => ({ thing, at: whole(thing), nth: inText(thing) }))
    .sort(
      (a, b) =>
        page(a.at) - page(b.at) ||
        line(a.at) - line(b.at) ||
        a.at.x - b.at.x ||
        a.nth - b.nth ||
        (a.thing.id < b.thing.id ? -1 : 1),
    )
    .map(({ thing }) => thing);
}

/** The same as they are placed. */
export function placementsOnPages(content: PageContent): Placement[] {
  return objectsOnPages(content).map(({ tetherId, copyOf, form, dressing }) => ({
    tetherId,
    ...(copyOf ? { copyOf } : {}),
    form,
    dressing,
  }));
}

/** Hashes of the pictures on pages, each once. */
export function picturesOnPages({ things }: PageContent): string[] {
  return [...new Set(things.flatMap((thing) => ('hash' in thing ? [thing.hash] : [])))];
}

/** The content with every object marked as a copy, for a document of its own. */
export function pagesAsCopies<Content extends PageContent>(
  content: Content,
  newId: () => string,
): Content {
  const tethers = new Map(
    content.things.filter(isObject).map(({ tetherId }) => [tetherId, newId()]),
  );
  const names = { tether: (id: string) => tethers.get(id) ?? null, thing: (id: string) => id };
  const copied = (thing: Thing) => renamed(thing, { ...names, isWhole: true });
  return { ...content, things: content.things.map(copied) };
}

/** The content without things of kinds that are not known here, and these kinds. */
export function knownThings<Content extends PageContent>(
  content: Content,
  kinds: readonly string[],
): { content: Content; unknown: string[] } {
  const known = content.things.filter(({ kind }) => kinds.includes(kind));
  const unknown = content.things.map(({ kind }) => kind).filter((kind) => !kinds.includes(kind));
  return { content: { ...content, things: known }, unknown: [...new Set<string>(unknown)] };
}

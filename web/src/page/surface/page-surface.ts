import type { KeptPicture } from '@tether/contract';
import { type DocumentLook, PIXELS_PER_MM, type Point, restack, type Size } from '@tether/core';
import {
  type CaptionKind,
  type CommentAbout,
  type DocumentContent,
  type Form,
  isInline,
  kindOf,
  type ObjectThing,
  objectsOnPages,
  type PageContent,
  type Thing,
  thingSchema,
} from '@tether/documents';
import type {
  Anchor,
  FixedCell,
  LayerOffer,
  ObjectThere,
  StandOffer,
  Surface,
} from '../../documents/surface.ts';
import { USUAL_LAYER } from './layers.ts';
import { PageSteps } from './page-steps.ts';
import { round } from './round.ts';
import { CORNERS, STEP_ASIDE, type Stand } from './stands.ts';

/** Millimetres between an object and one that was placed below it. */
const GAP_BELOW = 5;
const TEXT_SIZE: Size = { width: 70, height: 12 };

/** The open pages of a drawing or deck as a surface. A place on them is a point of the page that is shown. */
export class PageSurface extends PageSteps implements Surface {
  readonly foldsTables = true;
  readonly hasCaptions = false;
  readonly moveWords = ['One backward', 'One forward'] as const;
  private toPut: string | null = null;
  private known: ReadonlySet<string> = new Set();

  objects(): string[] {
    const pages = [...this.pages.pages()];
    const things = [...this.pages.things()];
    return objectsOnPages({ settings: {}, pages, layers: [], things }).map(
      ({ tetherId }) => tetherId,
    );
  }

  object(tetherId: string): ObjectThere | null {
    const thing = this.find(tetherId);
    return thing && { form: thing.form, dressing: this.dressings.of(tetherId), caption: null };
  }

  look(): DocumentLook {
    return this.kind.look(this.pages.settings());
  }

  select(tetherId: string): boolean {
    const thing = this.find(tetherId);
    if (!thing) return false;
    this.shownPage = thing.page;
    this.chosen = new Set([thing.id]);
    this.tell();
    this.showThing(thing.id);
    return true;
  }

  stands(): readonly StandOffer[] {
    const chosen = this.chosenThings().find(({ kind }) => kind === 'object')?.id;
    const below = this.thingsHere()
      .filter((thing) => thing.kind === 'object' && thing.field === null && !this.textOf(thing))
      .map(({ id }): StandOffer => {
        const { tetherId } = this.pages.thing(id) as ObjectThing;
        return { words: 'below', beside: tetherId, at: { kind: 'below', of: id } satisfies Stand };
      })
      // Where an object is chosen the new one usually stands below it.
      .sort(
        (a, b) =>
          Number((b.at as { of: string }).of === chosen) -
          Number((a.at as { of: string }).of === chosen),
      );
    const corners = CORNERS.map((corner) => ({
      words: `${corner} of the ${this.kind.spaceName}`,
      at: { kind: 'corner', corner } satisfies Stand,
    }));
    const pointer = { words: 'where I click', at: { kind: 'pointer' } satisfies Stand };
    const inText: StandOffer[] = this.caret
      ? [{ words: 'in the line where I wrote', at: { kind: 'in text' } satisfies Stand }]
      : [];
    if (chosen) return [...inText, ...below, ...corners, pointer];
    const empty = this.unwritten() ? [{ words: 'where no words are written', at: undefined }] : [];
    return [...inText, ...empty, ...corners, ...below, pointer];
  }

  /** The first text of the page that is shown that nobody has written yet: it gives its place to what is placed. */
  private unwritten(): Extract<Thing, { kind: 'text' }> | undefined {
    return this.thingsHere().find(
      (each): each is Extract<Thing, { kind: 'text' }> =>
        each.kind === 'text' && each.role === 'words' && each.text === '',
    );
  }

  layersForNew(): readonly LayerOffer[] {
    const layers = this.pages.layers();
    if (layers.length === 0) return [];
    const all = [
      { id: null, words: USUAL_LAYER },
      ...layers.map(({ id, name, isVisible, isLocked }) => ({
        id,
        words: `${name}${isVisible ? '' : ', hidden'}${isLocked ? ', locked' : ''}`,
      })),
    ];
    const first = this.layerForNew();
    return [...all.filter(({ id }) => id === first), ...all.filter(({ id }) => id !== first)];
  }

  insert(
    object: { id: string; form: Form },
    at?: Anchor,
    layer: string | null = this.layerForNew(),
  ): void {
    // What is no value and no tag cannot stand in a line: it goes where it usually goes.
    const asked = standIn(at);
    const isLine = asked?.kind === 'in text' || (asked === null && this.caret !== null);
    if (isLine && isInline(object.form) && this.insertInText(object)) return;
    const stand = asked?.kind === 'in text' ? null : asked;
    const point = stand?.kind === 'point' ? stand.point : null;
    const below =
      stand?.kind === 'below'
        ? (this.pages.thing(stand.of) ?? undefined)
        : stand
          ? undefined
          : this.chosenThings().find(({ kind }) => kind === 'object');
    const empty = stand || below ? undefined : this.unwritten();
    const space = this.space();
    const place = point ?? empty ?? { x: space.x, y: space.y };
    const room = empty ? { width: empty.width, height: empty.height } : {};
    const thing = thingSchema.parse({
      ...{ ...this.fresh(), kind: 'object', x: round(place.x), y: round(place.y), ...room },
      ...{ tetherId: object.id, form: object.form },
      // A layer that somebody deleted meanwhile is the usual one.
      layer: this.layers.layer(layer) ? layer : null,
      // Where an object is chosen the new one stands below it; else it goes into the corner of the frame.
      below: below ? { of: below.id, gap: GAP_BELOW } : null,
    });
    if (stand?.kind === 'corner') this.cornering.set(thing.id, stand.corner);
    if (stand?.kind === 'pointer') this.toPut = thing.id;
    this.pages.step(() => {
      if (empty) this.pages.remove(empty.id);
      this.pages.add(thing);
    });
    this.choose([thing.id]);
  }

  /** The new object that stands where the page is clicked next; null while there is none. */
  waiting(): string | null {
    return this.toPut !== null && this.pages.thing(this.toPut) ? this.toPut : null;
  }

  /** Puts the object that waits for it at a place; null leaves it where it is. */
  putWaiting(at: Point | null): void {
    const id = this.waiting();
    this.toPut = null;
    if (id && at) {
      this.pages.step(() => this.pages.change(id, { x: round(at.x), y: round(at.y), below: null }));
    }
    this.tell();
  }

  turn(tetherId: string, form: Form): void {
    const thing = this.find(tetherId);
    if (!thing) return;
    this.pages.step(() => {
      if (this.textOf(thing) && !isInline(form)) this.putInText(tetherId, null);
      this.pages.change(thing.id, { form });
    });
  }

  caption(_tetherId: string, _kind: CaptionKind | null): void {
    // On pages objects are named by texts beside them: see `hasCaptions`.
  }

  mayMove(): boolean {
    return true;
  }

  move(tetherId: string, by: -1 | 1): boolean {
    const thing = this.find(tetherId);
    if (!thing) return false;
    const here = this.pages.things().filter(({ page }) => page === thing.page);
    const orders = restack(here, new Set([thing.id]), by < 0 ? 'backward' : 'forward');
    if (orders.size === 0) return false;
    this.pages.step(() => {
      for (const [id, order] of orders) this.pages.change(id, { order });
    });
    return true;
  }

  copy(tetherId: string): void {
    const thing = this.find(tetherId);
    if (!thing) return;
    const [copy] = this.copiesOf([thing], { x: STEP_ASIDE, y: STEP_ASIDE });
    if (copy) this.add([copy]);
  }

  remove(tetherId: string): void {
    const thing = this.find(tetherId);
    if (thing) this.pages.step(() => this.takeOut(thing));
  }

  undo(): void {
    this.pages.undo();
  }

  redo(): void {
    this.pages.redo();
  }

  focus(): void {
    this.canvas?.focus();
  }

  insertFixed(rows: readonly (readonly string[])[]): Anchor | null {
    const space = this.space();
    return this.addText(rows.map((row) => row.join('\t')).join('\n'), space);
  }

  /** Puts a text on the page and chooses it; gives its name. */
  addText(text: string, at: Point, size: Size = TEXT_SIZE): string {
    const fresh = this.fresh();
    const thing = thingSchema.parse({
      ...{ ...fresh, kind: 'text', x: round(at.x), y: round(at.y), ...size, text },
    });
    this.add([thing]);
    return fresh.id;
  }

  /** Puts a picture on the page, as large as its pixels are or as there is room. */
  addPicture(picture: { hash: string; width: number; height: number }, at: Point): void {
    const space = this.space();
    const natural = {
      width: picture.width / PIXELS_PER_MM,
      height: picture.height / PIXELS_PER_MM,
    };
    const share = Math.min(1, space.width / 2 / natural.width, space.height / 2 / natural.height);
    this.add([
      thingSchema.parse({
        ...{ ...this.fresh(), kind: 'picture', hash: picture.hash },
        ...{ pixelWidth: picture.width, pixelHeight: picture.height },
        ...{ x: round(at.x), y: round(at.y) },
        ...{ width: round(natural.width * share), height: round(natural.height * share) },
      }),
    ]);
  }

  /** The scale of the plan that a dimension measures in; 1 for the page. */
  scaleOf(thing: Thing): number {
    if (thing.kind !== 'dimension' || thing.view === null) return 1;
    const view = this.pages.thing(thing.view);
    return view?.kind === 'view' ? view.scale : 1;
  }

  /** The tethers that the document has, also of objects that stand nowhere at the moment. */
  setKnown(tetherIds: readonly string[]): void {
    this.known = new Set(tetherIds);
  }

  isKnown(tetherId: string): boolean {
    return this.known.has(tetherId);
  }

  tie(fixed: Anchor, object: { id: string; form: Form }): void {
    const text = this.pages.thing(String(fixed));
    if (!text) {
      this.insert(object);
      return;
    }
    this.pages.step(() => {
      this.pages.remove(text.id);
      this.pages.add(objectIn(text, object));
    });
  }

  fix(
    tetherId: string,
    rows: readonly (readonly string[])[] | readonly (readonly FixedCell[])[],
  ): void {
    const thing = this.find(tetherId);
    if (!thing) return;
    const words = (cell: string | FixedCell) => (typeof cell === 'string' ? cell : cell.text);
    const text = rows.map((row) => row.map(words).join('\t')).join('\n');
    if (this.textOf(thing)) {
      this.pages.step(() => this.takeOut(thing, text === '' ? null : { type: 'text', text }));
      return;
    }
    const box = this.places().get(thing.id)!;
    const { width, height } = box;
    this.replace(thing, { kind: 'text', x: box.x, y: box.y, width, height, text, letters: 2.5 });
  }

  picture(tetherId: string, { hash, width, height, alt }: KeptPicture & { alt: string }): void {
    const thing = this.find(tetherId);
    if (!thing) return;
    const box = this.places().get(thing.id)!;
    const size = { pixelWidth: width, pixelHeight: height, width: box.width, height: box.height };
    this.replace(thing, { kind: 'picture', x: box.x, y: box.y, ...size, hash, alt });
  }

  /** Puts something else in the place of an object; it keeps the object's name on the page, so that it can come back. */
  private replace(thing: ObjectThing, other: Record<string, unknown>): void {
    const { page, order, layer, turn, group } = thing;
    this.pages.step(() => {
      this.pages.remove(thing.id);
      const kept = { id: thing.id, page, order, layer, turn, group, was: thing.tetherId };
      this.pages.add(thingSchema.parse({ ...kept, ...other }));
    });
  }

  remains(): string[] {
    return this.pages.things().flatMap(({ was }) => was ?? []);
  }

  bringIn(object: { id: string; form: Form }): void {
    const remain = this.pages.things().find(({ was }) => was === object.id);
    if (!remain) {
      this.insert(object);
      return;
    }
    this.pages.step(() => {
      this.pages.remove(remain.id);
      this.pages.add(objectIn(remain, object));
    });
  }

  about(): CommentAbout | null {
    const tetherId = this.chosenObject();
    return tetherId === null ? null : { kind: 'object', tetherId };
  }

  showAbout(about: CommentAbout): boolean {
    return about.kind === 'object' && this.select(about.tetherId);
  }

  content(): DocumentContent {
    return kindOf(this.kind.name).shared.read(this.pages.doc) as DocumentContent;
  }

  bringBack(content: DocumentContent): void {
    this.pages.step(() => kindOf(this.kind.name).shared.write(this.pages.doc, content));
  }

  /** Content as pages have it. */
  pageContent(): PageContent {
    return this.content() as unknown as PageContent;
  }
}

/** A place that was given to a surface, as pages have them. */
function standIn(at: Anchor | undefined): Stand | null {
  if (at === undefined) return null;
  return 'kind' in (at as object) ? (at as Stand) : { kind: 'point', point: at as Point };
}

/** An object in the place of another thing. */
function objectIn(
  { id, page, order, layer, group, x, y }: Thing,
  object: { id: string; form: Form },
): Thing {
  const place = { id, page, order, layer, group, x, y };
  return thingSchema.parse({ ...place, kind: 'object', tetherId: object.id, form: object.form });
}

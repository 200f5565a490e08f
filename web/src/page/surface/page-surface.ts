import type { KeptPicture } from '@tether/contract';
import {
  type DocumentLook,
  PIXELS_PER_MM,
  type Point,
  restack,
  roundMm,
  type Size,
} from '@tether/core';
import {
  type CaptionKind,
  type CommentAbout,
  type DocumentContent,
  type Dressing,
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
import { NewObjects } from './new-objects.ts';
import type { PageDocument } from './page-document.ts';
import type { PageKind } from './page-kind.ts';
import { PageSteps } from './page-steps.ts';
import { PageTexts } from './page-texts.ts';
import { ShownPages } from './shown-pages.ts';
import { STEP_ASIDE } from './stands.ts';
import type { ThingPlaces } from './thing-places.ts';

const TEXT_SIZE: Size = { width: 70, height: 12 };

/** The open pages of a drawing or deck as a surface. A place on them is a point of the page that is shown. */
export class PageSurface implements Surface {
  readonly foldsTables = true;
  readonly hasCaptions = false;
  readonly moveWords = ['One backward', 'One forward'] as const;
  /** What is shown of the pages: which one, where its things stand, and what of them is chosen. */
  readonly shown: ShownPages;
  /** Where everything stands. */
  readonly boxes: ThingPlaces;
  /** Texts, and the values in their lines. */
  readonly texts: PageTexts;
  /** What is done by hand to what is chosen. */
  readonly steps: PageSteps;
  /** Objects that are being placed. */
  readonly newObjects: NewObjects;
  private known: ReadonlySet<string> = new Set();

  constructor(
    readonly pages: PageDocument,
    readonly kind: PageKind,
  ) {
    this.shown = new ShownPages(pages, kind);
    this.boxes = this.shown.boxes;
    this.texts = new PageTexts(this.shown);
    this.steps = new PageSteps(this.shown, this.texts);
    this.newObjects = new NewObjects(this.shown, this.texts);
  }

  close(): void {
    this.shown.close();
  }

  subscribe(listener: () => void): () => void {
    return this.shown.subscribe(listener);
  }

  get revision(): number {
    return this.shown.revision;
  }

  get isEditable(): boolean {
    return this.shown.isEditable;
  }

  get element(): HTMLElement {
    return this.shown.element;
  }

  dress(tetherId: string, change: Dressing): void {
    this.shown.dress(tetherId, change);
  }

  stands(): readonly StandOffer[] {
    return this.newObjects.stands();
  }

  layersForNew(): readonly LayerOffer[] {
    return this.newObjects.layersForNew();
  }

  insert(object: { id: string; form: Form }, at?: Anchor, layer?: string | null): void {
    this.newObjects.insert(object, at, layer);
  }

  objects(): string[] {
    const pages = [...this.pages.pages()];
    const things = [...this.pages.things()];
    return objectsOnPages({ settings: {}, pages, layers: [], things }).map(
      ({ tetherId }) => tetherId,
    );
  }

  object(tetherId: string): ObjectThere | null {
    const thing = this.pages.objectThing(tetherId);
    return (
      thing && { form: thing.form, dressing: this.shown.dressings.of(tetherId), caption: null }
    );
  }

  look(): DocumentLook {
    return this.kind.look(this.pages.settings());
  }

  select(tetherId: string): boolean {
    const thing = this.pages.objectThing(tetherId);
    if (!thing) return false;
    this.shown.chooseThere(thing);
    return true;
  }

  turn(tetherId: string, form: Form): void {
    const thing = this.pages.objectThing(tetherId);
    if (!thing) return;
    this.pages.step(() => {
      if (this.texts.textOf(thing) && !isInline(form)) this.texts.putInText(tetherId, null);
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
    const thing = this.pages.objectThing(tetherId);
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
    const thing = this.pages.objectThing(tetherId);
    if (!thing) return;
    const [copy] = this.steps.copiesOf([thing], { x: STEP_ASIDE, y: STEP_ASIDE });
    if (copy) this.steps.add([copy]);
  }

  remove(tetherId: string): void {
    const thing = this.pages.objectThing(tetherId);
    if (thing) this.pages.step(() => this.texts.takeOut(thing));
  }

  undo(): void {
    this.pages.undo();
  }

  redo(): void {
    this.pages.redo();
  }

  focus(): void {
    this.shown.focus();
  }

  insertFixed(rows: readonly (readonly string[])[]): Anchor | null {
    const space = this.shown.space();
    return this.addText(rows.map((row) => row.join('\t')).join('\n'), space);
  }

  /** Puts a text on the page and chooses it; gives its name. */
  addText(text: string, at: Point, size: Size = TEXT_SIZE): string {
    const fresh = this.shown.fresh();
    const thing = thingSchema.parse({
      ...{ ...fresh, kind: 'text', x: roundMm(at.x), y: roundMm(at.y), ...size, text },
    });
    this.steps.add([thing]);
    return fresh.id;
  }

  /** Puts a picture on the page, as large as its pixels are or as there is room. */
  addPicture(picture: { hash: string; width: number; height: number }, at: Point): void {
    const space = this.shown.space();
    const natural = {
      width: picture.width / PIXELS_PER_MM,
      height: picture.height / PIXELS_PER_MM,
    };
    const share = Math.min(1, space.width / 2 / natural.width, space.height / 2 / natural.height);
    this.steps.add([
      thingSchema.parse({
        ...{ ...this.shown.fresh(), kind: 'picture', hash: picture.hash },
        ...{ pixelWidth: picture.width, pixelHeight: picture.height },
        ...{ x: roundMm(at.x), y: roundMm(at.y) },
        ...{ width: roundMm(natural.width * share), height: roundMm(natural.height * share) },
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
    const thing = this.pages.objectThing(tetherId);
    if (!thing) return;
    const words = (cell: string | FixedCell) => (typeof cell === 'string' ? cell : cell.text);
    const text = rows.map((row) => row.map(words).join('\t')).join('\n');
    if (this.texts.textOf(thing)) {
      this.pages.step(() => this.texts.takeOut(thing, text === '' ? null : { type: 'text', text }));
      return;
    }
    const box = this.boxes.all().get(thing.id)!;
    const { width, height } = box;
    this.replace(thing, { kind: 'text', x: box.x, y: box.y, width, height, text, letters: 2.5 });
  }

  picture(tetherId: string, { hash, width, height, alt }: KeptPicture & { alt: string }): void {
    const thing = this.pages.objectThing(tetherId);
    if (!thing) return;
    const box = this.boxes.all().get(thing.id)!;
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
    const tetherId = this.shown.chosenObject();
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

/** An object in the place of another thing. */
function objectIn(
  { id, page, order, layer, group, x, y }: Thing,
  object: { id: string; form: Form },
): Thing {
  const place = { id, page, order, layer, group, x, y };
  return thingSchema.parse({ ...place, kind: 'object', tetherId: object.id, form: object.form });
}

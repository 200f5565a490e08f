import type { KeptPicture } from '@tether/contract';
import {
  type Alignment,
  alignBoxes,
  type Box,
  boundsOf,
  boxOfAll,
  type DocumentLook,
  distributeBoxes,
  PIXELS_PER_MM,
  type Point,
  restack,
  type Size,
  type Step,
  type TurnedBox,
} from '@tether/core';
import {
  type AnyPage,
  type CaptionKind,
  type CommentAbout,
  changeValues,
  type DocumentContent,
  type Dressing,
  type Form,
  isInline,
  isPlain,
  isSame,
  type KindName,
  kindOf,
  type ObjectThing,
  objectsOnPages,
  type PageContent,
  plainRich,
  type RichBlock,
  type RichInline,
  richOf,
  richWords,
  type TextThing,
  type Thing,
  thingSchema,
  valueIn,
  withAtEnd,
} from '@tether/documents';
import type { CSSProperties } from 'react';
import { Dressings } from '../documents/object/dressings.ts';
import type { Anchor, FixedCell, ObjectThere, StandOffer, Surface } from '../documents/surface.ts';
import { copiesOf } from './copies.ts';
import { ThingsOnLayers } from './layers.ts';
import { measuredIn } from './measured-in.ts';
import type { PageDocument } from './page-document.ts';
import { round } from './round.ts';
import { CORNERS, type Corner, cornerPlace, type Stand } from './stands.ts';
import { boxesOf } from './thing-boxes.ts';

/** What a kind of document says of its pages. */
export interface PageKind {
  name: KindName;
  /** A page's size in millimetres, by what is settled for the document. */
  size(page: AnyPage, settings: Record<string, unknown>): Size;
  /** The part of it that things are to stand in. */
  space(page: AnyPage, settings: Record<string, unknown>): Box;
  /** Whether plans can be put on its pages. */
  hasPlans: boolean;
  /** What that part is called. */
  spaceName: string;
  /** What is kept free of objects on a page, by the words that it is called by. */
  kept(page: AnyPage): { id: string; box: Box }[];
  /** Boxes of fields that objects can fill, by name. */
  fields(page: AnyPage): ReadonlyMap<string, Box>;
  /** How its objects look that follow the document. */
  look(settings: Record<string, unknown>): DocumentLook;
  /** Style of its paper. */
  style?(settings: Record<string, unknown>): CSSProperties;
}

/** A part of a folded table. */
export interface TablePartBox {
  size: Size;
  /** From the corner of its object; null for one that stands beside the others. */
  place: Point | null;
}
const NO_PARTS: readonly TablePartBox[] = [];

/** Where the caret was in a text that was written in. */
export interface TextCaret {
  of: string;
  /** What the text said then. */
  blocks: RichBlock[];
  /** What it says with something put there; null where that cannot be. */
  with: (inline: RichInline) => RichBlock[] | null;
}

/** Millimetres that a copy stands beside what it was copied from. */
const STEP_ASIDE = 5;
/** Millimetres between an object and one that was placed below it. */
const GAP_BELOW = 5;
const TEXT_SIZE: Size = { width: 70, height: 12 };

/** The open pages of a drawing or deck as a surface. A place on them is a point of the page that is shown. */
export class PageSurface implements Surface {
  revision = 0;
  isEditable = false;
  readonly foldsTables = true;
  readonly hasCaptions = false;
  readonly moveWords = ['One backward', 'One forward'] as const;
  readonly dressings: Dressings;
  readonly layers = new ThingsOnLayers();
  private chosen: ReadonlySet<string> = new Set();
  private shownPage: string;
  private readonly parts = new Map<string, readonly TablePartBox[]>();
  private readonly sizes = new Map<string, Size>();
  private readonly listeners = new Set<() => void>();
  private readonly deaf: () => void;
  private boxes: { of: readonly Thing[]; at: number; boxes: Map<string, TurnedBox> } | null = null;
  private sizesAt = 0;
  /** How far the last copy was moved from what it is a copy of. */
  private copied: { ids: string[]; from: Map<string, Point> } | null = null;
  private canvas: HTMLElement | null = null;
  private newLayer: string | null = null;
  /** New objects that come into a corner once it is known how large they are. */
  private readonly cornering = new Map<string, Corner>();
  private toPut: string | null = null;
  private pointer: Point | null = null;
  private caret: TextCaret | null = null;
  private known: ReadonlySet<string> = new Set();

  constructor(
    readonly pages: PageDocument,
    readonly kind: PageKind,
  ) {
    this.dressings = new Dressings(pages.doc);
    this.shownPage = pages.pages()[0]?.id ?? '';
    this.layers.setLayers(pages.layers());
    this.deaf = pages.subscribe(this.heard);
  }

  close(): void {
    this.deaf();
    this.dressings.close();
    this.listeners.clear();
  }

  private readonly heard = () => {
    // Also what is settled for the document moves things: the fields of a title block with the size of its sheet.
    this.boxes = null;
    this.layers.setLayers(this.pages.layers());
    // What somebody took out is not chosen any more.
    if ([...this.chosen].some((id) => !this.pages.thing(id))) {
      this.chosen = new Set([...this.chosen].filter((id) => this.pages.thing(id)));
    }
    const pages = this.pages.pages();
    if (!pages.some(({ id }) => id === this.shownPage)) this.shownPage = pages[0]?.id ?? '';
    this.tell();
  };

  private readonly tell = () => {
    this.revision++;
    for (const listener of this.listeners) listener();
  };

  subscribe(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  setEditable(isEditable: boolean): void {
    if (this.isEditable === isEditable) return;
    this.isEditable = isEditable;
    this.tell();
  }

  setCanvas(canvas: HTMLElement | null): void {
    this.canvas = canvas;
  }

  get element(): HTMLElement {
    return this.canvas ?? document.body;
  }

  // What is there

  page(): AnyPage {
    return this.pages.pages().find(({ id }) => id === this.shownPage) ?? this.pages.pages()[0]!;
  }

  /** The size of a page, and the part of it that things are to stand in. */
  size(page = this.page()): Size {
    return this.kind.size(page, this.pages.settings());
  }

  space(page = this.page()): Box {
    return this.kind.space(page, this.pages.settings());
  }

  showPage(id: string): void {
    if (this.shownPage === id || !this.pages.pages().some((page) => page.id === id)) return;
    this.shownPage = id;
    this.chosen = new Set();
    this.tell();
  }

  /** The things of the page that is shown, from back to front. */
  thingsHere(): Thing[] {
    const { id } = this.page();
    return this.pages.things().filter(({ page }) => page === id);
  }

  /** Where the things of all pages stand. */
  places(): ReadonlyMap<string, TurnedBox> {
    const of = this.pages.things();
    if (this.boxes?.of !== of || this.boxes.at !== this.sizesAt) {
      const boxes = new Map<string, TurnedBox>();
      for (const page of this.pages.pages()) {
        const here = of.filter(({ page: on }) => on === page.id);
        const measured = { sizes: this.sizes, fields: this.kind.fields(page) };
        for (const [id, box] of boxesOf(here, measured)) boxes.set(id, box);
      }
      this.boxes = { of, at: this.sizesAt, boxes };
    }
    return this.boxes.boxes;
  }

  /** How large an object came out; or what stands there until it is drawn. */
  measured(id: string, size: Size, isDrawn = true): void {
    const before = this.sizes.get(id);
    const isNear = (a: number, b: number) => Math.abs(a - b) < 0.05;
    const isAsBefore =
      before && isNear(before.width, size.width) && isNear(before.height, size.height);
    if (isAsBefore && !(isDrawn && this.cornering.has(id))) return;
    this.sizes.set(id, size);
    this.sizesAt++;
    const corner = isDrawn ? this.cornering.get(id) : undefined;
    const thing = corner && this.pages.thing(id);
    if (thing) {
      // How large it is is known only now: that it comes into its corner belongs to its being placed.
      this.cornering.delete(id);
      const page = this.pages.pages().find((each) => each.id === thing.page) ?? this.page();
      const kept = this.kind.kept(page).map(({ box }) => box);
      const { x, y } = cornerPlace(corner, size, this.space(page), kept);
      this.pages.addToStep(() => this.pages.change(id, { x: round(x), y: round(y) }));
    }
    this.tell();
  }

  /** The parts of an object’s folded table, from its corner; those at places of their own say so. */
  setParts(id: string, parts: readonly TablePartBox[]): void {
    if (JSON.stringify(parts) === JSON.stringify(this.partsOf(id))) return;
    this.parts.set(id, parts);
    this.tell();
  }

  partsOf(id: string): readonly TablePartBox[] {
    return this.parts.get(id) ?? NO_PARTS;
  }

  chosenIds(): ReadonlySet<string> {
    return this.chosen;
  }

  chosenThings(): Thing[] {
    return this.thingsHere().filter(({ id }) => this.chosen.has(id));
  }

  /** The tether of the one object that is chosen. */
  chosenObject(): string | null {
    const [only, ...more] = this.chosenThings();
    return only?.kind === 'object' && more.length === 0 ? only.tetherId : null;
  }

  /** Chooses things, with those that they are grouped with. */
  choose(ids: Iterable<string>): void {
    const wanted = new Set(ids);
    const groups = new Set(
      this.pages.things().flatMap(({ id, group }) => (group && wanted.has(id) ? [group] : [])),
    );
    for (const { id, group } of this.pages.things()) if (group && groups.has(group)) wanted.add(id);
    if (wanted.size === this.chosen.size && [...wanted].every((id) => this.chosen.has(id))) return;
    this.chosen = wanted;
    this.caret = null;
    this.tell();
  }

  /** Whether a thing can be changed by hand: neither it nor its layer is locked. */
  isFree(thing: Thing): boolean {
    if (!this.isEditable || thing.isLocked) return false;
    return !this.layers.layer(thing.layer)?.isLocked;
  }

  // Steps

  /** Does something to the chosen things that may be changed, as one step. */
  changeChosen(
    change: (thing: Thing) => Record<string, unknown>,
    sort: string | null = null,
  ): void {
    const free = this.chosenThings().filter((thing) => this.isFree(thing));
    if (free.length === 0) return;
    this.pages.step(() => {
      for (const thing of free) {
        this.pages.change(thing.id, change(thing));
        this.follow(thing);
      }
    }, sort);
  }

  /** Takes the dimensions of a view along, so that they measure what they measured. A part of a step. */
  private follow(before: Thing): void {
    const after = this.pages.thing(before.id);
    if (before.kind === 'view' && after?.kind === 'view') {
      for (const [id, change] of measuredIn(this.pages.things(), before, after)) {
        this.pages.change(id, change);
      }
    }
  }

  /** Moves the chosen things. What stood below another one stands for itself then. */
  moveChosen(by: Point, sort: string | null = null): void {
    if (by.x === 0 && by.y === 0) return;
    const places = this.places();
    // A dimension in a plan goes with its view.
    const bound = this.thingsHere().filter(
      (thing) =>
        thing.kind === 'dimension' &&
        thing.view !== null &&
        this.chosen.has(thing.view) &&
        !this.chosen.has(thing.id),
    );
    const moved = (thing: Thing): Record<string, unknown> => {
      const to = { x: round(thing.x + by.x), y: round(thing.y + by.y) };
      // What stands in a line stands where that stands.
      if (this.textOf(thing)) return {};
      if (thing.kind !== 'object' || !(thing.below || thing.field)) return to;
      // What moves with the upper one need not be moved itself.
      if (thing.below && this.chosen.has(thing.below.of)) return {};
      const place = places.get(thing.id) ?? thing;
      const own = { x: round(place.x + by.x), y: round(place.y + by.y) };
      return { ...own, below: null, field: null };
    };
    const free = this.chosenThings().filter((thing) => this.isFree(thing));
    if (free.length === 0) return;
    this.pages.step(() => {
      for (const thing of free) this.pages.change(thing.id, moved(thing));
      for (const { id, x, y } of bound) {
        this.pages.change(id, { x: round(x + by.x), y: round(y + by.y) });
      }
    }, sort);
  }

  /** Sets the box of a thing; of an object the millimetres that it may take, since it comes out as its content is. */
  setBox(id: string, box: TurnedBox, sort: string | null = null): void {
    const thing = this.pages.thing(id);
    if (!thing || !this.isFree(thing)) return;
    const before = this.places().get(id);
    const isSized =
      thing.kind === 'object' &&
      (thing.form === 'chart' || thing.form === 'facsimile') &&
      before !== undefined &&
      (before.width !== box.width || before.height !== box.height);
    this.pages.step(() => {
      this.pages.change(id, boxChange(thing, box, before));
      this.follow(thing);
      if (!isSized) return;
      // A facsimile scales as one: its width decides, or its height where that alone was changed.
      const isByHeight = thing.form === 'facsimile' && before.width === box.width;
      const width = isByHeight ? (before.width * box.height) / before.height : box.width;
      const sides = thing.form === 'chart' ? { height: clamped(box.height) } : {};
      this.dress(thing.tetherId, { width: clamped(width), ...sides }, true);
    }, sort);
  }

  /** Gives a part of a folded table a place of its own, from the corner of its object; null puts it back beside the others. */
  pullPart(id: string, nth: number, place: Point | null): void {
    const thing = this.pages.thing(id);
    if (!thing || !this.isFree(thing)) return;
    this.pages.step(() => this.pages.change(id, { [`pulled.${nth}`]: place ?? undefined }));
  }

  align(how: Alignment, isToFrame: boolean): void {
    const things = this.chosenThings().filter((thing) => this.isFree(thing));
    const places = this.places();
    const boxes = things.map(({ id }) => boundsOf(places.get(id)!));
    const to = isToFrame ? this.space() : boxOfAll(boxes);
    this.moveEach(things, alignBoxes(boxes, how, to));
  }

  distribute(way: 'across' | 'down'): void {
    const things = this.chosenThings().filter((thing) => this.isFree(thing));
    const places = this.places();
    this.moveEach(
      things,
      distributeBoxes(
        things.map(({ id }) => boundsOf(places.get(id)!)),
        way,
      ),
    );
  }

  private moveEach(things: readonly Thing[], moves: readonly Point[]): void {
    const places = this.places();
    this.pages.step(() => {
      for (const [at, thing] of things.entries()) {
        const by = moves[at]!;
        if (by.x === 0 && by.y === 0) continue;
        const isBound = thing.kind === 'object' && (thing.below || thing.field);
        const from = isBound ? places.get(thing.id)! : thing;
        this.pages.change(thing.id, {
          x: round(from.x + by.x),
          y: round(from.y + by.y),
          ...(isBound ? { below: null, field: null } : {}),
        });
      }
    });
  }

  restack(step: Step): void {
    const orders = restack(this.thingsHere(), this.chosen, step);
    this.pages.step(() => {
      for (const [id, order] of orders) this.pages.change(id, { order });
    });
  }

  group(): void {
    const group = crypto.randomUUID();
    this.changeChosen(() => ({ group }));
  }

  ungroup(): void {
    this.changeChosen(() => ({ group: null }));
  }

  /** Locks what is chosen, or sets it free. */
  lock(isLocked: boolean): void {
    if (!this.isEditable) return;
    const things = this.chosenThings();
    this.pages.step(() => {
      for (const { id } of things) this.pages.change(id, { isLocked });
    });
  }

  removeChosen(): void {
    const free = this.chosenThings().filter((thing) => this.isFree(thing));
    this.pages.step(() => {
      for (const thing of free) this.takeOut(thing);
    });
  }

  /** Takes a thing out: a text with the values in its lines, a value out of its line. A part of a step. */
  private takeOut(thing: Thing, instead: RichInline | null = null): void {
    this.pages.remove(thing.id);
    if (thing.kind === 'text') for (const { id } of this.valuesIn(thing.id)) this.pages.remove(id);
    const text = this.textOf(thing);
    if (thing.kind !== 'object' || !text) return;
    const { tetherId } = thing;
    this.setRich(
      text,
      changeValues(richOf(text), (id) => (id === tetherId ? instead : valueIn(id))),
    );
  }

  /** The text in whose line a value stands; null for one that stands for itself. */
  textOf(thing: Thing): TextThing | null {
    const text = thing.kind === 'object' && thing.within ? this.pages.thing(thing.within) : null;
    return text?.kind === 'text' ? text : null;
  }

  /** The values that stand in the lines of a text. */
  valuesIn(textId: string): ObjectThing[] {
    return this.pages
      .things()
      .filter((each): each is ObjectThing => each.kind === 'object' && each.within === textId);
  }

  /** Things with the values in the lines of those that are texts. */
  withValues(things: readonly Thing[]): Thing[] {
    const all = new Map(things.map((thing) => [thing.id, thing]));
    for (const { id, kind } of things) {
      if (kind === 'text') for (const value of this.valuesIn(id)) all.set(value.id, value);
    }
    return [...all.values()];
  }

  /** Says what a text says. A part of a step. */
  private setRich(text: TextThing, blocks: RichBlock[]): void {
    this.pages.change(text.id, { text: richWords(blocks), rich: kept(blocks) });
  }

  /**
   * Takes what was written in a text; null where nothing was. `from` is the text as it was when writing began: what somebody
   * else wrote in it meanwhile stays, and both are told; one that somebody took out comes back with what was written. A value
   * that stands twice in it then gets a tether of its own there; one that does not stand in it any more goes. A text without
   * words is nothing that could be seen or found again, unless it waits for them.
   */
  written(from: TextThing, written: RichBlock[] | null): void {
    const { id } = from;
    const now = this.pages.thing(id);
    const before = richOf(from);
    const blocks = written ?? before;
    const isEmpty = richWords(blocks).trim() === '';
    if (!this.isEditable || (isSame(blocks, before) && !isEmpty)) return;
    const text = now?.kind === 'text' ? now : from;
    if (now?.kind === 'text' && !isSame(richOf(now), before) && !isSame(richOf(now), blocks)) {
      const said = { list: 'things', id } as const;
      const mine = richWords(blocks);
      this.pages.collide({ ...said, property: 'text', mine, theirs: now.text });
      this.pages.collide({ ...said, property: 'rich', mine: kept(blocks), theirs: now.rich });
      return;
    }
    this.pages.step(() => {
      if (now === null && !isEmpty) this.pages.add(from);
      if (isEmpty && text.role === null) {
        this.takeOut(text);
        return;
      }
      const seen = new Set<string>();
      const clean = changeValues(blocks, (tetherId) => {
        const value = this.find(tetherId);
        if (!value) return null;
        if (!seen.has(tetherId)) {
          seen.add(tetherId);
          return valueIn(tetherId);
        }
        const own = crypto.randomUUID();
        const copyOf = value.copyOf ?? tetherId;
        this.pages.add({ ...value, ...this.fresh(), tetherId: own, copyOf, within: id });
        this.dress(own, this.dressings.of(tetherId), true);
        seen.add(own);
        return valueIn(own);
      });
      for (const value of this.valuesIn(id)) {
        if (!seen.has(value.tetherId)) this.pages.remove(value.id);
      }
      for (const tetherId of seen) {
        const value = this.find(tetherId);
        if (value && value.within !== id) this.pages.change(value.id, { within: id, field: null });
      }
      this.setRich(text, clean);
    });
  }

  /** Where something can be put into a text that was written in, until something else is chosen. */
  setCaret(caret: TextCaret | null): void {
    this.caret = caret;
  }

  /** Puts a value into the line of a text, at its end, or takes it out to a place of its own (null). */
  putInText(tetherId: string, textId: string | null): void {
    const thing = this.find(tetherId);
    if (!thing || !this.isFree(thing) || thing.within === textId) return;
    const text = textId === null ? null : this.pages.thing(textId);
    const from = this.textOf(thing);
    this.pages.step(() => {
      if (from) {
        this.setRich(
          from,
          changeValues(richOf(from), (id) => (id === tetherId ? null : valueIn(id))),
        );
      }
      const place = from ? { x: from.x, y: round(from.y - STEP_ASIDE) } : {};
      this.pages.change(thing.id, { ...place, within: textId, field: null, below: null });
      if (text?.kind === 'text') this.setRich(text, withAtEnd(richOf(text), valueIn(tetherId)));
    });
  }

  /** Puts new things on the page that is shown, and chooses them. */
  add(things: readonly Thing[]): void {
    if (things.length === 0) return;
    this.pages.step(() => {
      for (const thing of things) {
        this.pages.add(thing);
        if (thing.kind === 'object') this.dress(thing.tetherId, thing.dressing, true);
      }
    });
    // Values in lines go with their texts.
    const free = things.filter((thing) => !this.textOf(thing));
    this.choose(free.map(({ id }) => id));
  }

  /** What every new thing has. */
  fresh(): { id: string; page: string; order: number; layer: string | null } {
    const top = this.pages.things().at(-1)?.order ?? 0;
    const layer = this.layerForNew();
    return { id: crypto.randomUUID(), page: this.page().id, order: top + 1, layer };
  }

  /** The layer that new things come onto, as it was chosen in this window; null for the usual one. */
  layerForNew(): string | null {
    return this.layers.layer(this.newLayer) ? this.newLayer : null;
  }

  setLayerForNew(id: string | null): void {
    this.newLayer = id;
    this.tell();
  }

  /** Copies of things for the page that is shown: see `copiesOf`. */
  copiesOf(
    things: readonly Thing[],
    by: Point,
    isKept: (tetherId: string) => boolean = () => false,
  ): Thing[] {
    const { page, order } = this.fresh();
    return copiesOf(things, { page, order, by, isKept });
  }

  /** Copies what is chosen; copied again it goes on by the same step as the last copy was moved by hand. */
  duplicate(): void {
    const things = this.withValues(this.chosenThings());
    if (things.length === 0 || !this.isEditable) return;
    const ids = things.map(({ id }) => id);
    const isAgain = this.copied !== null && this.copied.ids.join() === ids.join();
    const first = things[0]!;
    const from = isAgain ? this.copied!.from.get(first.id) : undefined;
    const by = from
      ? { x: first.x - from.x, y: first.y - from.y }
      : { x: STEP_ASIDE, y: STEP_ASIDE };
    const copies = this.copiesOf(things, by);
    this.add(copies);
    this.copied = {
      ids: copies.map(({ id }) => id),
      from: new Map(copies.map(({ id }, at) => [id, { x: things[at]!.x, y: things[at]!.y }])),
    };
  }

  // What everything around asks for

  private find(tetherId: string): ObjectThing | null {
    return this.pages.objectThing(tetherId);
  }

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

  /** Brings a thing into view, once it is drawn. */
  showThing(id: string): void {
    requestAnimationFrame(() => {
      this.canvas
        ?.querySelector(`[data-thing="${id}"]`)
        ?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    });
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

  insert(object: { id: string; form: Form }, at?: Anchor): void {
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

  /** Puts a new value where the caret was in a text. False where that text is gone. */
  private insertInText(object: { id: string; form: Form }): boolean {
    const { caret } = this;
    const text = caret && this.pages.thing(caret.of);
    if (!caret || text?.kind !== 'text' || !this.isFree(text)) return false;
    const value = valueIn(object.id);
    // Changed meanwhile, it takes the value at its end.
    const blocks =
      (isSame(caret.blocks, richOf(text)) ? caret.with(value) : null) ??
      withAtEnd(richOf(text), value);
    const { x, y } = text;
    const thing = thingSchema.parse({
      ...{ ...this.fresh(), kind: 'object', x, y, within: text.id, layer: text.layer },
      ...{ tetherId: object.id, form: object.form },
    });
    this.pages.step(() => {
      this.pages.add(thing);
      this.setRich(text, blocks);
    });
    this.choose([thing.id]);
    return true;
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

  dress(tetherId: string, change: Dressing, isPartOfStep = false): void {
    const act = () => this.dressings.set(tetherId, { ...this.dressings.of(tetherId), ...change });
    if (isPartOfStep) act();
    else this.pages.step(act);
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

  /** Where the pointer is over the page; null while it is elsewhere. */
  setPointer(at: Point | null): void {
    this.pointer = at;
  }

  /** Where something comes to stand that nobody gave a place: where the pointer is, else in the upper left of the frame. */
  nextPlace(): Point {
    if (this.pointer) return this.pointer;
    const { x, y } = this.space();
    return { x: x + STEP_ASIDE, y: y + STEP_ASIDE };
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

/** What is kept of written blocks beside their words: nothing where they are no more than these. */
function kept(blocks: RichBlock[]): RichBlock[] | null {
  const isWords = isPlain(blocks) && isSame(plainRich(richWords(blocks)), blocks);
  return isWords ? null : blocks;
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

/** What a new box changes of a thing. */
function boxChange(
  thing: Thing,
  box: TurnedBox,
  before: TurnedBox | undefined,
): Record<string, unknown> {
  const place = { x: round(box.x), y: round(box.y), turn: round(box.turn) };
  switch (thing.kind) {
    case 'object':
      return {
        // One that only is made larger or smaller stands below what it stood below.
        ...(before && before.x === box.x && before.y === box.y && before.turn === box.turn
          ? {}
          : { ...place, below: null, field: null }),
        // What scales or is drawn as large as it is asked to be says so in its dressing.
        ...(thing.form === 'table' ? { width: round(box.width), height: round(box.height) } : {}),
      };
    case 'line':
    case 'arc':
    case 'dimension':
      return { turn: place.turn };
    default:
      return { ...place, width: round(box.width), height: round(box.height) };
  }
}

/** Millimetres that a chart or facsimile can be asked to have. */
const clamped = (millimetres: number): number => Math.min(1000, Math.max(1, round(millimetres)));

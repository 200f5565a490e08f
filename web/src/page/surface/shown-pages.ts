import type { Box, DocumentLook, Point, Size, TurnedBox } from '@tether/core';
import type { AnyPage, Dressing, KindName, ObjectThing, Thing } from '@tether/documents';
import type { CSSProperties } from 'react';
import { Dressings } from '../../documents/object/dressings.ts';
import { ThingsOnLayers } from './layers.ts';
import type { PageDocument } from './page-document.ts';
import { round } from './round.ts';
import { type Corner, cornerPlace, STEP_ASIDE } from './stands.ts';
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

/** The pages of an open drawing or deck as they are shown: where everything stands on them, and what of it is chosen. */
export class ShownPages {
  revision = 0;
  isEditable = false;
  readonly dressings: Dressings;
  readonly layers = new ThingsOnLayers();
  protected chosen: ReadonlySet<string> = new Set();
  protected shownPage: string;
  private readonly parts = new Map<string, readonly TablePartBox[]>();
  private readonly sizes = new Map<string, Size>();
  private readonly listeners = new Set<() => void>();
  private readonly deaf: () => void;
  private boxes: { of: readonly Thing[]; at: number; boxes: Map<string, TurnedBox> } | null = null;
  private sizesAt = 0;
  protected canvas: HTMLElement | null = null;
  private newLayer: string | null = null;
  /** New objects that come into a corner once it is known how large they are. */
  protected readonly cornering = new Map<string, Corner>();
  private pointer: Point | null = null;

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

  protected readonly tell = () => {
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
      // Page by page of one look through all things: this is asked for at each object that is measured.
      const onPages = new Map<string, Thing[]>();
      for (const thing of of) {
        const here = onPages.get(thing.page);
        if (here) here.push(thing);
        else onPages.set(thing.page, [thing]);
      }
      for (const page of this.pages.pages()) {
        const measured = { sizes: this.sizes, fields: this.kind.fields(page) };
        for (const [id, box] of boxesOf(onPages.get(page.id) ?? [], measured)) boxes.set(id, box);
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
    this.tell();
  }

  /** Whether a thing can be changed by hand: neither it nor its layer is locked. */
  isFree(thing: Thing): boolean {
    if (!this.isEditable || thing.isLocked) return false;
    return !this.layers.layer(thing.layer)?.isLocked;
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

  protected find(tetherId: string): ObjectThing | null {
    return this.pages.objectThing(tetherId);
  }

  /** Brings a thing into view, once it is drawn. */
  showThing(id: string): void {
    requestAnimationFrame(() => {
      this.canvas
        ?.querySelector(`[data-thing="${id}"]`)
        ?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    });
  }

  dress(tetherId: string, change: Dressing, isPartOfStep = false): void {
    const act = () => this.dressings.set(tetherId, { ...this.dressings.of(tetherId), ...change });
    if (isPartOfStep) act();
    else this.pages.step(act);
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
}

import type { Box, Point, Size } from '@tether/core';
import type { AnyPage, Dressing, Thing } from '@tether/documents';
import { Dressings } from '../../documents/object/dressings.ts';
import { ThingsOnLayers } from './layers.ts';
import type { PageDocument } from './page-document.ts';
import type { PageKind } from './page-kind.ts';
import { STEP_ASIDE } from './stands.ts';
import { ThingPlaces } from './thing-places.ts';

/** The pages of an open drawing or deck as they are shown: where everything stands on them, and what of it is chosen. */
export class ShownPages {
  revision = 0;
  isEditable = false;
  readonly dressings: Dressings;
  readonly layers = new ThingsOnLayers();
  readonly boxes: ThingPlaces;
  private chosen: ReadonlySet<string> = new Set();
  private shownPage: string;
  private readonly listeners = new Set<() => void>();
  private readonly choosing = new Set<() => void>();
  private readonly unsubscribe: () => void;
  private canvas: HTMLElement | null = null;
  private newLayer: string | null = null;
  private pointer: Point | null = null;

  constructor(
    readonly pages: PageDocument,
    readonly kind: PageKind,
  ) {
    this.dressings = new Dressings(pages.doc);
    this.boxes = new ThingPlaces(pages, kind, () => this.tell());
    this.shownPage = pages.pages()[0]?.id ?? '';
    this.layers.setLayers(pages.layers());
    this.unsubscribe = pages.subscribe(this.heard);
  }

  close(): void {
    this.unsubscribe();
    this.dressings.close();
    this.listeners.clear();
  }

  private readonly heard = () => {
    // Also what is settled for the document moves things: the fields of a title block with the size of its sheet.
    this.boxes.changed();
    this.layers.setLayers(this.pages.layers());
    // What somebody took out is not chosen any more.
    if ([...this.chosen].some((id) => !this.pages.thing(id))) {
      this.chosen = new Set([...this.chosen].filter((id) => this.pages.thing(id)));
    }
    const pages = this.pages.pages();
    if (!pages.some(({ id }) => id === this.shownPage)) this.shownPage = pages[0]?.id ?? '';
    this.tell();
  };

  /** Tells everybody who draws of it that something is another now. */
  readonly tell = () => {
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

  /** Lets keys act on the page. */
  focus(): void {
    this.canvas?.focus();
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

  /** Shows the page of a thing, chooses it alone, and brings it into view. */
  chooseThere(thing: Thing): void {
    this.shownPage = thing.page;
    this.chosen = new Set([thing.id]);
    this.tell();
    this.showThing(thing.id);
  }

  /** Calls back whenever something is chosen, also where it was before. */
  whenChosen(listener: () => void): void {
    this.choosing.add(listener);
  }

  /** Chooses things, with those that they are grouped with. */
  choose(ids: Iterable<string>): void {
    for (const listener of this.choosing) listener();
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

import { ordersAt } from '@tether/core';
import {
  type AnyPage,
  inOrder,
  isSame,
  type Layer,
  layerSchema,
  type PartList,
  pageSettings,
  partFrom,
  type SharedForm,
  type SharedParts,
  setOfPart,
  sharedDressings,
  sharedParts,
  type Thing,
  thingSchema,
  writePart,
} from '@tether/documents';
import * as Y from 'yjs';
import { OWN_STEP } from '../../documents/writing/own-step.ts';

/** A value that somebody set while somebody else set another one: that one stands. */
export interface Collision {
  list: PartList;
  id: string;
  property: string;
  mine: unknown;
  theirs: unknown;
}

/** A thing without what is known of it by where it lies. */
export type ThingChange = Partial<Omit<Thing, 'id' | 'kind'>> & Record<string, unknown>;

/** Seconds in which steps of one sort, such as moves by the arrow keys, are taken back as one. */
const TOGETHER_MS = 900;

/**
 * The things of an open document on pages: as everybody writes them, and the way to change them. Each thing is the same
 * value for as long as nobody changes it, so that only what changed is drawn anew.
 */
export class PageDocument {
  revision = 0;
  private readonly listeners = new Set<() => void>();
  private readonly collided = new Set<(collision: Collision) => void>();
  private readonly known = new Map<string, Thing | null>();
  private sorted: readonly Thing[] | null = null;
  private sortedPages: readonly AnyPage[] | null = null;
  private sortedLayers: readonly Layer[] | null = null;
  private readonly undoing: Y.UndoManager;
  private lastSort: string | null = null;
  private lastStep = 0;

  constructor(
    readonly doc: Y.Doc,
    private readonly form: Pick<SharedForm<never>, 'settings' | 'setSetting'>,
  ) {
    const shared = [
      sharedParts(doc, 'things'),
      sharedParts(doc, 'pages'),
      sharedParts(doc, 'layers'),
      pageSettings(doc),
      sharedDressings(doc),
    ];
    this.undoing = new Y.UndoManager(shared as Y.AbstractType<unknown>[], {
      trackedOrigins: new Set([OWN_STEP]),
      captureTimeout: 0,
    });
    for (const each of shared) each.observeDeep(this.heard);
  }

  /** Nobody is told of anything any more. */
  close(): void {
    for (const list of ['things', 'pages', 'layers'] as const)
      sharedParts(this.doc, list).unobserveDeep(this.heard);
    pageSettings(this.doc).unobserveDeep(this.heard);
    sharedDressings(this.doc).unobserveDeep(this.heard);
    this.undoing.destroy();
    this.listeners.clear();
    this.collided.clear();
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Calls back when a value of this window gave way to one that somebody else set at the same time. */
  onCollision(listener: (collision: Collision) => void): () => void {
    this.collided.add(listener);
    return () => this.collided.delete(listener);
  }

  /** Tells that two people set the same. */
  collide(collision: Collision): void {
    for (const listener of this.collided) listener(collision);
  }

  /** All things from back to front. */
  things(): readonly Thing[] {
    this.sorted ??= inOrder([...this.parts('things').keys()].flatMap((id) => this.thing(id) ?? []));
    return this.sorted;
  }

  /** A thing; null where there is none, or none that is understood. */
  thing(id: string): Thing | null {
    const known = this.known.get(id);
    if (known !== undefined) return known;
    const part = this.parts('things').get(id);
    const read = part instanceof Y.Map ? thingSchema.safeParse(partFrom(id, part)) : null;
    const thing = read?.success ? read.data : null;
    this.known.set(id, thing);
    return thing;
  }

  /** The thing in which a tether's object stands. */
  objectThing(tetherId: string): Extract<Thing, { kind: 'object' }> | null {
    const found = this.things().find(
      (thing) => thing.kind === 'object' && thing.tetherId === tetherId,
    );
    return found?.kind === 'object' ? found : null;
  }

  /** All pages in their order: the same list for as long as none changes, since many ask. */
  pages(): readonly AnyPage[] {
    this.sortedPages ??= inOrder(this.read('pages') as unknown as AnyPage[]);
    return this.sortedPages;
  }

  layers(): readonly Layer[] {
    this.sortedLayers ??= inOrder(
      this.read('layers').flatMap((each) => {
        const read = layerSchema.safeParse(each);
        return read.success ? [read.data] : [];
      }),
    );
    return this.sortedLayers;
  }

  settings(): Record<string, unknown> {
    return this.form.settings(this.doc);
  }

  /**
   * Does something as one step of undo. Steps of one `sort` that follow each other quickly are one: a thing that is nudged
   * twenty times goes back at once. With `isOne` they are one however slowly they follow each other.
   */
  step<T>(act: () => T, sort: string | null = null, isOne = false): T {
    const now = performance.now();
    const isSoon = isOne || now - this.lastStep < TOGETHER_MS;
    const goesOn = sort !== null && sort === this.lastSort && isSoon;
    if (!goesOn) this.undoing.stopCapturing();
    // What is done within a moment is one step only where it was asked for: see `goesOn`.
    this.undoing.captureTimeout = goesOn ? Number.POSITIVE_INFINITY : 0;
    this.lastSort = sort;
    this.lastStep = now;
    return this.doc.transact(act, OWN_STEP);
  }

  /** Does something that belongs to the step before, and goes back with it. */
  addToStep(act: () => void): void {
    this.undoing.captureTimeout = Number.POSITIVE_INFINITY;
    this.doc.transact(act, OWN_STEP);
    this.undoing.captureTimeout = 0;
  }

  /** Within a step what was changed is read as it is now; others are told of it at its end. */
  private readAnew(id: string): void {
    this.known.delete(id);
    this.sorted = null;
  }

  private readPartsAnew(): void {
    this.sortedPages = null;
    this.sortedLayers = null;
  }

  add(thing: Thing): void {
    this.readAnew(thing.id);
    writePart(this.parts('things'), thing.kind === 'object' ? withoutDressing(thing) : thing);
  }

  change(id: string, change: ThingChange): void {
    this.changePart('things', id, change);
  }

  remove(id: string): void {
    this.readAnew(id);
    this.parts('things').delete(id);
  }

  changePart(list: PartList, id: string, change: Record<string, unknown>): void {
    const part = this.parts(list).get(id);
    if (!(part instanceof Y.Map)) return;
    if (list === 'things') this.readAnew(id);
    this.readPartsAnew();
    // A single entry of a property is taken out by setting it to nothing.
    for (const [name, value] of Object.entries(change)) setOfPart(part, name, value);
  }

  addPart(list: PartList, part: { id: string } & Record<string, unknown>): void {
    this.readPartsAnew();
    writePart(this.parts(list), part);
  }

  /** Adds a page behind `at` others. */
  addPage(page: { id: string } & Record<string, unknown>, at: number): void {
    const order = this.orderPages(page.id, at);
    this.addPart('pages', { ...page, order });
  }

  /** Puts a page behind `at` of the others. */
  movePage(id: string, at: number): void {
    this.changePart('pages', id, { order: this.orderPages(id, at) });
  }

  /** Makes room for a page behind `at` of the others; gives its number in their order. */
  private orderPages(id: string, at: number): number {
    const others = this.pages().filter((page) => page.id !== id);
    const orders = ordersAt(others, [id], at);
    for (const other of others) {
      const order = orders.get(other.id);
      if (order !== undefined) this.changePart('pages', other.id, { order });
    }
    return orders.get(id)!;
  }

  removePart(list: PartList, id: string): void {
    this.readPartsAnew();
    this.parts(list).delete(id);
  }

  /** Sets a setting, or an entry of one by its path, such as `fields.title`; undefined for as usual. */
  set(name: string, value: unknown): void {
    this.form.setSetting(this.doc, name, value);
  }

  undo(): void {
    this.lastSort = null;
    this.undoing.undo();
  }

  redo(): void {
    this.lastSort = null;
    this.undoing.redo();
  }

  get canUndo(): boolean {
    return this.undoing.canUndo();
  }

  get canRedo(): boolean {
    return this.undoing.canRedo();
  }

  private parts(list: PartList): SharedParts {
    return sharedParts(this.doc, list);
  }

  private read(list: PartList): Record<string, unknown>[] {
    return [...this.parts(list).entries()].flatMap(([id, part]) =>
      part instanceof Y.Map ? [{ id, ...(part.toJSON() as Record<string, unknown>) }] : [],
    );
  }

  private readonly heard = (events: Y.YEvent<Y.AbstractType<unknown>>[], by: Y.Transaction) => {
    const things = this.parts('things') as unknown as Y.AbstractType<unknown>;
    this.readPartsAnew();
    for (const event of events) {
      if (event.target === things) {
        for (const id of event.changes.keys.keys()) this.known.delete(id);
        this.sorted = null;
      } else if (event.target.parent === things) {
        this.known.delete(String(event.path.at(-1)));
        this.sorted = null;
      }
      if (!by.local) this.lookForCollisions(event);
    }
    this.revision++;
    for (const listener of this.listeners) listener();
  };

  private lookForCollisions(event: Y.YEvent<Y.AbstractType<unknown>>): void {
    const list = (['things', 'pages', 'layers'] as const).find(
      (each) => event.target.parent === (this.parts(each) as unknown as Y.AbstractType<unknown>),
    );
    if (!list || !(event.target instanceof Y.Map)) return;
    for (const [property, { action, oldValue }] of event.changes.keys) {
      if (action !== 'update') continue;
      const theirs = event.target.get(property);
      if (isSame(theirs, oldValue) || !isUnseen(event.target, property, this.doc.clientID))
        continue;
      const collision = { list, id: String(event.path.at(-1)), property, mine: oldValue, theirs };
      this.collide(collision);
    }
  }
}

/**
 * Whether the value before was set here, and whoever set the one that stands now had not seen it. Each value in a shared
 * map knows the value that it was put upon (`origin` of its item in `yjs`).
 */
function isUnseen(map: Y.Map<unknown>, property: string, client: number): boolean {
  const item = map._map.get(property);
  const before = item?.left;
  if (!item || !before || before.id.client !== client || item.id.client === client) return false;
  return (
    item.origin === null || item.origin.client !== client || item.origin.clock < before.id.clock
  );
}

function withoutDressing({ dressing: _, ...thing }: Extract<Thing, { kind: 'object' }>) {
  return thing;
}

import {
  type Alignment,
  alignBoxes,
  boundsOf,
  boxOfAll,
  distributeBoxes,
  type Point,
  restack,
  roundMm,
  type Step,
  type TurnedBox,
} from '@tether/core';
import { copiesOf, kindOfThing, type Thing } from '@tether/documents';
import { measuredIn } from './measured-in.ts';
import type { PageDocument } from './page-document.ts';
import type { PageTexts } from './page-texts.ts';
import type { ShownPages } from './shown-pages.ts';
import { STEP_ASIDE } from './stands.ts';

/** Pages with what people do to what stands on them by hand: each is one step that undo takes back. */
export class PageSteps {
  private readonly pages: PageDocument;
  /** How far the last copy was moved from what it is a copy of. */
  private copied: { ids: string[]; from: Map<string, Point> } | null = null;

  constructor(
    private readonly shown: ShownPages,
    private readonly texts: PageTexts,
  ) {
    this.pages = shown.pages;
  }

  /** Does something to the chosen things that may be changed, as one step. */
  changeChosen(
    change: (thing: Thing) => Record<string, unknown>,
    sort: string | null = null,
  ): void {
    const free = this.shown.chosenThings().filter((thing) => this.shown.isFree(thing));
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
    const places = this.shown.boxes.all();
    // What stands in another thing goes with it, such as a dimension with its view.
    const bound = this.shown.thingsHere().filter((thing) => {
      const { host, extent } = kindOfThing(thing);
      const within = host?.(thing) ?? null;
      const chosen = this.shown.chosenIds();
      return extent !== 'host' && within !== null && chosen.has(within) && !chosen.has(thing.id);
    });
    const moved = (thing: Thing): Record<string, unknown> => {
      const to = { x: roundMm(thing.x + by.x), y: roundMm(thing.y + by.y) };
      // What stands in a line stands where that stands.
      if (this.texts.textOf(thing)) return {};
      if (thing.kind !== 'object' || !(thing.below || thing.field)) return to;
      // What moves with the upper one need not be moved itself.
      if (thing.below && this.shown.chosenIds().has(thing.below.of)) return {};
      const place = places.get(thing.id) ?? thing;
      const own = { x: roundMm(place.x + by.x), y: roundMm(place.y + by.y) };
      return { ...own, below: null, field: null };
    };
    const free = this.shown.chosenThings().filter((thing) => this.shown.isFree(thing));
    if (free.length === 0) return;
    this.pages.step(() => {
      for (const thing of free) this.pages.change(thing.id, moved(thing));
      for (const { id, x, y } of bound) {
        this.pages.change(id, { x: roundMm(x + by.x), y: roundMm(y + by.y) });
      }
    }, sort);
  }

  /** Sets the box of a thing; of an object the millimetres that it may take, since it comes out as its content is. */
  setBox(id: string, box: TurnedBox, sort: string | null = null): void {
    const thing = this.pages.thing(id);
    if (!thing || !this.shown.isFree(thing)) return;
    const before = this.shown.boxes.all().get(id);
    const isSized =
      thing.kind === 'object' &&
      (thing.form === 'chart' || thing.form === 'facsimile') &&
      before !== undefined &&
      (before.width !== box.width || before.height !== box.height);
    this.pages.step(() => {
      this.pages.change(id, kindOfThing(thing).sized(thing, box, before));
      this.follow(thing);
      if (!isSized) return;
      // A facsimile scales as one: its width decides, or its height where that alone was changed.
      const isByHeight = thing.form === 'facsimile' && before.width === box.width;
      const width = isByHeight ? (before.width * box.height) / before.height : box.width;
      const sides = thing.form === 'chart' ? { height: clamped(box.height) } : {};
      this.shown.dress(thing.tetherId, { width: clamped(width), ...sides }, true);
    }, sort);
  }

  /** Gives a part of a folded table a place of its own, from the corner of its object; null puts it back beside the others. */
  pullPart(id: string, nth: number, place: Point | null): void {
    const thing = this.pages.thing(id);
    if (!thing || !this.shown.isFree(thing)) return;
    this.pages.step(() => this.pages.change(id, { [`pulled.${nth}`]: place ?? undefined }));
  }

  align(how: Alignment, isToFrame: boolean): void {
    const things = this.shown.chosenThings().filter((thing) => this.shown.isFree(thing));
    const places = this.shown.boxes.all();
    const boxes = things.map(({ id }) => boundsOf(places.get(id)!));
    const to = isToFrame ? this.shown.space() : boxOfAll(boxes);
    this.moveEach(things, alignBoxes(boxes, how, to));
  }

  distribute(way: 'across' | 'down'): void {
    const things = this.shown.chosenThings().filter((thing) => this.shown.isFree(thing));
    const places = this.shown.boxes.all();
    this.moveEach(
      things,
      distributeBoxes(
        things.map(({ id }) => boundsOf(places.get(id)!)),
        way,
      ),
    );
  }

  private moveEach(things: readonly Thing[], moves: readonly Point[]): void {
    const places = this.shown.boxes.all();
    this.pages.step(() => {
      for (const [at, thing] of things.entries()) {
        const by = moves[at]!;
        if (by.x === 0 && by.y === 0) continue;
        const isBound = thing.kind === 'object' && (thing.below || thing.field);
        const from = isBound ? places.get(thing.id)! : thing;
        this.pages.change(thing.id, {
          x: roundMm(from.x + by.x),
          y: roundMm(from.y + by.y),
          ...(isBound ? { below: null, field: null } : {}),
        });
      }
    });
  }

  restack(step: Step): void {
    const orders = restack(this.shown.thingsHere(), this.shown.chosenIds(), step);
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
    if (!this.shown.isEditable) return;
    const things = this.shown.chosenThings();
    this.pages.step(() => {
      for (const { id } of things) this.pages.change(id, { isLocked });
    });
  }

  removeChosen(): void {
    const free = this.shown.chosenThings().filter((thing) => this.shown.isFree(thing));
    this.pages.step(() => {
      for (const thing of free) this.texts.takeOut(thing);
    });
  }

  /** Puts new things on the page that is shown, and chooses them. */
  add(things: readonly Thing[]): void {
    if (things.length === 0) return;
    this.pages.step(() => {
      for (const thing of things) {
        this.pages.add(thing);
        if (thing.kind === 'object') this.shown.dress(thing.tetherId, thing.dressing, true);
      }
    });
    // Values in lines go with their texts.
    const free = things.filter((thing) => !this.texts.textOf(thing));
    this.shown.choose(free.map(({ id }) => id));
  }

  /** Copies of things for the page that is shown: see `copiesOf`. */
  copiesOf(
    things: readonly Thing[],
    by: Point,
    isKept: (tetherId: string) => boolean = () => false,
  ): Thing[] {
    const { page, order } = this.shown.fresh();
    return copiesOf(things, { page, order, by, isKept, newId: () => crypto.randomUUID() });
  }

  /** Copies what is chosen; copied again it goes on by the same step as the last copy was moved by hand. */
  duplicate(): void {
    const things = this.texts.withValues(this.shown.chosenThings());
    if (things.length === 0 || !this.shown.isEditable) return;
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
}

/** Millimetres that a chart or facsimile can be asked to have. */
const clamped = (millimetres: number): number => Math.min(1000, Math.max(1, roundMm(millimetres)));

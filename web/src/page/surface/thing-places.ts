import type { Point, Size, TurnedBox } from '@tether/core';
import { boxesOf, type Thing } from '@tether/documents';
import type { PageDocument } from './page-document.ts';
import type { PageKind } from './page-kind.ts';

/** A part of a folded table. */
export interface TablePartBox {
  size: Size;
  /** From the corner of its object; null for one that stands beside the others. */
  place: Point | null;
}
const NO_PARTS: readonly TablePartBox[] = [];

/** Where the things of all pages stand: what they say themselves, and how large objects came out when they were drawn. */
export class ThingPlaces {
  private readonly parts = new Map<string, readonly TablePartBox[]>();
  private readonly sizes = new Map<string, Size>();
  private readonly awaited = new Map<string, (size: Size) => void>();
  private boxes: { of: readonly Thing[]; at: number; boxes: Map<string, TurnedBox> } | null = null;
  private sizesAt = 0;

  /** `tell` is called when something stands elsewhere. */
  constructor(
    private readonly pages: PageDocument,
    private readonly kind: PageKind,
    private readonly tell: () => void,
  ) {}

  /** The pages changed: everything is looked at anew. */
  changed(): void {
    this.boxes = null;
  }

  /** Where the things of all pages stand. */
  all(): ReadonlyMap<string, TurnedBox> {
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
    const awaits = isDrawn ? this.awaited.get(id) : undefined;
    if (isAsBefore && !awaits) return;
    this.sizes.set(id, size);
    this.sizesAt++;
    if (awaits && this.pages.thing(id)) {
      this.awaited.delete(id);
      awaits(size);
    }
    this.tell();
  }

  /** Calls back once it is known how large an object comes out that was just placed. */
  whenDrawn(id: string, then: (size: Size) => void): void {
    this.awaited.set(id, then);
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
}

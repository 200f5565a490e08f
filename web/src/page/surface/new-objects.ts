import { type Point, roundMm } from '@tether/core';
import { type Form, isInline, type ObjectThing, type Thing, thingSchema } from '@tether/documents';
import type { Anchor, LayerOffer, StandOffer } from '../../documents/surface.ts';
import { USUAL_LAYER } from './layers.ts';
import type { PageDocument } from './page-document.ts';
import type { PageTexts } from './page-texts.ts';
import type { ShownPages } from './shown-pages.ts';
import { CORNERS, type Corner, cornerPlace, type Stand } from './stands.ts';

/** Millimetres between an object and one that was placed below it. */
const GAP_BELOW = 5;

/** Where new objects can stand on the page that is shown, and how they come there. */
export class NewObjects {
  private toPut: string | null = null;
  private readonly pages: PageDocument;

  constructor(
    private readonly shown: ShownPages,
    private readonly texts: PageTexts,
  ) {
    this.pages = shown.pages;
  }

  stands(): readonly StandOffer[] {
    const chosen = this.shown.chosenThings().find(({ kind }) => kind === 'object')?.id;
    const below = this.shown
      .thingsHere()
      .filter(
        (thing) => thing.kind === 'object' && thing.field === null && !this.texts.textOf(thing),
      )
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
      words: `${corner} of the ${this.shown.kind.spaceName}`,
      at: { kind: 'corner', corner } satisfies Stand,
    }));
    const pointer = { words: 'where I click', at: { kind: 'pointer' } satisfies Stand };
    const inText: StandOffer[] = this.texts.hasCaret
      ? [{ words: 'in the line where I wrote', at: { kind: 'in text' } satisfies Stand }]
      : [];
    if (chosen) return [...inText, ...below, ...corners, pointer];
    const empty = this.unwritten() ? [{ words: 'where no words are written', at: undefined }] : [];
    return [...inText, ...empty, ...corners, ...below, pointer];
  }

  /** The first text of the page that is shown that nobody has written yet: it gives its place to what is placed. */
  private unwritten(): Extract<Thing, { kind: 'text' }> | undefined {
    return this.shown
      .thingsHere()
      .find(
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
    const first = this.shown.layerForNew();
    return [...all.filter(({ id }) => id === first), ...all.filter(({ id }) => id !== first)];
  }

  insert(
    object: { id: string; form: Form },
    at?: Anchor,
    layer: string | null = this.shown.layerForNew(),
  ): void {
    // What is no value and no tag cannot stand in a line: it goes where it usually goes.
    const asked = standIn(at);
    const isLine = asked?.kind === 'in text' || (asked === null && this.texts.hasCaret);
    if (isLine && isInline(object.form) && this.texts.insertInText(object)) return;
    const stand = asked?.kind === 'in text' ? null : asked;
    const point = stand?.kind === 'point' ? stand.point : null;
    const below =
      stand?.kind === 'below'
        ? (this.pages.thing(stand.of) ?? undefined)
        : stand
          ? undefined
          : this.shown.chosenThings().find(({ kind }) => kind === 'object');
    const empty = stand || below ? undefined : this.unwritten();
    const space = this.shown.space();
    const place = point ?? empty ?? { x: space.x, y: space.y };
    const room = empty ? { width: empty.width, height: empty.height } : {};
    const thing = thingSchema.parse({
      ...{
        ...this.shown.fresh(),
        kind: 'object',
        x: roundMm(place.x),
        y: roundMm(place.y),
        ...room,
      },
      ...{ tetherId: object.id, form: object.form },
      // A layer that somebody deleted meanwhile is the usual one.
      layer: this.shown.layers.layer(layer) ? layer : null,
      // Where an object is chosen the new one stands below it; else it goes into the corner of the frame.
      below: below ? { of: below.id, gap: GAP_BELOW } : null,
    });
    if (stand?.kind === 'corner') this.putIntoCorner(thing.id, stand.corner);
    if (stand?.kind === 'pointer') this.toPut = thing.id;
    this.pages.step(() => {
      if (empty) this.pages.remove(empty.id);
      this.pages.add(thing);
    });
    this.shown.choose([thing.id]);
  }

  /** How large it is is known only when it is drawn: that it comes into its corner then belongs to its being placed. */
  private putIntoCorner(id: string, corner: Corner): void {
    this.shown.boxes.whenDrawn(id, (size) => {
      const on = this.pages.thing(id)?.page;
      const page = this.pages.pages().find((each) => each.id === on) ?? this.shown.page();
      const kept = this.shown.kind.kept(page).map(({ box }) => box);
      const { x, y } = cornerPlace(corner, size, this.shown.space(page), kept);
      this.pages.addToStep(() => this.pages.change(id, { x: roundMm(x), y: roundMm(y) }));
    });
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
      this.pages.step(() =>
        this.pages.change(id, { x: roundMm(at.x), y: roundMm(at.y), below: null }),
      );
    }
    this.shown.tell();
  }
}

/** A place that was given to a surface, as pages have them. */
function standIn(at: Anchor | undefined): Stand | null {
  if (at === undefined) return null;
  return 'kind' in (at as object) ? (at as Stand) : { kind: 'point', point: at as Point };
}

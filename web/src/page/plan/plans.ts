import type { KeptPicture } from '@tether/contract';
import { isIn, onPlan, PIXELS_PER_MM, type Point, roundMm, scaleToFit } from '@tether/core';
import { type MarksThing, type Thing, thingSchema, type ViewThing } from '@tether/documents';
import { measuredIn, planAround } from '../surface/measured-in.ts';
import type { PageSurface } from '../surface/page-surface.ts';

/** Puts a plan on the page: as large as its file says that it is in truth, at a scale at which it fits. */
export function addPlan(surface: PageSurface, picture: KeptPicture, name: string): void {
  const space = surface.shown.space();
  const size = { width: picture.width / PIXELS_PER_MM, height: picture.height / PIXELS_PER_MM };
  const scale = scaleToFit(size, space);
  const box = {
    width: roundMm(Math.min(space.width, size.width * scale)),
    height: roundMm(Math.min(space.height, size.height * scale)),
  };
  surface.steps.add([
    thingSchema.parse({
      ...{ ...surface.shown.fresh(), kind: 'view', hash: picture.hash, alt: name },
      ...{ isLines: picture.isLines, isSized: picture.hasUnit },
      ...{ pixelWidth: picture.width, pixelHeight: picture.height, trueWidth: size.width },
      ...{ x: space.x, y: space.y, ...box, scale },
      centre: { x: size.width / 2, y: size.height / 2 },
    }),
  ]);
}

/** Says how wide a plan is in truth; what is marked and shown of it stays where it is in the plan. */
export function setTrueWidth(surface: PageSurface, view: ViewThing, trueWidth: number): void {
  const factor = trueWidth / view.trueWidth;
  const scaled = ({ x, y }: Point) => ({ x: x * factor, y: y * factor });
  surface.pages.step(() => {
    const after = { ...view, trueWidth, centre: scaled(view.centre) };
    surface.pages.change(view.id, { trueWidth, centre: after.centre, isSized: true });
    for (const [id, change] of measuredIn(surface.pages.things(), view, after, factor)) {
      surface.pages.change(id, change);
    }
    for (const thing of surface.pages.things()) {
      if (thing.kind !== 'marks' || thing.view !== view.id) continue;
      for (const [key, place] of Object.entries(thing.places)) {
        surface.pages.change(thing.id, { [`places.${key}`]: scaled(place) });
      }
      if (thing.from.kind === 'along') {
        const line = thing.from.line.map(scaled);
        surface.pages.change(thing.id, { from: { ...thing.from, line } });
      }
    }
  });
}

/** The points of a line that is drawn over a view, in its plan. */
export function lineInPlan(line: Extract<Thing, { kind: 'line' }>, view: ViewThing): Point[] {
  const plan = planAround(view);
  return line.points.map((point) => onPlan(plan, { x: line.x + point.x, y: line.y + point.y }));
}

/** The topmost view at a place of the page shown. */
export function viewAt(surface: PageSurface, place: Point): ViewThing | null {
  const found = surface.shown
    .thingsHere()
    .findLast((thing) => thing.kind === 'view' && isIn(place, thing));
  return found?.kind === 'view' ? found : null;
}

/** Puts a mark elsewhere in its plan; it stands there by hand then. */
export function moveMark(surface: PageSurface, thing: MarksThing, key: string, to: Point): void {
  const view = surface.pages.thing(thing.view);
  if (view?.kind !== 'view' || !surface.shown.isFree(thing)) return;
  const place = onPlan(planAround(view), to);
  surface.pages.step(() => surface.pages.change(thing.id, { [`places.${key}`]: place }));
}

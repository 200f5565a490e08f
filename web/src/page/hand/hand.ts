import {
  type Box,
  boundsOf,
  boxBetween,
  boxOfAll,
  directionTo,
  doOverlap,
  type Grip,
  type Guide,
  guidesOf,
  middleOf,
  type Point,
  resizedBox,
  snap,
  snapBox,
  type TurnedBox,
} from '@tether/core';
import type { MarksThing } from '@tether/documents';
import type { PageSurface } from '../surface/page-surface.ts';

/** What a pointer that is down does on a page. */
export type Held =
  | { kind: 'move'; from: Point; ids: string[]; boxes: TurnedBox[]; guides: Guide[] }
  | { kind: 'size'; from: Point; id: string; box: TurnedBox; grip: Grip; guides: Guide[] }
  | { kind: 'turn'; id: string; box: TurnedBox }
  | { kind: 'mark'; from: Point; thing: MarksThing; key: string; row: number }
  | { kind: 'frame'; from: Point; kept: ReadonlySet<string> }
  | { kind: 'draw'; from: Point; guides: Guide[] };

/** What is seen of it until the pointer is let go. */
export interface Seen {
  /** How far chosen things are moved. */
  by: Point | null;
  /** The box that one thing gets. */
  box: TurnedBox | null;
  /** The frame that is dragged over things, or the box of something that is drawn. */
  frame: Box | null;
  /** From where to where a line is drawn. */
  line: [Point, Point] | null;
  /** The mark that is dragged, of which marks, and how far. */
  mark: { thing: string; key: string; by: Point } | null;
  guides: Guide[];
}

export const NOTHING_SEEN: Seen = {
  by: null,
  box: null,
  frame: null,
  line: null,
  mark: null,
  guides: [],
};

/** Steps in which a thing turns while a key holds it to them; degrees. */
const TURN_STEP = 15;

interface Keys {
  /** Holds proportions, steps of turning and level or upright lines. */
  shiftKey: boolean;
  /** Nothing snaps. */
  altKey: boolean;
}

/** The guides that things on the page shown snap to: the frame, the middle of the page, and other things. */
export function guidesAround(surface: PageSurface, without: ReadonlySet<string>): Guide[] {
  const page = surface.shown.page();
  const { width, height } = surface.shown.size(page);
  const sheet = { x: 0, y: 0, width, height };
  const places = surface.boxes.all();
  const others = surface.shown
    .thingsHere()
    .filter(({ id }) => !without.has(id))
    .flatMap(({ id }) => places.get(id) ?? []);
  return [surface.shown.space(page), sheet, ...others.map(boundsOf)].flatMap(guidesOf);
}

/** To what things snap: to a grid of `grid` millimetres from `origin`, and to what is within `reach` millimetres. */
export interface Snapping {
  grid: number | null;
  reach: number;
  origin: Point;
}

/** What is to be seen while a pointer that holds something is at a place of the page. */
export function seenAt(held: Held, at: Point, keys: Keys, { grid, reach, origin }: Snapping): Seen {
  const to = (guides: readonly Guide[]) => ({
    guides: keys.altKey ? [] : guides,
    grid: grid === null || keys.altKey ? null : { step: grid, origin },
    reach: keys.altKey ? 0 : reach,
  });
  switch (held.kind) {
    case 'move': {
      let by = { x: at.x - held.from.x, y: at.y - held.from.y };
      if (keys.shiftKey)
        by = Math.abs(by.x) >= Math.abs(by.y) ? { x: by.x, y: 0 } : { x: 0, y: by.y };
      const all = boxOfAll(held.boxes.map(boundsOf));
      if (!all) return NOTHING_SEEN;
      const snapped = snapBox({ ...all, x: all.x + by.x, y: all.y + by.y }, to(held.guides));
      // What is moved level only stays level.
      const free = keys.shiftKey
        ? { x: by.x === 0 ? 0 : 1, y: by.y === 0 ? 0 : 1 }
        : { x: 1, y: 1 };
      return {
        ...NOTHING_SEEN,
        by: { x: by.x + snapped.by.x * free.x, y: by.y + snapped.by.y * free.y },
        guides: snapped.at,
      };
    }
    case 'size': {
      const by = { x: at.x - held.from.x, y: at.y - held.from.y };
      const first = resizedBox(held.box, held.grip, by, keys.shiftKey);
      // The sides of a turned box are on no guide.
      if (held.box.turn % 360 !== 0 || keys.shiftKey) return { ...NOTHING_SEEN, box: first };
      const { across, down } = held.grip;
      const side = (start: number, length: number, way: number) =>
        way === 0 ? [] : [way < 0 ? start : start + length];
      const snapped = snap(
        side(first.x, first.width, across),
        side(first.y, first.height, down),
        to(held.guides),
      );
      const moved = { x: by.x + snapped.by.x, y: by.y + snapped.by.y };
      return {
        ...NOTHING_SEEN,
        box: resizedBox(held.box, held.grip, moved),
        guides: snapped.at,
      };
    }
    case 'turn': {
      const degrees = directionTo(at, middleOf(held.box));
      const step = keys.shiftKey ? TURN_STEP : 1;
      const turn = (Math.round(degrees / step) * step) % 360;
      return { ...NOTHING_SEEN, box: { ...held.box, turn } };
    }
    case 'mark': {
      const by = { x: at.x - held.from.x, y: at.y - held.from.y };
      return { ...NOTHING_SEEN, mark: { thing: held.thing.id, key: held.key, by } };
    }
    case 'frame':
      return { ...NOTHING_SEEN, frame: boxBetween(held.from, at) };
    case 'draw': {
      const snapped = snap([at.x], [at.y], to(held.guides));
      let end = { x: at.x + snapped.by.x, y: at.y + snapped.by.y };
      if (keys.shiftKey) {
        const [across, down] = [Math.abs(end.x - held.from.x), Math.abs(end.y - held.from.y)];
        end = across >= down ? { x: end.x, y: held.from.y } : { x: held.from.x, y: end.y };
      }
      return {
        ...NOTHING_SEEN,
        frame: boxBetween(held.from, { x: at.x + snapped.by.x, y: at.y + snapped.by.y }),
        line: [held.from, end],
        guides: snapped.at,
      };
    }
  }
}

/** The things of the page shown that a dragged frame touches. */
export function touchedBy(surface: PageSurface, frame: Box): string[] {
  const places = surface.boxes.all();
  return surface.shown
    .thingsHere()
    .filter(({ id }) => {
      const place = places.get(id);
      // A line without a height touches as well.
      return place && doOverlap(grown(boundsOf(place)), frame);
    })
    .map(({ id }) => id);
}

const grown = ({ x, y, width, height }: Box): Box => ({
  x: x - 0.01,
  y: y - 0.01,
  width: width + 0.02,
  height: height + 0.02,
});

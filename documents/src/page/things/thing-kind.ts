import { type Box, roundMm, type Size, type TurnedBox } from '@tether/core';

/** What is known of a thing of any kind. */
export interface AnyThing {
  id: string;
  kind: string;
  page: string;
  x: number;
  y: number;
  turn: number;
}

/** What stands around a thing on its page. */
interface Around {
  /** Millimetres that the thing itself came out as when it was drawn; null while that is not known. */
  size: Size | null;
  /** The box of another thing; null where there is none of the name (of the kind, where one is given), or where it stands by this one. */
  boxOf(id: string, kind?: string): TurnedBox | null;
  /** The box of a field that objects can fill; null where the page has none of the name. */
  field(name: string): Box | null;
}

/** What things are called after they were copied; null for what was not copied with them. */
export interface CopyNames {
  /** Null where the copy shows the same tether. */
  tether(id: string): string | null;
  thing(id: string): string | null;
  /** The whole document is copied: what there is once, such as a field of a title block, stays filled. */
  isWhole: boolean;
}

/**
 * What the house knows of a kind of thing beyond its fields. A new kind is an entry in `table.ts`, and one in the table of
 * the screen (`web/page/things/thing-screens`), which says how it is drawn, edited and copied as words.
 */
export interface ThingKindOf<T extends AnyThing> {
  /** What it is called. */
  words: string;
  /**
   * How large it is: as its `box` says; as its `content` comes out; as its `points` reach, which are told from its corner; or
   * it has no extent of its own and stands where its `host` stands.
   */
  extent: 'box' | 'content' | 'points' | 'host';
  /** Whether it can be turned by hand. */
  turns: boolean;
  /** Where it stands. */
  boxed(thing: T, around: Around): TurnedBox;
  /** What a new box changes of it. `before`: the box that it had. */
  sized(thing: T, box: TurnedBox, before: TurnedBox | undefined): Record<string, unknown>;
  /** A copy with what it names of other things and tethers as these are called now; as it is where it names none. */
  copied?(copy: T, names: CopyNames): T;
  /** The first words of what it says itself, by which lists name it; empty for what it is called. */
  title?(thing: T): string;
  /** The thing in which it stands, and with which it moves; null for none. */
  host?(thing: T): string | null;
}

/** Of things that are as large as they say. */
export const asBox = {
  extent: 'box',
  turns: true,
  boxed: ({ x, y, width, height, turn }: AnyThing & Size): TurnedBox => ({
    x,
    y,
    width,
    height,
    turn,
  }),
  sized: (_: AnyThing, box: TurnedBox) => ({
    ...placeOf(box),
    width: roundMm(box.width),
    height: roundMm(box.height),
  }),
} as const;

/** Of things that are drawn by points from their corner: a box only turns them. */
export const asPoints = {
  extent: 'points',
  turns: true,
  sized: (_: AnyThing, { turn }: TurnedBox) => ({ turn: roundMm(turn) }),
} as const;

/** The box of what is drawn from a thing's corner. */
export function fromCorner({ x, y, turn }: AnyThing, drawn: Box): TurnedBox {
  return { x: x + drawn.x, y: y + drawn.y, width: drawn.width, height: drawn.height, turn };
}

/** The corner and turn of a box. */
export function placeOf({ x, y, turn }: TurnedBox): { x: number; y: number; turn: number } {
  return { x: roundMm(x), y: roundMm(y), turn: roundMm(turn) };
}

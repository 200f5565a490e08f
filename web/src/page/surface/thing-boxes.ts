import {
  arcBox,
  type Box,
  bottomOf,
  boxAround,
  dimensionLines,
  type Size,
  type TurnedBox,
} from '@tether/core';
import type { MarksThing, ObjectThing, Thing } from '@tether/documents';

/** Millimetres of an object whose figures have not come yet. */
const UNKNOWN: Size = { width: 60, height: 20 };

/** What stands where, beyond what the things say themselves. */
export interface Measured {
  /** Millimetres that objects came out as, by thing. */
  sizes: ReadonlyMap<string, Size>;
  /** Boxes of fields that objects can fill, by name. */
  fields: ReadonlyMap<string, Box>;
}

/** Where things stand on their page, in millimetres. */
export function boxesOf(
  things: readonly Thing[],
  { sizes, fields }: Measured,
): Map<string, TurnedBox> {
  const byId = new Map(things.map((thing) => [thing.id, thing]));
  const boxes = new Map<string, TurnedBox>();
  const boxOf = (thing: Thing, seen: ReadonlySet<string>): TurnedBox => {
    const known = boxes.get(thing.id);
    if (known) return known;
    const box =
      thing.kind === 'object'
        ? objectBox(thing, seen)
        : thing.kind === 'marks'
          ? marksBox(thing)
          : plainBox(thing);
    boxes.set(thing.id, box);
    return box;
  };
  const objectBox = (thing: ObjectThing, seen: ReadonlySet<string>): TurnedBox => {
    const field = thing.field === null ? undefined : fields.get(thing.field);
    if (field) return { ...field, turn: 0 };
    // A value in a line is somewhere in its text.
    const text = thing.within === null ? undefined : byId.get(thing.within);
    if (text?.kind === 'text') return plainBox(text);
    const size = sizes.get(thing.id) ?? UNKNOWN;
    const upper = thing.below && byId.get(thing.below.of);
    // Things that stand below each other in a circle stand where they say themselves.
    if (!thing.below || !upper || upper.page !== thing.page || seen.has(upper.id)) {
      return { x: thing.x, y: thing.y, ...size, turn: thing.turn };
    }
    const above = boxOf(upper, new Set([...seen, thing.id]));
    return { x: above.x, y: bottomOf(above) + thing.below.gap, ...size, turn: thing.turn };
  };
  /** Marks stand where their view stands. */
  const marksBox = ({ view, x, y, turn }: MarksThing): TurnedBox => {
    const plan = byId.get(view);
    return plan?.kind === 'view' ? plainBox(plan) : { x, y, width: 0, height: 0, turn };
  };
  for (const thing of things) boxOf(thing, new Set());
  return boxes;
}

function plainBox(thing: Exclude<Thing, ObjectThing | MarksThing>): TurnedBox {
  const { x, y, turn } = thing;
  switch (thing.kind) {
    case 'line': {
      const around = boxAround(thing.points)!;
      return { x: x + around.x, y: y + around.y, width: around.width, height: around.height, turn };
    }
    case 'arc': {
      const around = arcBox({ from: { x: 0, y: 0 }, to: thing.to, bow: thing.bow });
      return { x: x + around.x, y: y + around.y, width: around.width, height: around.height, turn };
    }
    case 'dimension': {
      const lines = dimensionLines({ x: 0, y: 0 }, thing.to, thing.beside);
      const around = boxAround(
        lines ? [{ x: 0, y: 0 }, thing.to, ...lines.extensions.flat()] : [{ x: 0, y: 0 }],
      )!;
      return { x: x + around.x, y: y + around.y, width: around.width, height: around.height, turn };
    }
    default:
      return { x, y, width: thing.width, height: thing.height, turn };
  }
}

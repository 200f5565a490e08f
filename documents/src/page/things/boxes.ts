import type { Box, Size, TurnedBox } from '@tether/core';
import { kindOfThing, type Thing } from './table.ts';

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
  /** `asking`: the things of which each stands by the next, and the last by this one. */
  const boxOf = (thing: Thing, asking: ReadonlySet<string>): TurnedBox => {
    const known = boxes.get(thing.id);
    if (known) return known;
    const box = kindOfThing(thing).boxed(thing, {
      size: sizes.get(thing.id) ?? null,
      field: (name) => fields.get(name) ?? null,
      boxOf(id, kind) {
        const other = byId.get(id);
        const isThere = other && other.page === thing.page && !asking.has(id);
        if (!isThere || (kind !== undefined && other.kind !== kind)) return null;
        return boxOf(other, new Set([...asking, thing.id]));
      },
    });
    boxes.set(thing.id, box);
    return box;
  };
  for (const thing of things) boxOf(thing, new Set());
  return boxes;
}

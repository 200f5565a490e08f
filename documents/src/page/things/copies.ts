import { type Point, roundMm } from '@tether/core';
import { kindOfThing, type Thing } from './table.ts';
import type { CopyNames } from './thing-kind.ts';

/**
 * Copies of things on a page, so far aside, with tethers of their own; objects whose tether is to be kept are the same ones.
 * Groups, and what stands below another, in a view or for the rows of an object, go along with what they belong to.
 */
export function copiesOf(
  things: readonly Thing[],
  to: {
    page: string;
    order: number;
    by: Point;
    isKept: (tetherId: string) => boolean;
    newId: () => string;
  },
): Thing[] {
  const { page, order, by, isKept, newId } = to;
  const fresh = (names: readonly string[]) => new Map(names.map((name) => [name, newId()]));
  const ids = fresh(things.map(({ id }) => id));
  const groups = fresh(things.flatMap(({ group }) => group ?? []));
  const tethers = fresh(
    things.flatMap((thing) =>
      thing.kind === 'object' && !isKept(thing.tetherId) ? [thing.tetherId] : [],
    ),
  );
  return things.map((thing, at): Thing => {
    const copy: Thing = {
      ...thing,
      id: ids.get(thing.id)!,
      page,
      order: order + at,
      group: thing.group && groups.get(thing.group)!,
      x: roundMm(thing.x + by.x),
      y: roundMm(thing.y + by.y),
    };
    return renamed(copy, {
      tether: (id) => tethers.get(id) ?? null,
      thing: (id) => ids.get(id) ?? null,
      isWhole: false,
    });
  });
}

/** A copy with what it names of other things and tethers as these are called now. */
export function renamed(copy: Thing, names: CopyNames): Thing {
  return kindOfThing(copy).copied?.(copy, names) ?? copy;
}

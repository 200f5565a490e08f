import type { Point } from '@tether/core';
import { changeValues, type Thing, valueIn } from '@tether/documents';
import { round } from './round.ts';

/**
 * Copies of things on a page, so far aside, with tethers of their own; objects whose tether is to be kept are the same ones.
 * Groups, and what stands below another, in a view or for the rows of an object, go along with what they belong to.
 */
export function copiesOf(
  things: readonly Thing[],
  to: { page: string; order: number; by: Point; isKept: (tetherId: string) => boolean },
): Thing[] {
  const { page, order, by, isKept } = to;
  const fresh = <T extends string>(names: readonly T[]) =>
    new Map(names.map((name) => [name, crypto.randomUUID() as string]));
  const ids = fresh(things.map(({ id }) => id));
  const groups = fresh(things.flatMap(({ group }) => group ?? []));
  const objects = things.filter((thing) => thing.kind === 'object');
  const tethers = fresh(objects.flatMap(({ tetherId }) => (isKept(tetherId) ? [] : [tetherId])));
  return things.map((thing, at): Thing => {
    const copy = {
      ...thing,
      id: ids.get(thing.id)!,
      page,
      order: order + at,
      group: thing.group && groups.get(thing.group)!,
      x: round(thing.x + by.x),
      y: round(thing.y + by.y),
    };
    switch (copy.kind) {
      case 'text': {
        const { rich } = copy;
        if (!rich) return copy;
        return { ...copy, rich: changeValues(rich, (id) => valueIn(tethers.get(id) ?? id)) };
      }
      case 'object': {
        const { below, tetherId, copyOf, within } = copy;
        const upper = below && ids.get(below.of);
        const own = tethers.get(tetherId);
        return {
          ...copy,
          ...(own ? { tetherId: own, copyOf: copyOf ?? tetherId } : {}),
          field: null,
          within: within && (ids.get(within) ?? null),
          below: upper && below ? { ...below, of: upper } : null,
        };
      }
      case 'marks':
        return {
          ...copy,
          of: tethers.get(copy.of) ?? copy.of,
          view: ids.get(copy.view) ?? copy.view,
        };
      case 'dimension':
        return { ...copy, view: copy.view && (ids.get(copy.view) ?? copy.view) };
      default:
        return copy;
    }
  });
}

import { onPlan, onSheet, type PlanView, type Point, roundMm } from '@tether/core';
import type { Thing, ViewThing } from '@tether/documents';

/**
 * Dimensions of a view as they stand after it changed, by their names: at the same places of the plan. `factor`: how much
 * larger the plan is in truth than it was.
 */
export function measuredIn(
  things: readonly Thing[],
  before: ViewThing,
  after: ViewThing,
  factor = 1,
): [id: string, change: { x: number; y: number; to: Point }][] {
  const [old, next] = [planAround(before), planAround(after)];
  const moved = (place: Point): Point => {
    const { x, y } = onPlan(old, place);
    return onSheet(next, { x: x * factor, y: y * factor });
  };
  return things.flatMap((thing) => {
    if (thing.kind !== 'dimension' || thing.view !== before.id) return [];
    const from = moved(thing);
    const to = moved({ x: thing.x + thing.to.x, y: thing.y + thing.to.y });
    const change = { x: roundMm(from.x), y: roundMm(from.y) };
    return [
      [thing.id, { ...change, to: { x: roundMm(to.x - change.x), y: roundMm(to.y - change.y) } }],
    ];
  });
}

/** A view as the core reckons with it, on its sheet. */
export function planAround({ x, y, width, height, scale, centre, planTurn }: ViewThing): PlanView {
  return { box: { x, y, width, height }, scale, centre, turn: planTurn };
}

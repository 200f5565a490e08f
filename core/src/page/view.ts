import type { Box, Point } from './box.ts';
import type { Scale } from './scale.ts';

/**
 * A view: a window on a plan. Plan and sheet are both measured in millimetres, to the right and down, so that lengths in the
 * plan are true lengths.
 */
export interface PlanView {
  /** The window on the sheet. */
  box: Box;
  scale: Scale;
  /** The place of the plan in the middle of the window. */
  centre: Point;
  /** How the plan is turned in the window; degrees, clockwise as seen. */
  turn: number;
}

/** Where a place of the plan stands on the sheet. */
export function onSheet({ box, scale, centre, turn }: PlanView, place: Point): Point {
  const angle = (turn * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const [x, y] = [(place.x - centre.x) * scale, (place.y - centre.y) * scale];
  return {
    x: box.x + box.width / 2 + x * cos - y * sin,
    y: box.y + box.height / 2 + x * sin + y * cos,
  };
}

/** Which place of the plan stands at a place of the sheet. */
export function onPlan({ box, scale, centre, turn }: PlanView, place: Point): Point {
  const angle = (-turn * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const [x, y] = [place.x - (box.x + box.width / 2), place.y - (box.y + box.height / 2)];
  return {
    x: centre.x + (x * cos - y * sin) / scale,
    y: centre.y + (x * sin + y * cos) / scale,
  };
}

/**
 * The length in truth, in millimetres, that a scale bar shows: the longest of one, two or five times a power of ten that is
 * not longer than `room` millimetres of the sheet.
 */
export function scaleBarLength(scale: Scale, room: number): number {
  const most = room / scale;
  const power = 10 ** Math.floor(Math.log10(most));
  const step = [5, 2, 1].find((each) => each * power <= most * (1 + 1e-9)) ?? 1;
  return step * power;
}

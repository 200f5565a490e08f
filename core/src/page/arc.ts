import type { Box, Point } from './box.ts';
import { boxAround } from './box.ts';
import { distance } from './measure.ts';

/** A part of a circle from one place to another. */
export interface Arc {
  from: Point;
  to: Point;
  /** How far it bows out of the straight line between them, at its middle; positive to the right as seen from the first. */
  bow: number;
}

/** The circle that an arc is a part of; null for a straight one. */
export interface ArcCircle {
  centre: Point;
  radius: number;
  /** Degrees that it goes around: at most 360. */
  angle: number;
  length: number;
}

/** By the height of a segment over its chord: r = c²/8h + h/2 (common geometry of circles). */
export function circleOf({ from, to, bow }: Arc): ArcCircle | null {
  const chord = distance(from, to);
  if (chord === 0 || bow === 0) return null;
  const height = Math.abs(bow);
  const radius = chord ** 2 / (8 * height) + height / 2;
  const angle = 4 * Math.atan2(2 * height, chord);
  const side = { x: -(to.y - from.y) / chord, y: (to.x - from.x) / chord };
  const out = (height - radius) * Math.sign(bow);
  return {
    centre: {
      x: (from.x + to.x) / 2 + side.x * out,
      y: (from.y + to.y) / 2 + side.y * out,
    },
    radius,
    angle: (angle * 180) / Math.PI,
    length: radius * angle,
  };
}

/** The arc as a path (SVG 1.1, 8.3.8); a straight line where it does not bow. */
export function arcPath(arc: Arc): string {
  const { from, to, bow } = arc;
  const circle = circleOf(arc);
  if (!circle) return `M${from.x} ${from.y}L${to.x} ${to.y}`;
  const { radius, angle } = circle;
  return `M${from.x} ${from.y}A${radius} ${radius} 0 ${angle > 180 ? 1 : 0} ${bow > 0 ? 0 : 1} ${to.x} ${to.y}`;
}

/** The box around an arc: its ends, and where its circle is furthest out on it. */
export function arcBox(arc: Arc): Box {
  const circle = circleOf(arc);
  const ends = [arc.from, arc.to];
  if (!circle) return boxAround(ends)!;
  const { centre, radius } = circle;
  const furthest = [
    { x: centre.x + radius, y: centre.y },
    { x: centre.x - radius, y: centre.y },
    { x: centre.x, y: centre.y + radius },
    { x: centre.x, y: centre.y - radius },
  ];
  return boxAround([...ends, ...furthest.filter((place) => isOnArc(arc, place))])!;
}

/** Whether a place on its circle is on the arc: on that side of its chord to which it bows. */
function isOnArc({ from, to, bow }: Arc, { x, y }: Point): boolean {
  const across = (to.x - from.x) * (y - from.y) - (to.y - from.y) * (x - from.x);
  return across * bow > 0;
}

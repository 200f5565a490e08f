/** A place on a page, in millimetres from its upper left corner, or on the screen, in pixels; `y` grows downwards. */
export interface Point {
  x: number;
  y: number;
}

/** A rectangle whose sides are upright and level, in millimetres of a page or pixels of the screen. */
export interface Box extends Point {
  width: number;
  height: number;
}

/** A box that may be turned around its middle; degrees, clockwise as seen. */
export interface TurnedBox extends Box {
  turn: number;
}

export const rightOf = (box: Box): number => box.x + box.width;
export const bottomOf = (box: Box): number => box.y + box.height;
export const middleOf = (box: Box): Point => ({
  x: box.x + box.width / 2,
  y: box.y + box.height / 2,
});

/** A point turned around another; degrees, clockwise as seen. */
export function turnedPoint(point: Point, around: Point, degrees: number): Point {
  if (degrees % 360 === 0) return { x: point.x, y: point.y };
  const angle = (degrees * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const [x, y] = [point.x - around.x, point.y - around.y];
  return { x: around.x + x * cos - y * sin, y: around.y + x * sin + y * cos };
}

/** The corners of a turned box, clockwise from the one that was at its upper left. */
export function cornersOf(box: TurnedBox): [Point, Point, Point, Point] {
  const around = middleOf(box);
  const [left, top, far, low] = [box.x, box.y, rightOf(box), bottomOf(box)];
  return [
    { x: left, y: top },
    { x: far, y: top },
    { x: far, y: low },
    { x: left, y: low },
  ].map((corner) => turnedPoint(corner, around, box.turn)) as [Point, Point, Point, Point];
}

/** The smallest box around points; null around none. */
export function boxAround(points: readonly Point[]): Box | null {
  if (points.length === 0) return null;
  let [left, top, far, low] = [Infinity, Infinity, -Infinity, -Infinity];
  // A path can have more points than a call takes arguments.
  for (const { x, y } of points) {
    if (x < left) left = x;
    if (x > far) far = x;
    if (y < top) top = y;
    if (y > low) low = y;
  }
  return { x: left, y: top, width: far - left, height: low - top };
}

/** The smallest upright box that a turned one fits in. */
export function boundsOf(box: TurnedBox): Box {
  return box.turn % 360 === 0
    ? { x: box.x, y: box.y, width: box.width, height: box.height }
    : boxAround(cornersOf(box))!;
}

/** The smallest box around boxes; null around none. */
export function boxOfAll(boxes: readonly Box[]): Box | null {
  return boxAround(boxes.flatMap((box) => [box, { x: rightOf(box), y: bottomOf(box) }]));
}

/** Whether a point lies in a turned box or on its edge. */
export function isIn(point: Point, box: TurnedBox): boolean {
  const { x, y } = turnedPoint(point, middleOf(box), -box.turn);
  return x >= box.x && x <= rightOf(box) && y >= box.y && y <= bottomOf(box);
}

/** Whether an inner box lies within an outer one; `slack` millimetres over it do not count. */
export function isWithin(inner: Box, outer: Box, slack = 0): boolean {
  return (
    inner.x >= outer.x - slack &&
    inner.y >= outer.y - slack &&
    rightOf(inner) <= rightOf(outer) + slack &&
    bottomOf(inner) <= bottomOf(outer) + slack
  );
}

/** Whether two boxes share more than an edge; `slack` millimetres that they share do not count. */
export function doOverlap(one: Box, other: Box, slack = 0): boolean {
  return (
    one.x + slack < rightOf(other) &&
    other.x + slack < rightOf(one) &&
    one.y + slack < bottomOf(other) &&
    other.y + slack < bottomOf(one)
  );
}

/** The box between two corners, whichever they are. */
export function boxBetween(one: Point, other: Point): Box {
  return boxAround([one, other])!;
}

/** Where a box is taken hold of to change its size: -1 for left or top, 1 for right or bottom, 0 for neither. */
export interface Grip {
  across: -1 | 0 | 1;
  down: -1 | 0 | 1;
}

/** The eight grips of a box, clockwise from its upper left. */
export const GRIPS: readonly Grip[] = [
  { across: -1, down: -1 },
  { across: 0, down: -1 },
  { across: 1, down: -1 },
  { across: 1, down: 0 },
  { across: 1, down: 1 },
  { across: 0, down: 1 },
  { across: -1, down: 1 },
  { across: -1, down: 0 },
];

/** Millimetres that a box keeps at least when its size is changed by hand. */
export const LEAST_SIZE = 1;

/**
 * A box whose grip was moved. What lies opposite the grip stays where it is on the page, also of a turned box. With
 * `isInShape` its sides keep their proportion: the way that was moved further decides.
 */
export function resizedBox(box: TurnedBox, grip: Grip, by: Point, isInShape = false): TurnedBox {
  // The grip moves along the sides of the box, however it is turned.
  const along = turnedPoint(by, { x: 0, y: 0 }, -box.turn);
  let width = Math.max(LEAST_SIZE, box.width + grip.across * along.x);
  let height = Math.max(LEAST_SIZE, box.height + grip.down * along.y);
  if (isInShape) {
    const byWidth = grip.across === 0 ? 0 : width / box.width;
    const byHeight = grip.down === 0 ? 0 : height / box.height;
    const factor =
      Math.abs(byWidth - 1) * Math.abs(grip.across) >= Math.abs(byHeight - 1) * Math.abs(grip.down)
        ? byWidth
        : byHeight;
    // Neither side may come out too small.
    const least = Math.max(factor, LEAST_SIZE / box.width, LEAST_SIZE / box.height);
    [width, height] = [box.width * least, box.height * least];
  }
  // Seen along its own sides the opposite point stays; then the middle of the new box is turned with the old one.
  const around = middleOf(box);
  const grown = { x: width - box.width, y: height - box.height };
  const shift = { x: (grip.across * grown.x) / 2, y: (grip.down * grown.y) / 2 };
  const centre = turnedPoint({ x: around.x + shift.x, y: around.y + shift.y }, around, box.turn);
  return { x: centre.x - width / 2, y: centre.y - height / 2, width, height, turn: box.turn };
}

/** Degrees from the middle of a box to a point, 0 straight up, clockwise; from 0 to below 360. */
export function directionTo(point: Point, from: Point): number {
  const degrees = (Math.atan2(point.x - from.x, from.y - point.y) * 180) / Math.PI;
  return (degrees + 360) % 360;
}

import { type Box, bottomOf, doOverlap, type Point, rightOf, type Size } from '@tether/core';

/** The corners of a frame in which something can be put. */
export const CORNERS = ['upper left', 'upper right', 'lower left', 'lower right'] as const;
export type Corner = (typeof CORNERS)[number];

/** Where a new object is to stand on a page. */
export type Stand =
  | { kind: 'corner'; corner: Corner }
  /** Below another object, and moving with it. */
  | { kind: 'below'; of: string }
  /** Where the page is clicked next. */
  | { kind: 'pointer' }
  /** In the line of a text, where that was written in. */
  | { kind: 'in text' }
  | { kind: 'point'; point: Point };

/** Millimetres that a copy stands beside what it was copied from, and something new beside a corner. */
export const STEP_ASIDE = 5;
/** A hair less than a room that is filled: what is rounded would not fit into it. */
const HAIR = 0.05;

/**
 * Where something of this size stands in a corner of the frame: beside what is kept free there, such as the title block.
 * Larger than the frame it begins where the frame begins.
 */
export function cornerPlace(
  corner: Corner,
  { width, height }: Size,
  space: Box,
  kept: readonly Box[],
): Point {
  const x = corner.endsWith('right') ? rightOf(space) - width - HAIR : space.x;
  const y = corner.startsWith('lower') ? bottomOf(space) - height - HAIR : space.y;
  const place = { x: Math.max(space.x, x), y: Math.max(space.y, y) };
  const inTheWay = kept.find((box) => doOverlap({ ...place, width, height }, box, HAIR));
  if (!inTheWay) return place;
  const isAbove = corner.startsWith('lower');
  const beside = isAbove ? inTheWay.y - height - HAIR : bottomOf(inTheWay) + HAIR;
  return { x: place.x, y: Math.max(space.y, beside) };
}

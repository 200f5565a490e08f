import type { StandingName } from '../change/standing.ts';
import type { Point } from '../page/box.ts';

/** How a tether stands, as far as its cord shows it. */
export interface CordState {
  standing: StandingName;
  /** How many cells are behind. */
  behindBy: number;
  /** How many edits wait to be written back. */
  edits?: number;
}

/** How a cord is drawn, as paths of SVG 1.1 (8.3). */
export interface Cord {
  /** The cord itself, from the object to its cells; of a broken one, what still hangs at the object. */
  path: string;
  /** The strands at a broken end. */
  strands: string | null;
  /** The knot of edits that wait; null for none. */
  knot: string | null;
  /** Where the lower side of its bow is. */
  middle: Point;
}

const LEAST_SAG = 14;
const SAG_STEP = 11;
const MOST_SAG = 96;
/** How much of the way a broken cord still reaches, and how far it falls. */
const BROKEN_REACH = 0.42;
const BROKEN_FALL = 46;
const STRAND = 7;
/** Half the width of a loop of a knot. */
const KNOT = 4;

/**
 * How deep a cord hangs in its middle, in pixels: nothing when in step; the more cells are behind the deeper, each
 * doubling of their number by the same step, so that one cell shows and ten thousand still fit the screen.
 */
export function sagOf({ standing, behindBy }: CordState): number {
  if (behindBy === 0 || (standing !== 'behind' && standing !== 'contested')) return 0;
  return Math.min(MOST_SAG, LEAST_SAG + SAG_STEP * Math.log2(Math.max(1, behindBy)));
}

/**
 * The cord from an object to its cells. In step it is straight; behind it hangs by its weight, drawn as the parabola
 * through both ends that lies `sagOf` below the middle of the straight line; adrift it is broken at the end of the cells.
 */
export function drawCord(from: Point, to: Point, state: CordState): Cord {
  const middle = { x: (from.x + to.x) / 2, y: (from.y + to.y) / 2 };
  if (state.standing === 'adrift') return broken(from, to);
  const sag = sagOf(state);
  const tied = (place: Point) => (state.edits ? knotAt(place) : null);
  if (sag === 0) {
    return { path: `M${at(from)}L${at(to)}`, strands: null, knot: tied(middle), middle };
  }
  // A quadratic curve passes half-way between the middle of its ends and its control point.
  const control = { x: middle.x, y: middle.y + 2 * sag };
  const low = { x: middle.x, y: middle.y + sag };
  return {
    path: `M${at(from)}Q${at(control)} ${at(to)}`,
    strands: null,
    knot: tied(low),
    middle: low,
  };
}

/** Two loops that hold each other, drawn over the cord. */
function knotAt({ x, y }: Point): string {
  const loop = (shift: number) =>
    `M${at({ x: x + shift - KNOT, y })}a${KNOT} ${KNOT * 0.75} 0 1 0 ${2 * KNOT} 0a${KNOT} ${KNOT * 0.75} 0 1 0 ${-2 * KNOT} 0`;
  return loop(-KNOT / 2) + loop(KNOT / 2);
}

function broken(from: Point, to: Point): Cord {
  const end = {
    x: from.x + (to.x - from.x) * BROKEN_REACH,
    y: from.y + (to.y - from.y) * BROKEN_REACH + BROKEN_FALL,
  };
  const control = { x: from.x + (end.x - from.x) * 0.75, y: from.y + (end.y - from.y) * 0.2 };
  const strands = [-0.6, 0, 0.7]
    .map((turn) => {
      const tip = {
        x: end.x + STRAND * Math.sign(to.x - from.x || 1) * (0.7 - Math.abs(turn) * 0.4),
        y: end.y + STRAND * (0.8 + turn * 0.5),
      };
      return `M${at(end)}L${at(tip)}`;
    })
    .join('');
  return { path: `M${at(from)}Q${at(control)} ${at(end)}`, strands, knot: null, middle: end };
}

function at({ x, y }: Point): string {
  return `${x.toFixed(1)} ${y.toFixed(1)}`;
}

/** What is seen of one side of a document and its source: pixels of the screen. */
export interface Pane {
  top: number;
  bottom: number;
  left: number;
  right: number;
}

/** The end of a cord at something that stands in a pane, and whether that is scrolled out of it. */
export interface CordEnd extends Point {
  isOutside: boolean;
}

/**
 * Where a cord ends at a box: at the side that faces the other pane, at the height `y`. What is scrolled out of its pane
 * holds its cord at the pane's rim, so that it shows in which direction it lies.
 */
export function endAt(box: Pane, side: 'left' | 'right', y: number, pane: Pane): CordEnd {
  const x = side === 'right' ? box.right : box.left;
  const inX = Math.min(pane.right, Math.max(pane.left, x));
  const inY = Math.min(pane.bottom, Math.max(pane.top, y));
  const isOutside =
    box.bottom < pane.top ||
    box.top > pane.bottom ||
    box.right < pane.left ||
    box.left > pane.right;
  return { x: inX, y: inY, isOutside };
}

/** The height at which a cord holds a box of cells: the middle of what is seen of it. */
function heldAt(box: Pane, pane: Pane): number {
  const top = Math.max(box.top, pane.top);
  const bottom = Math.min(box.bottom, pane.bottom);
  return top <= bottom ? (top + bottom) / 2 : box.top > pane.bottom ? pane.bottom : pane.top;
}

/**
 * Where a cord comes to a box of cells without crossing other ones, which somebody may be reading: at the left rim of the
 * cells' pane, and from there along the line above or below the box to its `edge`. That is null where nothing is left to go
 * along: the box begins at the rim, or neither of its lines is seen.
 */
export function heldAlong(box: Pane, pane: Pane): { at: CordEnd; edge: number | null } {
  const isSeen = (y: number) => y >= pane.top && y <= pane.bottom;
  const line = isSeen(box.top) ? box.top : isSeen(box.bottom) ? box.bottom : null;
  const { isOutside, ...held } = endAt(box, 'left', heldAt(box, pane), pane);
  if (held.x <= pane.left || isOutside || line === null) {
    return { at: { ...held, x: pane.left, isOutside }, edge: null };
  }
  return { at: { x: pane.left, y: line, isOutside }, edge: held.x };
}

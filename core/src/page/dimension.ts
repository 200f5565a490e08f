import type { Point } from './box.ts';
import { distance } from './measure.ts';

/** Millimetres of a dimension by ISO 129-1:2018: gap at the outline, what extension lines have over, length of an arrow. */
export const DIMENSION = { gap: 1, over: 2, arrow: 3, text: 1 } as const;

/** The lines of a dimension between two places. */
export interface DimensionLines {
  /** From the outline to over the dimension line. */
  extensions: [[Point, Point], [Point, Point]];
  line: [Point, Point];
  /** Points of the arrows with the way that they point, in degrees: 0 to the right, clockwise. */
  arrows: [{ at: Point; turn: number }, { at: Point; turn: number }];
  /** Middle of the lower edge of the figures, and how they are turned: read from below or from the right. */
  text: { at: Point; turn: number };
  /** What is measured, in units of the two places. */
  length: number;
}

/**
 * A dimension parallel to the line between two places, so far beside it; positive to the right as seen from the first to
 * the second. Null between places that are one.
 */
export function dimensionLines(from: Point, to: Point, beside: number): DimensionLines | null {
  const length = distance(from, to);
  if (length === 0) return null;
  const ahead = { x: (to.x - from.x) / length, y: (to.y - from.y) / length };
  const side = { x: -ahead.y, y: ahead.x };
  const way = beside < 0 ? -1 : 1;
  const at = (point: Point, out: number): Point => ({
    x: point.x + side.x * out,
    y: point.y + side.y * out,
  });
  const gap = Math.min(DIMENSION.gap, Math.abs(beside)) * way;
  const extension = (point: Point): [Point, Point] => [
    at(point, gap),
    at(point, beside + DIMENSION.over * way),
  ];
  const line: [Point, Point] = [at(from, beside), at(to, beside)];
  const degrees = (Math.atan2(ahead.y, ahead.x) * 180) / Math.PI;
  // Figures stand over the line, and are read from below or from the right (ISO 129-1:2018, 5.6).
  const isOver = degrees > 90 - 1e-9 || degrees <= -90 - 1e-9;
  const turn = isOver ? degrees - Math.sign(degrees || 1) * 180 : degrees;
  const up = isOver ? 1 : -1;
  const centre = { x: (line[0].x + line[1].x) / 2, y: (line[0].y + line[1].y) / 2 };
  return {
    extensions: [extension(from), extension(to)],
    line,
    arrows: [
      { at: line[0], turn: degrees + 180 },
      { at: line[1], turn: degrees },
    ],
    text: { at: at(centre, DIMENSION.text * up), turn: turn === 0 ? 0 : turn },
    length,
  };
}

import type { Point } from './box.ts';

export const distance = (a: Point, b: Point): number => Math.hypot(b.x - a.x, b.y - a.y);

/** Length of a line through points. */
export function lengthOf(points: readonly Point[]): number {
  let sum = 0;
  for (let at = 1; at < points.length; at++) sum += distance(points[at - 1]!, points[at]!);
  return sum;
}

/** Area inside a closed line through points, whichever way it goes round. A line that crosses itself counts parts twice or not at all. */
export function areaOf(points: readonly Point[]): number {
  let sum = 0;
  for (const [at, { x, y }] of points.entries()) {
    const next = points[(at + 1) % points.length]!;
    sum += x * next.y - next.x * y;
  }
  return Math.abs(sum) / 2;
}

/** The middle of the area inside a closed line, where its figure stands; the middle of the points where it has none. */
export function centreOf(points: readonly Point[]): Point {
  let [sum, x, y] = [0, 0, 0];
  for (const [at, point] of points.entries()) {
    const next = points[(at + 1) % points.length]!;
    const cross = point.x * next.y - next.x * point.y;
    sum += cross;
    x += (point.x + next.x) * cross;
    y += (point.y + next.y) * cross;
  }
  if (Math.abs(sum) > 1e-12) return { x: x / (3 * sum), y: y / (3 * sum) };
  const count = Math.max(1, points.length);
  return {
    x: points.reduce((all, point) => all + point.x, 0) / count,
    y: points.reduce((all, point) => all + point.y, 0) / count,
  };
}

/** A place along a line: how far from its beginning, and how far beside it. */
export interface Station {
  /** Along the line from its first point: its chainage. */
  along: number;
  /** Beside the line: positive to the right as it is walked. */
  beside: number;
}

/**
 * The place at a chainage of a line through points, so far beside it; common practice in setting out. Before its beginning
 * and behind its end the line goes straight on. Null for a line without a length.
 */
export function placeAt(line: readonly Point[], { along, beside }: Station): Point | null {
  const pieces = piecesOf(line);
  if (pieces.length === 0) return null;
  let from = 0;
  for (const [at, piece] of pieces.entries()) {
    const to = from + piece.length;
    if (along <= to || at === pieces.length - 1) {
      const { start, ahead } = piece;
      const way = along - from;
      // To the right of somebody who looks ahead, where y grows downwards.
      return {
        x: start.x + ahead.x * way - ahead.y * beside,
        y: start.y + ahead.y * way + ahead.x * beside,
      };
    }
    from = to;
  }
  return null;
}

/** The chainage of the place on a line that is nearest to a point, and how far beside it the point lies. Null as above. */
export function stationOf(line: readonly Point[], point: Point): Station | null {
  let best: (Station & { away: number }) | null = null;
  let from = 0;
  const pieces = piecesOf(line);
  for (const [at, { start, ahead, length }] of pieces.entries()) {
    const [x, y] = [point.x - start.x, point.y - start.y];
    const projected = x * ahead.x + y * ahead.y;
    const low = at === 0 ? -Infinity : 0;
    const high = at === pieces.length - 1 ? Infinity : length;
    const way = Math.min(high, Math.max(low, projected));
    const away = Math.hypot(x - ahead.x * way, y - ahead.y * way);
    if (!best || away < best.away - 1e-12) {
      const side = ahead.x * y - ahead.y * x;
      best = { along: from + way, beside: side < 0 ? -away : away, away };
    }
    from += length;
  }
  return best && { along: best.along, beside: best.beside };
}

/** The straight pieces of a line with the way that they go; points that are told twice make none. */
function piecesOf(line: readonly Point[]) {
  return line.slice(1).flatMap((end, at) => {
    const start = line[at]!;
    const length = distance(start, end);
    if (length === 0) return [];
    return [
      { start, length, ahead: { x: (end.x - start.x) / length, y: (end.y - start.y) / length } },
    ];
  });
}

/** Distance of a point from a line through points; infinite from none. */
export function distanceToLine(line: readonly Point[], point: Point): number {
  if (line.length === 1) return distance(line[0]!, point);
  let least = Infinity;
  for (let at = 1; at < line.length; at++) {
    const [a, b] = [line[at - 1]!, line[at]!];
    const [x, y] = [b.x - a.x, b.y - a.y];
    const square = x * x + y * y;
    const way = square === 0 ? 0 : ((point.x - a.x) * x + (point.y - a.y) * y) / square;
    const part = Math.min(1, Math.max(0, way));
    least = Math.min(least, Math.hypot(point.x - a.x - x * part, point.y - a.y - y * part));
  }
  return least;
}

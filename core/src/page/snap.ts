import { type Box, bottomOf, middleOf, type Point, rightOf } from './box.ts';

/** A line that things are set in line with; a place across for upright ones, a place down for level ones. */
export interface Guide {
  way: 'upright' | 'level';
  at: number;
  /** How far it is drawn, along it. */
  from: number;
  to: number;
}

/** The edges and the middle lines of a box as guides. */
export function guidesOf(box: Box): Guide[] {
  const centre = middleOf(box);
  const upright = [box.x, centre.x, rightOf(box)].map(
    (at): Guide => ({
      way: 'upright',
      at,
      from: box.y,
      to: bottomOf(box),
    }),
  );
  const level = [box.y, centre.y, bottomOf(box)].map(
    (at): Guide => ({
      way: 'level',
      at,
      from: box.x,
      to: rightOf(box),
    }),
  );
  return [...upright, ...level];
}

/** What something may be snapped to. */
export interface SnapTo {
  guides: readonly Guide[];
  /** Millimetres between the lines of a grid that begins at `origin`; null for none. */
  grid: { step: number; origin: Point } | null;
  /** Millimetres from which on it snaps. */
  reach: number;
}

export interface Snapped {
  /** How far it moves more than it was moved by hand. */
  by: Point;
  /** The guides it stands at then, to be drawn. */
  at: Guide[];
}

/**
 * Snaps places of what is moved: the nearest guide each way, else the nearest line of the grid. `across` and `down` are the
 * places that may snap, such as left edge, middle and right edge.
 */
export function snap(
  across: readonly number[],
  down: readonly number[],
  { guides, grid, reach }: SnapTo,
): Snapped {
  const find = (way: Guide['way'], places: readonly number[], origin: number) => {
    let best: { by: number; guide: Guide | null } | null = null;
    const offer = (by: number, guide: Guide | null) => {
      if (Math.abs(by) <= reach && (!best || Math.abs(by) < Math.abs(best.by) - 1e-9)) {
        best = { by, guide };
      }
    };
    for (const guide of guides) {
      if (guide.way === way) for (const place of places) offer(guide.at - place, guide);
    }
    if (!best && grid) {
      const [first] = places;
      if (first !== undefined) {
        const line = origin + Math.round((first - origin) / grid.step) * grid.step;
        offer(line - first, null);
      }
    }
    return best as { by: number; guide: Guide | null } | null;
  };
  const x = find('upright', across, grid?.origin.x ?? 0);
  const y = find('level', down, grid?.origin.y ?? 0);
  return {
    by: { x: x?.by ?? 0, y: y?.by ?? 0 },
    at: [x?.guide, y?.guide].filter((guide): guide is Guide => guide != null),
  };
}

/** Snaps a box that is moved: its edges and its middle lines. */
export function snapBox(box: Box, to: SnapTo): Snapped {
  const centre = middleOf(box);
  return snap([box.x, centre.x, rightOf(box)], [box.y, centre.y, bottomOf(box)], to);
}

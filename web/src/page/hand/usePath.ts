import { distance, type Point } from '@tether/core';
import { useEffect, useState } from 'react';
import type { PageSurface } from '../surface/page-surface.ts';
import { pathThing, type Tool } from './drawn-by-hand.ts';
import { guidesAround, seenAt } from './hand.ts';
import type { HeldKeys, PagePoint } from './usePagePoint.ts';

/** A line that is being drawn by clicks. */
export interface Path {
  /** Its points so far; null while none is drawn. */
  points: readonly Point[] | null;
  begin(at: Point): void;
  /** Where its next point comes to stand. */
  next(at: Point, keys: HeldKeys): Point;
  /** Adds a point. At the first one the line is closed. */
  add(point: Point): void;
  /** Ends it, and puts it on the page where it is a line already. */
  end(isClosed: boolean): void;
  /** Gives it up. */
  drop(): void;
}

/** A line of several points, drawn by clicks while the tool for lines is taken up; `onEnd` is told when it ends. */
export function usePath(
  surface: PageSurface,
  tool: Tool,
  point: PagePoint,
  onEnd: () => void,
): Path {
  const [points, setPoints] = useState<readonly Point[] | null>(null);
  // Whoever takes up something else draws on no line.
  useEffect(() => {
    if (tool !== 'line') setPoints(null);
  }, [tool]);
  const path: Path = {
    points,
    begin: (at) => setPoints([at]),
    next(at, keys) {
      const guides = guidesAround(surface, new Set());
      const from = points!.at(-1)!;
      return seenAt({ kind: 'draw', from, guides }, at, keys, point.snapping()).line![1];
    },
    add(at) {
      const [first] = points!;
      const isBack = first !== undefined && distance(first, at) <= point.snapping().reach;
      if (points!.length > 2 && isBack) path.end(true);
      else setPoints([...points!, at]);
    },
    end(isClosed) {
      const made = points && pathThing(points, surface, isClosed);
      setPoints(null);
      onEnd();
      if (made) surface.steps.add([made]);
      // Keys act on what was drawn.
      surface.element.focus({ preventScroll: true });
    },
    drop() {
      setPoints(null);
      onEnd();
    },
  };
  return path;
}

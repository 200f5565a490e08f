import { PIXELS_PER_MM, type Point } from '@tether/core';
import { type RefObject, useCallback } from 'react';
import type { PageSurface } from '../surface/page-surface.ts';
import { guidesAround, type Snapping, seenAt } from './hand.ts';

/** Pixels of the screen within which things snap. */
const SNAP_REACH = 6;

/** Which keys are held while a pointer does something. */
export interface HeldKeys {
  shiftKey: boolean;
  altKey: boolean;
}

/** What of the page a pointer is over, in millimetres. */
export interface PagePoint {
  /** Where an event of the pointer is. */
  of(event: { clientX: number; clientY: number }): Point;
  /** A place of the page, snapped to what is around it. */
  snapped(at: Point, keys: HeldKeys): Point;
  /** To what things snap at the moment. */
  snapping(): Snapping;
}

/** Reads places of the page that is shown from events over its canvas, which is drawn at `scale`. */
export function usePagePoint(
  canvas: RefObject<HTMLElement | null>,
  surface: PageSurface,
  scale: number,
  grid: number | null,
): PagePoint {
  const { width } = surface.shown.size();
  const of = useCallback(
    (event: { clientX: number; clientY: number }): Point => {
      const box = canvas.current!.getBoundingClientRect();
      const perMm = box.width / width;
      return { x: (event.clientX - box.left) / perMm, y: (event.clientY - box.top) / perMm };
    },
    [canvas, width],
  );
  const snapping = () => {
    const { x, y } = surface.shown.space();
    return { grid, reach: SNAP_REACH / (scale * PIXELS_PER_MM), origin: { x, y } };
  };
  const snapped = (at: Point, keys: HeldKeys): Point => {
    const guides = guidesAround(surface, new Set());
    const { frame } = seenAt({ kind: 'draw', from: at, guides }, at, keys, snapping());
    return { x: frame!.x + frame!.width, y: frame!.y + frame!.height };
  };
  return { of, snapped, snapping };
}

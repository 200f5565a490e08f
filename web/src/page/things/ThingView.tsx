import { PIXELS_PER_MM, type Point, type TurnedBox } from '@tether/core';
import { kindOfThing, type Thing } from '@tether/documents';
import { memo } from 'react';
import { useSurface } from '../../documents/surface.ts';
import type { DrawnProps } from './thing-screen.ts';
import { screenOf } from './thing-screens.tsx';

interface Props extends DrawnProps<Thing> {
  /** Where it stands, as single numbers, so that it is drawn anew only when they change. */
  x: number;
  y: number;
  width: number;
  height: number;
  /** It is not printed. */
  isOffPaper?: boolean;
}

const px = (millimetres: number) => millimetres * PIXELS_PER_MM;

/** One thing on a page, at its place. */
export const ThingView = memo(function ThingView(props: Props) {
  const { x, y, width, height, isOffPaper, ...drawn } = props;
  const { surface, thing } = drawn;
  // A value in a line is drawn by its text.
  const isInLine = useSurface(surface, () => surface.texts.textOf(thing) !== null);
  if (isInLine) return null;
  const { extent } = kindOfThing(thing);
  // What is drawn by points begins at its corner, not at that of its box.
  const corner = extent === 'points' ? thing : { x, y };
  const { Drawn } = screenOf(thing);
  return (
    <div
      data-thing={thing.id}
      {...('tetherId' in thing ? { 'data-tether-id': thing.tetherId } : {})}
      className={`thing absolute ${extent === 'content' ? 'placed-object' : ''} ${extent === 'host' ? 'pointer-events-none' : ''} ${isOffPaper ? 'off-paper' : ''}`}
      style={{
        left: px(corner.x),
        top: px(corner.y),
        ...(extent === 'content' || extent === 'points'
          ? {}
          : { width: px(width), height: px(height) }),
        ...(thing.turn
          ? {
              transform: `rotate(${thing.turn}deg)`,
              transformOrigin: `${px(x + width / 2 - corner.x)}px ${px(y + height / 2 - corner.y)}px`,
            }
          : {}),
      }}
    >
      <Drawn {...drawn} />
    </div>
  );
});

/** Where something stands while it is moved by hand. */
export const shifted = (box: TurnedBox, by: Point | null): TurnedBox =>
  by ? { ...box, x: box.x + by.x, y: box.y + by.y } : box;

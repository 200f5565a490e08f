import type { ReactNode } from 'react';

/** From so many degrees on letters stand upright: they run along the height of their cell. */
const UPRIGHT_FROM = 60;

/**
 * What stands in a cell, turned as the source turns it: counter-clockwise by degrees, as ECMA-376 Part 1, 18.8.1 counts. Up
 * and down it runs along its cell; at an angle it rises, or falls, from the corner where it begins, over its neighbours.
 */
export function Turned(props: { rotation: number | undefined; children: ReactNode }) {
  const { rotation = 0, children } = props;
  if (rotation === 0) return children;
  if (Math.abs(rotation) >= UPRIGHT_FROM) {
    return (
      <span
        className={`inline-block py-0.5 ${rotation > 0 ? 'rotate-180' : ''}`}
        style={{ writingMode: 'vertical-rl' }}
      >
        {children}
      </span>
    );
  }
  return (
    <span
      className={`inline-block ${rotation > 0 ? 'origin-bottom-left' : 'origin-top-left'}`}
      style={{ transform: `rotate(${-rotation}deg)` }}
    >
      {children}
    </span>
  );
}

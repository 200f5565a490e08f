import type { ReactNode } from 'react';

/** From so many degrees on letters stand upright: they run along the height of their cell. */
const UPRIGHT_FROM = 60;

/**
 * What stands in a cell, turned as the source turns it: counter-clockwise by degrees, as ECMA-376 Part 1, 18.8.1 counts. Up
 * and down it runs along its cell; at an angle it is turned about its own middle.
 */
export function Turned(props: { rotation: number | undefined; children: ReactNode }) {
  const { rotation = 0, children } = props;
  if (rotation === 0) return <span className="min-w-0">{children}</span>;
  if (Math.abs(rotation) >= UPRIGHT_FROM) {
    return (
      <span
        className={`inline-block self-center ${rotation > 0 ? 'rotate-180' : ''}`}
        style={{ writingMode: 'vertical-rl' }}
      >
        {children}
      </span>
    );
  }
  return (
    <span className="inline-block self-center" style={{ transform: `rotate(${-rotation}deg)` }}>
      {children}
    </span>
  );
}

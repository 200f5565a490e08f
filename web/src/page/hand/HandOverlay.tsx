import { PIXELS_PER_MM, type Point } from '@tether/core';
import { InMillimetres } from '../drawn/DrawnShapes.tsx';
import type { Tool } from './drawn-by-hand.ts';
import type { Seen } from './hand.ts';

/** The frame that is dragged, what is being drawn, and the guides that something stands at. */
export function HandOverlay(props: {
  seen: Seen;
  /** The points of a line so far. */
  path: readonly Point[] | null;
  tool: Tool;
  scale: number;
}) {
  const { seen, path, tool, scale } = props;
  const { frame, line, guides } = seen;
  const stroke = 1 / (scale * PIXELS_PER_MM);
  const isLine = tool === 'line' || tool === 'arc' || tool === 'dimension';
  return (
    <InMillimetres className="z-10">
      {guides.map(({ way, at, from, to }, index) => (
        <line
          key={index}
          data-guide={way}
          {...(way === 'upright'
            ? { x1: at, x2: at, y1: from, y2: to }
            : { x1: from, x2: to, y1: at, y2: at })}
          stroke="var(--color-rope)"
          strokeWidth={stroke}
          strokeDasharray={`${4 * stroke} ${3 * stroke}`}
        />
      ))}
      {path && (
        <polyline
          points={path.map(({ x, y }) => `${x},${y}`).join(' ')}
          fill="none"
          stroke="var(--color-deep)"
          strokeWidth={1.5 * stroke}
        />
      )}
      {line && isLine && (
        <line
          x1={line[0].x}
          y1={line[0].y}
          x2={line[1].x}
          y2={line[1].y}
          stroke="var(--color-deep)"
          strokeWidth={1.5 * stroke}
        />
      )}
      {frame && !isLine && tool !== 'ellipse' && (
        <rect
          {...frame}
          fill={
            tool === 'choose' ? 'color-mix(in srgb, var(--color-rope) 10%, transparent)' : 'none'
          }
          stroke="var(--color-rope)"
          strokeWidth={stroke}
        />
      )}
      {frame && tool === 'ellipse' && (
        <ellipse
          cx={frame.x + frame.width / 2}
          cy={frame.y + frame.height / 2}
          rx={frame.width / 2}
          ry={frame.height / 2}
          fill="none"
          stroke="var(--color-rope)"
          strokeWidth={stroke}
        />
      )}
    </InMillimetres>
  );
}

import {
  borderWidth,
  drawFacsimile,
  type Mark,
  PIXELS_PER_POINT,
  type Snapshot,
} from '@tether/core';
import { memo, useId, useMemo } from 'react';
import { ConditionIcon } from './table/ConditionIcon.tsx';
import { lettersStyle } from './table/letters.ts';

/** How a border's pattern is drawn, in its own widths, by its name in ECMA-376 Part 1, 18.18.3. */
const PATTERNS: Record<string, string> = {
  hair: '1 1',
  dotted: '2 2',
  dashed: '5 3',
  dashDot: '6 3 2 3',
  dashDotDot: '6 3 2 3 2 3',
  mediumDashed: '8 4',
  mediumDashDot: '8 4 3 4',
  mediumDashDotDot: '8 4 3 4 3 4',
  slantDashDot: '8 4 3 4',
};

interface Props {
  snapshot: Snapshot;
  label: string;
  /** Width in pixels that it is scaled to. */
  width: number;
}

/** A part of a sheet exactly as in its source, as vectors: scaled as one piece. */
export const FacsimileFigure = memo(function FacsimileFigure({ snapshot, label, width }: Props) {
  const figure = useMemo(() => drawFacsimile(snapshot), [snapshot]);
  const id = useId();
  return (
    <svg
      role="img"
      aria-label={label}
      width={width}
      height={(figure.height * width) / Math.max(1, figure.width)}
      // Half of an outer line lies outside of the cells.
      viewBox={`-1 -1 ${figure.width + 2} ${figure.height + 2}`}
      className="facsimile block"
    >
      {figure.marks.map((mark, index) => (
        <MarkShape key={index} mark={mark} partId={`${id}-${index}`} />
      ))}
    </svg>
  );
});

function MarkShape({ mark, partId }: { mark: Mark; partId: string }) {
  switch (mark.kind) {
    case 'fill': {
      const { x, y, width, height, colour, to } = mark;
      const box = { x, y, width, height };
      if (to === undefined) return <rect {...box} fill={colour} />;
      return (
        <>
          <linearGradient id={partId}>
            <stop offset="0" stopColor={colour} />
            <stop offset="1" stopColor={to} />
          </linearGradient>
          <rect {...box} fill={`url(#${partId})`} />
        </>
      );
    }
    case 'line': {
      const { from, to, line } = mark;
      const width = borderWidth(line);
      const ends = { x1: from[0], y1: from[1], x2: to[0], y2: to[1] };
      if (line.style === 'double') {
        return (
          <>
            <line {...ends} stroke={line.colour} strokeWidth={3} />
            <line {...ends} stroke="#FFFFFF" strokeWidth={1} />
          </>
        );
      }
      return (
        <line
          {...ends}
          stroke={line.colour}
          strokeWidth={width}
          strokeDasharray={PATTERNS[line.style]}
        />
      );
    }
    case 'text': {
      const { x, y, text, letters, rotation, clip } = mark;
      const { color, fontSize: _, ...style } = lettersStyle(letters);
      return (
        <>
          {clip && (
            <clipPath id={partId}>
              <rect x={clip.x} y={clip.y} width={clip.width} height={clip.height} />
            </clipPath>
          )}
          <text
            x={x}
            y={y}
            fill={color}
            style={{ ...style, fontSize: letters.size * PIXELS_PER_POINT, whiteSpace: 'pre' }}
            transform={rotation === 0 ? undefined : `rotate(${-rotation} ${x} ${y})`}
            clipPath={clip ? `url(#${partId})` : undefined}
          >
            {text}
          </text>
        </>
      );
    }
    case 'icon':
      return (
        <g transform={`translate(${mark.x} ${mark.y})`}>
          <ConditionIcon icon={mark.icon} />
        </g>
      );
  }
}

import {
  arcPath,
  areaOf,
  centreOf,
  DIMENSION,
  dashes,
  dimensionLines,
  fontSizeFor,
  PIXELS_PER_MM,
  type Point,
} from '@tether/core';
import type { Thing, ThingOf } from '@tether/documents';
import type { ReactNode } from 'react';
import { CAPITALS, PAGE_FONT } from './page-letters.ts';

/** Millimetres around a thin line where it can be taken hold of. */
const HOLD = 3;
/** Millimetres between the lines of a hatching, and their width. */
const HATCH = { gap: 2, line: 0.18 };

/** How things drawn with lines look, in millimetres from their corner. */
export function RectangleShape({ thing }: { thing: ThingOf<'rectangle'> }): ReactNode {
  const { width, height } = thing;
  return <Shape thing={thing} path={`M0 0H${width}V${height}H0Z`} isClosed />;
}

export function EllipseShape({ thing }: { thing: ThingOf<'ellipse'> }): ReactNode {
  const [x, y] = [thing.width / 2, thing.height / 2];
  const path = `M0 ${y}A${x} ${y} 0 1 0 ${2 * x} ${y}A${x} ${y} 0 1 0 0 ${y}Z`;
  return <Shape thing={thing} path={path} isClosed />;
}

export function LineShape({ thing }: { thing: ThingOf<'line'> }): ReactNode {
  const { points, isClosed } = thing;
  return <Shape thing={thing} path={pathOf(points, isClosed)} isClosed={isClosed} />;
}

export function ArcShape({ thing }: { thing: ThingOf<'arc'> }): ReactNode {
  const path = arcPath({ from: { x: 0, y: 0 }, to: thing.to, bow: thing.bow });
  return <Shape thing={{ ...thing, fill: 'none' }} path={path} isClosed={false} />;
}

const pathOf = (points: readonly Point[], isClosed: boolean) =>
  `M${points.map(({ x, y }) => `${x} ${y}`).join('L')}${isClosed ? 'Z' : ''}`;

/**
 * A drawing in millimetres that may go over its own edges. Its element is one pixel large: browsers round the sizes of
 * elements, and a drawing that is scaled by a rounded size is some thousandths too small.
 */
export function InMillimetres({
  children,
  className = '',
}: {
  children: ReactNode;
  className?: string;
}) {
  return (
    <svg
      aria-hidden
      className={`pointer-events-none absolute top-0 left-0 overflow-visible ${className}`}
      width={1}
      height={1}
      viewBox="0 0 1 1"
    >
      <g transform={`scale(${PIXELS_PER_MM})`}>{children}</g>
    </svg>
  );
}

function Shape(props: {
  thing: Pick<ThingOf<'rectangle'>, 'id' | 'fill' | 'line' | 'lineKind' | 'colour'>;
  path: string;
  isClosed: boolean;
}) {
  const { thing, path, isClosed } = props;
  const hatching = `hatch-${thing.id}`;
  const fill =
    !isClosed || thing.fill === 'none'
      ? 'none'
      : thing.fill === 'hatched'
        ? `url(#${hatching})`
        : thing.fill;
  return (
    <InMillimetres>
      {thing.fill === 'hatched' && (
        <pattern
          id={hatching}
          width={HATCH.gap}
          height={HATCH.gap}
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <line y2={HATCH.gap} stroke={thing.colour} strokeWidth={HATCH.line * 2} />
        </pattern>
      )}
      {/* What is filled can be taken hold of inside, an outline only at its line. */}
      <path
        d={path}
        fill={fill === 'none' ? 'none' : 'transparent'}
        stroke="transparent"
        strokeWidth={Math.max(HOLD, thing.line)}
        pointerEvents={fill === 'none' ? 'stroke' : 'all'}
      />
      <path
        d={path}
        fill={fill}
        stroke={thing.colour}
        strokeWidth={thing.line}
        strokeDasharray={dashes(thing.lineKind, thing.line).join(' ') || undefined}
        strokeLinejoin="round"
      />
    </InMillimetres>
  );
}

/** Height of the figures of a dimension, in millimetres. */
const FIGURES = 2.5;

/** A dimension; `measures`: the scale of the plan that it measures in. */
export function DimensionShape(props: {
  thing: ThingOf<'dimension'>;
  measures: number;
}): ReactNode {
  const { thing, measures } = props;
  const lines = dimensionLines({ x: 0, y: 0 }, thing.to, thing.beside);
  if (!lines) return null;
  const stroke = { stroke: thing.colour, strokeWidth: thing.line };
  const [from, to] = lines.line;
  return (
    <InMillimetres>
      <path
        d={pathOf([from, to], false)}
        stroke="transparent"
        strokeWidth={HOLD}
        pointerEvents="stroke"
      />
      {[...lines.extensions, lines.line].map(([a, b], at) => (
        <line key={at} x1={a.x} y1={a.y} x2={b.x} y2={b.y} {...stroke} />
      ))}
      {lines.arrows.map(({ at, turn }, index) => (
        <path
          key={index}
          d={`M0 0L${-DIMENSION.arrow} ${-DIMENSION.arrow / 6}V${DIMENSION.arrow / 6}Z`}
          fill={thing.colour}
          transform={`translate(${at.x} ${at.y}) rotate(${turn})`}
        />
      ))}
      <text
        textAnchor="middle"
        transform={`translate(${lines.text.at.x} ${lines.text.at.y}) rotate(${lines.text.turn})`}
        fontFamily={PAGE_FONT}
        fontSize={fontSizeFor(FIGURES, CAPITALS)}
        fill={thing.colour}
      >
        {lengthWords(lines.length / measures)}
      </text>
    </InMillimetres>
  );
}

/** A length in millimetres as figures stand on drawings: without a unit, to a tenth at most. */
const lengthWords = (millimetres: number) => String(Math.round(millimetres * 10) / 10);

/** What a closed shape measures, for whoever chose it: its area in square millimetres of the sheet. */
export function measuresOf(thing: Thing): { area: number; centre: Point } | null {
  switch (thing.kind) {
    case 'rectangle':
      return {
        area: thing.width * thing.height,
        centre: { x: thing.width / 2, y: thing.height / 2 },
      };
    case 'ellipse':
      return {
        area: (Math.PI * thing.width * thing.height) / 4,
        centre: { x: thing.width / 2, y: thing.height / 2 },
      };
    case 'line':
      return thing.isClosed ? { area: areaOf(thing.points), centre: centreOf(thing.points) } : null;
    default:
      return null;
  }
}

import { fontSizeFor, onSheet, type PlanView as Plan, scaleBarLength } from '@tether/core';
import type { ViewThing } from '@tether/documents';
import { pictureAddress } from '../../documents/pictures/picture-address.ts';
import { InMillimetres } from '../drawn/DrawnShapes.tsx';
import { CAPITALS, PAGE_FONT } from '../drawn/page-letters.ts';

/** A view as the core reckons with it, in millimetres from its own corner. */
export function planOf(thing: ViewThing): Plan {
  const { width, height, scale, centre, planTurn } = thing;
  return { box: { x: 0, y: 0, width, height }, scale, centre, turn: planTurn };
}

/** Millimetres of a plan in truth. */
export function planSize({ trueWidth, pixelWidth, pixelHeight }: ViewThing) {
  return { width: trueWidth, height: (trueWidth * pixelHeight) / pixelWidth };
}

/** A view: the plan through its window, true to scale, with scale bar and north arrow where they are wanted. */
export function PlanView({ thing }: { thing: ViewThing }) {
  const plan = planOf(thing);
  const size = planSize(thing);
  const middle = onSheet(plan, { x: size.width / 2, y: size.height / 2 });
  const [width, height] = [size.width * thing.scale, size.height * thing.scale];
  return (
    <>
      <div className="absolute inset-0 overflow-hidden">
        <img
          src={pictureAddress(thing.hash, {
            without: thing.without,
            isGrey: thing.isGrey && thing.isLines,
          })}
          alt={thing.alt}
          draggable={false}
          className="absolute max-w-none"
          style={{
            width: `${width}mm`,
            height: `${height}mm`,
            left: `${middle.x - width / 2}mm`,
            top: `${middle.y - height / 2}mm`,
            transform: thing.planTurn ? `rotate(${thing.planTurn}deg)` : undefined,
            // In print a filter turns lines into dots: a plan of lines comes in grey from the server.
            filter: thing.isGrey && !thing.isLines ? 'grayscale(1)' : undefined,
          }}
        />
      </div>
      <InMillimetres>
        <rect
          width={thing.width}
          height={thing.height}
          fill="none"
          stroke="#10242b"
          strokeWidth={0.18}
        />
        {thing.hasBar && <ScaleBar thing={thing} />}
        {thing.north !== null && <North turn={thing.north + thing.planTurn} x={thing.width - 10} />}
      </InMillimetres>
    </>
  );
}

/** Millimetres of the sheet that a scale bar takes at most, and its height. */
const BAR = { most: 60, height: 1.5, inset: 5, letters: 2.5 };

function ScaleBar({ thing }: { thing: ViewThing }) {
  const room = Math.min(BAR.most, thing.width - 2 * BAR.inset);
  if (room < 10) return null;
  const truth = scaleBarLength(thing.scale, room);
  const half = (truth * thing.scale) / 2;
  const y = thing.height - BAR.inset;
  const letters = {
    fontFamily: PAGE_FONT,
    fontSize: fontSizeFor(BAR.letters, CAPITALS),
    fill: '#10242b',
    textAnchor: 'middle' as const,
  };
  return (
    <g transform={`translate(${BAR.inset} ${y})`} stroke="#10242b" strokeWidth={0.18}>
      <rect
        x={-3}
        y={-BAR.height - BAR.letters - 3}
        width={2 * half + 16}
        height={BAR.height + BAR.letters + 5}
        fill="white"
        fillOpacity={0.85}
        stroke="none"
      />
      <rect y={-BAR.height} width={half} height={BAR.height} fill="#10242b" />
      <rect x={half} y={-BAR.height} width={half} height={BAR.height} fill="white" />
      <g stroke="none">
        <text {...letters} y={-BAR.height - 1}>
          0
        </text>
        <text {...letters} x={2 * half} y={-BAR.height - 1} data-scale-bar={truth}>
          {lengthWithUnit(truth)}
        </text>
      </g>
    </g>
  );
}

/** A length with the unit that people say it in. */
export function lengthWithUnit(millimetres: number): string {
  if (millimetres >= 1e6) return `${millimetres / 1e6} km`;
  if (millimetres >= 1000) return `${millimetres / 1000} m`;
  return `${millimetres} mm`;
}

function North({ turn, x }: { turn: number; x: number }) {
  return (
    <g transform={`translate(${x} 14) rotate(${turn})`} data-north={turn}>
      <path d="M0 -8L2.5 4L0 2L-2.5 4Z" fill="#10242b" />
      <text
        y={-9}
        textAnchor="middle"
        fontFamily={PAGE_FONT}
        fontSize={fontSizeFor(3.5, CAPITALS)}
        fill="#10242b"
      >
        N
      </text>
    </g>
  );
}

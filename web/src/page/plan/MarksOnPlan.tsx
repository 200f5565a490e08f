import {
  type ColourMeaning,
  fontSizeFor,
  onSheet,
  type Point,
  type RowMark,
  rowMarks,
} from '@tether/core';
import type { MarkSymbol, MarksThing, ViewThing } from '@tether/documents';
import { memo, useMemo } from 'react';
import { useSnapshotQuery } from '../../state/api.ts';
import { useAppSelector } from '../../state/store.ts';
import { usePlacedTether } from '../../state/usePlacedTether.ts';
import { InMillimetres } from '../drawn/DrawnShapes.tsx';
import { CAPITALS, PAGE_FONT } from '../drawn/page-letters.ts';
import { planOf, planSize } from './PlanView.tsx';

/** The rows of an object as marks, and what is to be looked at; null until its figures have come. */
export function useRowMarks(documentId: string, thing: MarksThing, view: ViewThing | null) {
  const tether = usePlacedTether(documentId, { tetherId: thing.of });
  const { data: snapshot } = useSnapshotQuery(tether?.shown ?? '', { skip: !tether });
  const size = view ? planSize(view) : null;
  const [width, height] = [size?.width ?? 0, size?.height ?? 0];
  return useMemo(() => {
    if (!snapshot || !tether) return null;
    return { ...rowMarks(snapshot, thing, { width, height }), snapshot, tether };
  }, [snapshot, tether, thing, width, height]);
}

/** The marks of a view, cut off at its edges as the plan is. */
export function MarksOnPlan(props: {
  documentId: string;
  thing: MarksThing;
  view: ViewThing;
  /** The mark that is dragged, and how far, in millimetres of the sheet. */
  dragged: { key: string; by: Point } | null;
}) {
  const { documentId, thing, view, dragged } = props;
  const found = useRowMarks(documentId, thing, view);
  const picked = useAppSelector(({ workbench }) =>
    workbench.picked?.tetherId === thing.of ? workbench.picked.row : null,
  );
  if (!found) return null;
  const plan = planOf(view);
  const clip = `view-${thing.id}`;
  const line = thing.from.kind === 'along' ? thing.from.line.map((at) => onSheet(plan, at)) : null;
  return (
    <InMillimetres>
      <clipPath id={clip}>
        <rect width={view.width} height={view.height} />
      </clipPath>
      <g clipPath={`url(#${clip})`}>
        {line && (
          <path
            d={`M${line.map(({ x, y }) => `${x} ${y}`).join('L')}`}
            fill="none"
            stroke={thing.colour}
            strokeWidth={0.18}
            strokeDasharray="4.3 0.55 0.1 0.55"
          />
        )}
        {found.marks.map((mark) => {
          if (!mark.place) return null;
          const at = onSheet(plan, mark.place);
          const by = dragged?.key === mark.key ? dragged.by : null;
          return (
            <OneMark
              key={`${mark.key} ${mark.row}`}
              mark={mark}
              x={at.x + (by?.x ?? 0)}
              y={at.y + (by?.y ?? 0)}
              symbol={thing.symbol}
              size={thing.size * mark.share}
              letters={thing.letters}
              colour={thing.colour}
              isPicked={picked === mark.row}
              // Nothing of a label is cut off at the edge: it stands on the other side of its symbol there.
              isLeft={at.x + thing.size + labelWidth(mark.label, thing.letters) > view.width}
            />
          );
        })}
        {thing.hasKey && found.colours.length > 0 && (
          <Key view={view} thing={thing} meanings={found.colours} />
        )}
      </g>
    </InMillimetres>
  );
}

/** Millimetres between the key of the colours and the corner of its view, and within it. */
const KEY = { inset: 5, padding: 1.5 };

/** What the colours of marks stand for, in the lower right corner of their view. */
function Key(props: { view: ViewThing; thing: MarksThing; meanings: readonly ColourMeaning[] }) {
  const { view, thing, meanings } = props;
  const { letters, symbol, colour } = thing;
  const size = Math.min(thing.size, letters * 1.2);
  const step = Math.max(size, letters) * 1.5;
  const room = Math.max(1, Math.floor((view.height - 2 * (KEY.inset + KEY.padding)) / step));
  // What has no room is counted: nothing is left out without a word.
  const shown = meanings.length < room ? meanings : meanings.slice(0, Math.max(0, room - 2));
  const words = [
    // What all of them are.
    thing.colours?.column ?? '',
    ...shown.map(({ text }) => text),
    ...(shown.length < meanings.length ? [`and ${meanings.length - shown.length} more`] : []),
  ];
  const width = labelWidth(words, letters) * 0.8 + size + 1 + 2 * KEY.padding;
  const height = words.length * step + 2 * KEY.padding - (step - size);
  return (
    <g
      transform={`translate(${view.width - KEY.inset - width} ${view.height - KEY.inset - height})`}
      data-key
    >
      <rect width={width} height={height} fill="white" fillOpacity={0.85} />
      {words.map((text, at) => (
        <g
          key={text}
          transform={`translate(${KEY.padding + size / 2} ${KEY.padding + size / 2 + at * step})`}
        >
          {shown[at - 1] && (
            <path
              d={SYMBOLS[symbol](size)}
              fill={shown[at - 1]!.colour}
              stroke={symbol === 'cross' ? shown[at - 1]!.colour : colour}
              strokeWidth={0.35}
            />
          )}
          <text
            x={at === 0 ? -size / 2 : size / 2 + 1}
            y={letters / 2}
            fontFamily={PAGE_FONT}
            fontSize={fontSizeFor(letters, CAPITALS)}
            fill={colour}
          >
            {text}
          </text>
        </g>
      ))}
    </g>
  );
}

const SYMBOLS: Record<MarkSymbol, (size: number) => string> = {
  circle: (size) =>
    `M${-size / 2} 0A${size / 2} ${size / 2} 0 1 0 ${size / 2} 0A${size / 2} ${size / 2} 0 1 0 ${-size / 2} 0Z`,
  square: (size) => `M${-size / 2} ${-size / 2}h${size}v${size}h${-size}Z`,
  triangle: (size) => `M0 ${-size / 2}L${size / 2} ${size / 2}H${-size / 2}Z`,
  cross: (size) => `M${-size / 2} ${-size / 2}l${size} ${size}m0 ${-size}l${-size} ${size}`,
};

/** Width of letters at most, in parts of the height of capitals: those of figures and capitals. */
const WIDEST = 0.95;
const labelWidth = (label: readonly string[], letters: number) =>
  Math.max(0, ...label.map((text) => text.length)) * letters * WIDEST;

/** Millimetres between the symbol and its label. */
const GAP = 0.8;

const OneMark = memo(function OneMark(props: {
  mark: RowMark;
  x: number;
  y: number;
  symbol: MarkSymbol;
  size: number;
  letters: number;
  colour: string;
  isPicked: boolean;
  isLeft: boolean;
}) {
  const { mark, x, y, symbol, size, letters, colour, isPicked, isLeft } = props;
  const beside = (size / 2 + GAP) * (isLeft ? -1 : 1);
  // Letters are read over whatever the plan has there. A line around them would print them twice.
  const width = labelWidth(mark.label, letters) * 0.8;
  const fontSize = fontSizeFor(letters, CAPITALS);
  return (
    <g transform={`translate(${x} ${y})`} data-mark={mark.key} data-row={mark.row}>
      {isPicked && <circle r={size} fill="#b9772a" fillOpacity={0.35} className="not-printed" />}
      <path
        d={SYMBOLS[symbol](size)}
        fill={mark.colour ?? 'white'}
        // A cross has no ground: it is drawn in its colour.
        stroke={symbol === 'cross' ? (mark.colour ?? colour) : colour}
        strokeWidth={0.35}
        pointerEvents="all"
      />
      {mark.label.length > 0 && (
        <rect
          x={isLeft ? beside - width : beside}
          y={-size / 2 - letters - 0.3}
          width={width}
          height={fontSize * 1.15 * (mark.label.length - 1) + letters + 0.8}
          fill="white"
          fillOpacity={0.75}
        />
      )}
      <text
        x={beside}
        y={-size / 2}
        textAnchor={isLeft ? 'end' : 'start'}
        fontFamily={PAGE_FONT}
        fontSize={fontSize}
        fill={colour}
      >
        {mark.label.map((text, at) => (
          <tspan key={at} x={beside} dy={at === 0 ? 0 : fontSize * 1.15}>
            {text}
          </tspan>
        ))}
      </text>
    </g>
  );
});

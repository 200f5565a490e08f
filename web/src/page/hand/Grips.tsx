import { GRIPS, type Grip, PIXELS_PER_MM, type TurnedBox } from '@tether/core';
import type { PointerEvent } from 'react';

const NAMES: Record<string, string> = {
  '-1,-1': 'nwse-resize',
  '0,-1': 'ns-resize',
  '1,-1': 'nesw-resize',
  '1,0': 'ew-resize',
  '1,1': 'nwse-resize',
  '0,1': 'ns-resize',
  '-1,1': 'nesw-resize',
  '-1,0': 'ew-resize',
};

/** The outline of what is chosen, with the grips by which one thing is made larger and turned. */
export function Grips(props: {
  box: TurnedBox;
  /** How large the page is drawn: outlines and grips keep their size. */
  scale: number;
  hasGrips: boolean;
  canTurn: boolean;
  isLocked: boolean;
  onGrip: (grip: Grip, event: PointerEvent) => void;
  onTurn: (event: PointerEvent) => void;
}) {
  const { box, scale, hasGrips, canTurn, isLocked, onGrip, onTurn } = props;
  const px = (millimetres: number) => millimetres * PIXELS_PER_MM;
  const one = 1 / scale;
  const size = 9 * one;
  return (
    <div
      aria-hidden
      className="pointer-events-none absolute"
      style={{
        left: px(box.x),
        top: px(box.y),
        width: px(box.width),
        height: px(box.height),
        transform: box.turn ? `rotate(${box.turn}deg)` : undefined,
        outline: `${1.5 * one}px ${isLocked ? 'dashed' : 'solid'} var(--color-rope)`,
        outlineOffset: 2 * one,
      }}
    >
      {hasGrips &&
        GRIPS.map((grip) => (
          <span
            key={`${grip.across},${grip.down}`}
            data-grip={`${grip.across},${grip.down}`}
            onPointerDown={(event) => onGrip(grip, event)}
            className="pointer-events-auto absolute border-rope bg-white"
            style={{
              width: size,
              height: size,
              borderWidth: 1.5 * one,
              left: `calc(${((grip.across + 1) / 2) * 100}% - ${size / 2 - grip.across * 2 * one}px)`,
              top: `calc(${((grip.down + 1) / 2) * 100}% - ${size / 2 - grip.down * 2 * one}px)`,
              cursor: NAMES[`${grip.across},${grip.down}`],
            }}
          />
        ))}
      {canTurn && (
        <span
          data-grip="turn"
          onPointerDown={onTurn}
          className="pointer-events-auto absolute rounded-full border-rope bg-white"
          style={{
            width: size,
            height: size,
            borderWidth: 1.5 * one,
            left: `calc(50% - ${size / 2}px)`,
            top: -26 * one,
            cursor: 'grab',
          }}
        />
      )}
    </div>
  );
}

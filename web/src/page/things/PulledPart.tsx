import { PIXELS_PER_MM, type Point, roundMm } from '@tether/core';
import { GripVertical } from 'lucide-react';
import { type ReactNode, useRef } from 'react';
import { useDrag } from '../../documents/object/useDrag.ts';

/** A part of a folded table, at its place beside the others or at one of its own, with the grip that pulls it there. */
export function PulledPart(props: {
  /** Its number from 1, that of the first being 0. */
  nth: number;
  /** Millimetres from the corner of its object; null for beside the others. */
  place: Point | null;
  /** Told where it was pulled to; null where nothing is moved. */
  onPull: ((place: Point) => void) | null;
  children: ReactNode;
}) {
  const { nth, place, onPull, children } = props;
  const part = useRef<HTMLDivElement>(null);
  const { by, handlers } = useDrag((moved) => {
    const from = place ?? cornerOf(part.current!);
    onPull?.({
      x: roundMm(from.x + moved.x / PIXELS_PER_MM),
      y: roundMm(from.y + moved.y / PIXELS_PER_MM),
    });
  });
  return (
    <div
      ref={part}
      data-part={nth}
      className={`${place ? 'absolute' : 'relative'} ${onPull && place ? 'outline-1 outline-rope outline-dashed' : ''}`}
      style={{
        ...(place ? { left: place.x * PIXELS_PER_MM, top: place.y * PIXELS_PER_MM } : {}),
        ...(by ? { transform: `translate(${by.x}px, ${by.y}px)` } : {}),
      }}
    >
      {children}
      {onPull && (
        <button
          type="button"
          data-handle
          title={`Pull part ${nth + 1} to a place of its own`}
          aria-label={`Pull part ${nth + 1} to a place of its own`}
          className="not-printed absolute top-0 -left-[18px] flex h-6 w-4 cursor-move items-center justify-center rounded-box border border-rope bg-white text-rope"
          {...handlers}
        >
          <GripVertical size={12} aria-hidden />
        </button>
      )}
    </div>
  );
}

/** Where a part stands in its object, in millimetres, whatever the object is turned by. */
function cornerOf(part: HTMLElement): Point {
  let [x, y] = [0, 0];
  for (let each: HTMLElement | null = part; each && !('thingBox' in each.dataset); ) {
    x += each.offsetLeft;
    y += each.offsetTop;
    each = each.offsetParent as HTMLElement | null;
  }
  return { x: x / PIXELS_PER_MM, y: y / PIXELS_PER_MM };
}

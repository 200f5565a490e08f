import { type PointerEvent, useRef, useState } from 'react';

/** Follows a pointer that took hold of a handle; gives how far it went, in pixels of the paper. */
export function useDrag(onEnd: (by: { x: number; y: number }) => void) {
  const from = useRef<{ x: number; y: number; scale: number } | null>(null);
  const [by, setBy] = useState<{ x: number; y: number } | null>(null);
  const distance = (event: PointerEvent) => {
    const { x, y, scale } = from.current!;
    return { x: (event.clientX - x) / scale, y: (event.clientY - y) / scale };
  };
  return {
    by,
    handlers: {
      onPointerDown: (event: PointerEvent<HTMLElement>) => {
        if (event.button !== 0) return;
        // The object is not dragged along, nor is anything else selected.
        event.preventDefault();
        event.stopPropagation();
        const paper = event.currentTarget.closest<HTMLElement>('.paper-text, .page-paper');
        const scale =
          paper && paper.offsetWidth > 0
            ? paper.getBoundingClientRect().width / paper.offsetWidth
            : 1;
        from.current = { x: event.clientX, y: event.clientY, scale };
        event.currentTarget.setPointerCapture(event.pointerId);
        setBy({ x: 0, y: 0 });
      },
      onPointerMove: (event: PointerEvent<HTMLElement>) => {
        if (from.current) setBy(distance(event));
      },
      onPointerUp: (event: PointerEvent<HTMLElement>) => {
        if (!from.current) return;
        const moved = distance(event);
        from.current = null;
        setBy(null);
        if (Math.abs(moved.x) + Math.abs(moved.y) >= 1) onEnd(moved);
      },
      onPointerCancel: () => {
        from.current = null;
        setBy(null);
      },
    },
  };
}

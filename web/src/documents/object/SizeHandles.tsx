import {
  columnKeys,
  PIXELS_PER_MM,
  type Snapshot,
  setOverride,
  type TableFace,
} from '@tether/core';
import type { Dressing } from '@tether/documents';
import { type PointerEvent, useRef, useState } from 'react';

const LEAST_MM = 8;

/** Follows a pointer that took hold of a handle; gives how far it went, in pixels of the paper. */
function useDrag(onEnd: (by: { x: number; y: number }) => void) {
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
        const paper = event.currentTarget.closest<HTMLElement>('.paper-text');
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

/**
 * The corner by which a chart or facsimile is made larger or smaller. A facsimile scales as one piece; a chart gets more or
 * less room. The panel has the same as numbers, for the keyboard.
 */
export function CornerHandle(props: {
  isChart: boolean;
  onResize: (size: Pick<Dressing, 'width' | 'height'>) => void;
}) {
  const { isChart, onResize } = props;
  const corner = useRef<HTMLSpanElement>(null);
  const size = () => {
    const box = corner.current!.parentElement!;
    return { width: box.offsetWidth, height: box.offsetHeight };
  };
  const { by, handlers } = useDrag(({ x, y }) => {
    const { width, height } = size();
    const inMm = (pixels: number) =>
      Math.max(LEAST_MM, Math.round((pixels / PIXELS_PER_MM) * 10) / 10);
    onResize({
      width: inMm(width + x),
      ...(isChart ? { height: inMm(height + y) } : {}),
    });
  });
  return (
    <>
      {by && corner.current && (
        <span
          className="pointer-events-none absolute top-0 left-0 border-2 border-dashed border-rope"
          style={{
            width: Math.max(20, size().width + by.x),
            height: isChart
              ? Math.max(20, size().height + by.y)
              : (size().height * Math.max(20, size().width + by.x)) / size().width,
          }}
        />
      )}
      <span
        ref={corner}
        aria-hidden
        contentEditable={false}
        title="Drag to make it larger or smaller"
        className="not-printed absolute -right-1.5 -bottom-1.5 z-10 size-3 cursor-nwse-resize rounded-[2px] border border-white bg-rope"
        {...handlers}
      />
    </>
  );
}

/** Handles at the right sides of a table's columns, by which they are made wider or narrower. */
export function ColumnHandles(props: {
  face: TableFace;
  snapshot: Snapshot;
  overrides: NonNullable<Dressing['overrides']>;
  onResize: (overrides: NonNullable<Dressing['overrides']>) => void;
}) {
  const { face, snapshot, overrides, onResize } = props;
  const part = face.strips[0]?.parts[0];
  if (!part) return null;
  const keys = columnKeys(snapshot);
  let right = 0;
  return part.columns.map((column) => {
    const width = face.layout.widths[column]!;
    right += width;
    const key = keys[column];
    // The columns of a forecast are not the source's: they are as wide as those they belong to.
    if (width === 0 || !key) return null;
    return (
      <ColumnHandle
        key={column}
        right={right}
        height={face.layout.heights
          .slice(0, Math.max(1, part.head.length))
          .reduce((a, b) => a + b, 0)}
        onResize={(by) => {
          const millimetres = Math.max(LEAST_MM / 2, (width + by) / PIXELS_PER_MM);
          const set = Math.round(millimetres * 10) / 10;
          onResize(setOverride(overrides, null, key, { width: set }));
        }}
      />
    );
  });
}

function ColumnHandle(props: { right: number; height: number; onResize: (by: number) => void }) {
  const { right, height, onResize } = props;
  const { by, handlers } = useDrag(({ x }) => onResize(x));
  return (
    <span
      aria-hidden
      contentEditable={false}
      data-column-handle
      title="Drag to make the column wider or narrower"
      className={`not-printed absolute top-0 z-10 w-[7px] cursor-col-resize border-x-[3px] border-transparent bg-clip-content ${by ? 'bg-rope' : 'hover:bg-rope'}`}
      style={{ left: right - 4 + (by?.x ?? 0), height: Math.max(18, height) }}
      {...handlers}
    />
  );
}

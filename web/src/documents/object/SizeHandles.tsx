import {
  columnKeys,
  gridOf,
  PIXELS_PER_MM,
  rowKeys,
  type Snapshot,
  setOverride,
  type TableFace,
} from '@tether/core';
import type { Dressing } from '@tether/documents';
import { useEffect, useRef, useState } from 'react';
import { useDrag } from './useDrag.ts';

const LEAST_MM = 8;

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

/** How near to the lower side of a row one takes hold of it, in pixels. */
const NEAR_PX = 6;

/**
 * A handle at the lower side of the row under the pointer, by which it is made higher or lower. It stands at the left of
 * the table, so that it covers no cell.
 */
export function RowHandle(props: {
  /** The drawn table, which has the handle in it. */
  table: HTMLElement | null;
  face: TableFace;
  snapshot: Snapshot;
  overrides: NonNullable<Dressing['overrides']>;
  onResize: (overrides: NonNullable<Dressing['overrides']>) => void;
}) {
  const { table, face, snapshot, overrides, onResize } = props;
  const [at, setAt] = useState<{ row: number; bottom: number } | null>(null);
  const { by, handlers } = useDrag(({ y }) => {
    const key = at && rowKeys(gridOf(snapshot))[at.row];
    if (!key) return;
    const millimetres = Math.max(LEAST_MM / 4, (face.layout.heights[at.row]! + y) / PIXELS_PER_MM);
    onResize(setOverride(overrides, key, null, { height: Math.round(millimetres * 10) / 10 }));
  });
  const isHeld = by !== null;
  useEffect(() => {
    if (!table || isHeld) return;
    const look = (event: globalThis.PointerEvent) => {
      const { top, height } = table.getBoundingClientRect();
      const scale = table.offsetHeight > 0 ? height / table.offsetHeight : 1;
      const line = event.target instanceof Element ? event.target.closest('tr') : null;
      if (!line) return;
      const row = Number(
        line.querySelector('[data-cell]')?.getAttribute('data-cell')?.split(',')[0],
      );
      if (Number.isNaN(row)) return;
      setAt({ row, bottom: (line.getBoundingClientRect().bottom - top) / scale });
    };
    const leave = () => setAt(null);
    table.addEventListener('pointermove', look);
    table.addEventListener('pointerleave', leave);
    return () => {
      table.removeEventListener('pointermove', look);
      table.removeEventListener('pointerleave', leave);
    };
  }, [table, isHeld]);
  // The rows of a forecast are not the source's.
  if (!at || at.row >= gridOf(snapshot).length) return null;
  const top = at.bottom + (by?.y ?? 0);
  return (
    <>
      {by && (
        <span
          aria-hidden
          className="pointer-events-none absolute inset-x-0 border-t-2 border-dashed border-rope"
          style={{ top }}
        />
      )}
      <span
        aria-hidden
        contentEditable={false}
        data-row-handle
        title="Drag to make the row higher or lower"
        className={`not-printed absolute -left-4 z-10 w-4 cursor-row-resize border-y-[3px] border-transparent bg-clip-content ${by ? 'bg-rope' : 'bg-rope/60 hover:bg-rope'}`}
        style={{ top: top - NEAR_PX, height: NEAR_PX * 2 - 3 }}
        {...handlers}
      />
    </>
  );
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

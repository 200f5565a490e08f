import type { Area, CellAddress } from '@tether/core';
import { type KeyboardEvent, type PointerEvent, type RefObject, useRef, useState } from 'react';
import { bandAt, ROW_HEADER, ROW_HEIGHT } from './grid-geometry.ts';

/** So near its edge a dragged range takes the sheet along. */
const EDGE = 28;

/** Taking a range with the pointer or the keyboard. */
export function useSelecting(
  scroller: RefObject<HTMLDivElement | null>,
  offsets: number[],
  lines: number[],
  size: { rows: number; columns: number },
  onSelect: (area: Area) => void,
) {
  const anchor = useRef<CellAddress | null>(null);
  const [focus, setFocus] = useState<CellAddress | null>(null);
  const isDragging = useRef(false);

  const between = (a: CellAddress, b: CellAddress): Area => ({
    top: Math.min(a.row, b.row),
    left: Math.min(a.column, b.column),
    bottom: Math.max(a.row, b.row),
    right: Math.max(a.column, b.column),
  });
  const take = (to: CellAddress, isExtending: boolean) => {
    if (!isExtending || !anchor.current) anchor.current = to;
    setFocus(to);
    onSelect(between(anchor.current, to));
  };
  const cellUnder = ({ clientX, clientY }: { clientX: number; clientY: number }): CellAddress => {
    const box = scroller.current!;
    const { left, top } = box.getBoundingClientRect();
    const x = clientX - left + box.scrollLeft - ROW_HEADER;
    const y = clientY - top + box.scrollTop - ROW_HEIGHT;
    return {
      row: bandAt(lines, Math.max(0, y)),
      column: bandAt(offsets, Math.max(0, x)),
    };
  };

  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    const box = scroller.current!;
    const { left, top } = box.getBoundingClientRect();
    const [x, y] = [event.clientX - left, event.clientY - top];
    // The scroll bars are not cells.
    if (event.button !== 0 || x > box.clientWidth || y > box.clientHeight) return;
    const cell = cellUnder(event);
    if (y < ROW_HEIGHT || x < ROW_HEADER) return;
    box.setPointerCapture(event.pointerId);
    isDragging.current = true;
    take(cell, event.shiftKey);
  };
  const onPointerMove = (event: PointerEvent<HTMLDivElement>) => {
    if (!isDragging.current) return;
    const box = scroller.current!;
    const { left, top, right, bottom } = box.getBoundingClientRect();
    // Beyond an edge the sheet comes along.
    if (event.clientX > right - EDGE) box.scrollLeft += EDGE;
    if (event.clientX < left + ROW_HEADER) box.scrollLeft -= EDGE;
    if (event.clientY > bottom - EDGE) box.scrollTop += EDGE;
    if (event.clientY < top + ROW_HEIGHT) box.scrollTop -= EDGE;
    take(cellUnder(event), true);
  };
  const onPointerUp = () => {
    isDragging.current = false;
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const page = Math.floor((scroller.current!.clientHeight - ROW_HEIGHT) / ROW_HEIGHT);
    const step = {
      ArrowDown: [1, 0],
      ArrowUp: [-1, 0],
      ArrowRight: [0, 1],
      ArrowLeft: [0, -1],
      PageDown: [page, 0],
      PageUp: [-page, 0],
    }[event.key] as [number, number] | undefined;
    if (!step) return;
    event.preventDefault();
    const from = focus ?? { row: 1, column: 1 };
    const to = focus
      ? {
          row: Math.min(size.rows, Math.max(1, from.row + step[0])),
          column: Math.min(size.columns, Math.max(1, from.column + step[1])),
        }
      : from;
    take(to, event.shiftKey);
    reveal(scroller.current!, offsets, lines, to);
  };
  /** Goes on from a cell, by so many rows and columns. */
  const go = ({ row, column }: CellAddress, down: number, across: number) => {
    const to = {
      row: Math.min(size.rows, Math.max(1, row + down)),
      column: Math.min(size.columns, Math.max(1, column + across)),
    };
    take(to, false);
    reveal(scroller.current!, offsets, lines, to);
    scroller.current!.focus({ preventScroll: true });
  };
  return { anchor, focus, go, handlers: { onPointerDown, onPointerMove, onPointerUp, onKeyDown } };
}

function reveal(
  box: HTMLDivElement,
  offsets: number[],
  lines: number[],
  { row, column }: CellAddress,
): void {
  const [top, bottom] = [lines[row - 1]!, lines[row]!];
  const left = offsets[column - 1]!;
  const right = offsets[column]!;
  const [height, width] = [box.clientHeight - ROW_HEIGHT, box.clientWidth - ROW_HEADER];
  if (top < box.scrollTop) box.scrollTop = top;
  else if (bottom > box.scrollTop + height) box.scrollTop = bottom - height;
  if (left < box.scrollLeft) box.scrollLeft = left;
  else if (right > box.scrollLeft + width) box.scrollLeft = right - width;
}

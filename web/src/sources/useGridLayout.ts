import { useVirtualizer } from '@tanstack/react-virtual';
import { type Area, formatArea, type RowHeights } from '@tether/core';
import { type RefObject, useEffect, useMemo } from 'react';
import { useCellsQuery } from '../state/api.ts';
import {
  gridHeights,
  gridSize,
  gridWidths,
  offsetsOf,
  ROW_HEADER,
  ROW_HEIGHT,
} from './grid-geometry.ts';

/** Where the rows and columns of a sheet are drawn, and which of them are in view. */
export function useGridLayout(
  { sourceId, hash, sheet }: { sourceId: string; hash: string; sheet: string },
  used: Area | null,
  selection: Area | null,
  rowHeights: RowHeights,
  scroller: RefObject<HTMLElement | null>,
) {
  const size = gridSize(used, selection);
  const firstRow = formatArea({ top: 1, left: 1, bottom: 1, right: size.columns });
  const { data: bands, isError } = useCellsQuery({ sourceId, hash, sheet, reference: firstRow });
  // Until the widths are known nothing is seen: a cell must not move away under the pointer.
  const isMeasured = bands !== undefined || isError;
  const widths = useMemo(() => gridWidths(size.columns, bands), [size.columns, bands]);
  const offsets = useMemo(() => offsetsOf(widths), [widths]);
  const heights = useMemo(() => gridHeights(size.rows, rowHeights), [size.rows, rowHeights]);
  const lines = useMemo(() => offsetsOf(heights), [heights]);

  const rows = useVirtualizer({
    count: size.rows,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => heights[index]!,
    scrollMargin: ROW_HEIGHT,
    overscan: 6,
  });
  const columns = useVirtualizer({
    horizontal: true,
    count: size.columns,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => widths[index]!,
    scrollMargin: ROW_HEADER,
    overscan: 2,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: new widths are what calls for measuring
  useEffect(() => columns.measure(), [widths]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: new heights are what calls for measuring
  useEffect(() => rows.measure(), [heights]);

  const drawable: Area = { top: 1, left: 1, bottom: size.rows, right: size.columns };
  return { size, drawable, isMeasured, widths, offsets, heights, lines, rows, columns };
}

export type GridLayout = ReturnType<typeof useGridLayout>;

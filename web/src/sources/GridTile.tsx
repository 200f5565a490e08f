import { type Area, fittedText, formatArea, formatCell, gridOf, isFilled } from '@tether/core';
import { memo, useMemo } from 'react';
import { barStyle, CellFace } from '../placed/CellFace.tsx';
import { cellStyle } from '../placed/letters.ts';
import { Turned } from '../placed/Turned.tsx';
import { useCellsQuery } from '../state/api.ts';
import { ROW_HEADER, ROW_HEIGHT, SLIVER } from './grid-geometry.ts';

export const TILE_ROWS = 100;
export const TILE_COLUMNS = 20;

interface Props {
  sourceId: string;
  hash: string;
  sheet: string;
  area: Area;
  /** Where columns begin, and where rows do. */
  offsets: readonly number[];
  lines: readonly number[];
  /** Rows in view; others of the tile are not drawn. */
  firstRow: number;
  lastRow: number;
}

const UPRIGHT = { top: 'start', center: 'center', bottom: 'end', justify: 'start' } as const;

/** A piece of a sheet, fetched as one. */
export const GridTile = memo(function GridTile(props: Props) {
  const { sourceId, hash, sheet, area, offsets, lines, firstRow, lastRow } = props;
  const { data: tile } = useCellsQuery({ sourceId, hash, sheet, reference: formatArea(area) });
  const grid = useMemo(() => (tile ? gridOf(tile) : []), [tile]);
  const merges = useMemo(
    () => new Map(tile?.merges.map((merge) => [`${merge.top},${merge.left}`, merge])),
    [tile],
  );
  if (!tile) return null;
  const from = Math.max(0, firstRow - area.top);
  return grid.slice(from, Math.max(from, lastRow - area.top + 1)).map((row) =>
    row.map((cell, c) => {
      if (!cell) return null;
      const merge = merges.get(`${cell.row},${cell.column}`);
      const right = merge?.right ?? cell.column;
      const isOver = cell.type === 'text' && !isFilled(row[c + 1]);
      const dress = cell.dress === undefined ? undefined : tile.dresses[cell.dress];
      const width = offsets[right]! - offsets[cell.column - 1]!;
      const top = lines[cell.row - 1]!;
      const height = lines[Math.min(merge?.bottom ?? cell.row, lines.length - 1)]! - top;
      // What is hidden is a sliver, and shows nothing.
      if (height <= SLIVER || width <= SLIVER) return null;
      // Broken lines need more room than one line has.
      const mayWrap = dress?.wrap === true && height > ROW_HEIGHT * 1.4;
      return (
        <div
          key={`${cell.row},${cell.column}`}
          data-at={formatCell(cell)}
          className={`absolute flex flex-col px-[3px] ${mayWrap ? 'leading-[17px]' : 'leading-[21px]'} ${(isOver && !dress?.wrap) || dress?.rotation ? '' : 'overflow-hidden'}`}
          title={cell.note ?? cell.link}
          style={{
            ...cellStyle(cell, dress),
            ...barStyle(cell),
            top: ROW_HEIGHT + top,
            left: ROW_HEADER + offsets[cell.column - 1]!,
            width,
            height,
            whiteSpace: mayWrap ? 'pre-wrap' : 'pre',
            justifyContent: UPRIGHT[dress?.vertical ?? 'bottom'],
          }}
        >
          <span className="min-w-0">
            <Turned rotation={dress?.rotation}>
              <CellFace cell={cell} shown={fittedText(cell, dress, width, 'source')} />
            </Turned>
          </span>
          {cell.note && (
            <span
              role="img"
              aria-label={`Note: ${cell.note}`}
              className="absolute top-0 right-0 border-[4px] border-transparent border-t-rope border-r-rope"
            />
          )}
        </div>
      );
    }),
  );
});

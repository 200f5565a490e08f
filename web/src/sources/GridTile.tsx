import type { EntryFace } from '@tether/contract';
import {
  type Area,
  type Cell,
  type CellAddress,
  fittedText,
  formatArea,
  formatCell,
  gridOf,
  isFilled,
} from '@tether/core';
import { memo, useMemo } from 'react';
import { barStyle, CellFace } from '../placed/table/CellFace.tsx';
import { cellStyle } from '../placed/table/letters.ts';
import { Turned } from '../placed/table/Turned.tsx';
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
  /** What cells show that people typed in, and that follow from them, by `row,column`. */
  faces?: ReadonlyMap<string, EntryFace> | undefined;
}

const MARKS = {
  entered: 'edited-here',
  contested: 'contested-here',
  follows: 'provisional-here',
  'not final': 'edited-here not-final-here',
} as const;

/** A cell with what it shows while entries wait; its look stays. */
function withFace(cell: Cell | undefined, face: EntryFace): Cell {
  const { row, column, text, isNumber } = face;
  const { ink: _ink, runs: _runs, bar: _bar, icon: _icon, ...kept } = cell ?? {};
  return { ...kept, row, column, type: isNumber ? 'number' : 'text', value: text, text };
}

const UPRIGHT = { top: 'start', center: 'center', bottom: 'end', justify: 'start' } as const;

/** A piece of a sheet, fetched as one. */
export const GridTile = memo(function GridTile(props: Props) {
  const { sourceId, hash, sheet, area, offsets, lines, firstRow, lastRow } = props;
  const { data: tile } = useCellsQuery({ sourceId, hash, sheet, reference: formatArea(area) });
  const { faces } = props;
  const grid = useMemo(() => {
    if (!tile) return [];
    const cells = gridOf(tile);
    for (const face of faces?.values() ?? []) {
      const line = cells[face.row - area.top];
      const at = face.column - area.left;
      if (line && at >= 0 && face.column <= area.right) line[at] = withFace(line[at], face);
    }
    return cells;
  }, [tile, faces, area]);
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
      const mark = faces?.get(`${cell.row},${cell.column}`)?.mark;
      // Broken lines need more room than one line has.
      const mayWrap = dress?.wrap === true && height > ROW_HEIGHT * 1.4;
      return (
        <div
          key={`${cell.row},${cell.column}`}
          data-at={formatCell(cell)}
          className={`absolute flex flex-col px-[3px] ${mark ? MARKS[mark] : ''} ${mayWrap ? 'leading-[17px]' : 'leading-[21px]'} ${(isOver && !dress?.wrap) || dress?.rotation ? '' : 'overflow-hidden'}`}
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

/** The tile in which a cell lies, of a grid of so many rows and columns. */
export function tileAround(
  { row, column }: CellAddress,
  size: { rows: number; columns: number },
): Area {
  const top = row - 1 - ((row - 1) % TILE_ROWS);
  const left = column - 1 - ((column - 1) % TILE_COLUMNS);
  return {
    top: top + 1,
    left: left + 1,
    bottom: Math.min(top + TILE_ROWS, size.rows),
    right: Math.min(left + TILE_COLUMNS, size.columns),
  };
}

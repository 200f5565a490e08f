import type { TableLook } from '@tether/contract';
import { columnWidths, gridOf, hasHeaderRow, rowHeights, type Snapshot } from '@tether/core';
import { memo, useMemo } from 'react';
import { barStyle, CellFace } from './CellFace.tsx';
import { lookedStyle, type RowRole } from './letters.ts';

interface Props {
  snapshot: Snapshot;
  /** Name for screen readers. */
  label: string;
  /** Cell to light up for a moment; a new `at` lights it again. */
  flash?: { row: number; column: number; at: number } | null;
  /** Show at most so many rows. */
  maxRows?: number;
  /** What of its look follows the document; everything else follows the source. */
  look?: TableLook;
}

const AS_SOURCE: TableLook = {};

/** A placed table with the look of its source: letters, fills, borders, widths, merged cells; hidden rows stay out. */
export const PlacedTable = memo(function PlacedTable(props: Props) {
  const { snapshot, label, flash, maxRows, look = AS_SOURCE } = props;
  const { area, dresses } = snapshot;
  const { grid, widths, heights, covers } = useMemo(() => arrange(snapshot), [snapshot]);
  const shownRows = grid.slice(0, maxRows ?? grid.length);
  const hasHeader = useMemo(() => hasHeaderRow(grid), [grid]);
  const isFluid = look.widths === 'document';
  const roleOf = (row: number): RowRole => (row === 0 && hasHeader ? 'header' : 'body');
  return (
    <table
      aria-label={label}
      className="border-collapse"
      style={
        isFluid
          ? { width: '100%' }
          : { tableLayout: 'fixed', width: widths.reduce((sum, width) => sum + width, 0) }
      }
    >
      <colgroup>
        {widths.map((width, index) =>
          width === 0 ? null : (
            <col key={area.left + index} style={isFluid ? undefined : { width }} />
          ),
        )}
      </colgroup>
      <tbody>
        {shownRows.map((row, r) =>
          heights[r] === 0 ? null : (
            <tr key={area.top + r} style={isFluid ? undefined : { height: heights[r] }}>
              {Array.from(row, (cell, c) => {
                const cover = covers.get(`${r},${c}`);
                if (widths[c] === 0 || cover === 'covered') return null;
                const dress = cell?.dress === undefined ? undefined : dresses[cell.dress];
                const isFlashed = flash?.row === area.top + r && flash.column === area.left + c;
                // A text that does not fit shows over its empty right neighbour, as it does on the sheet.
                const isOver = cell?.type === 'text' && !isFilled(row[c + 1]);
                return (
                  <td
                    ref={isFlashed ? bringIntoView : undefined}
                    key={`${area.left + c}${isFlashed ? `-${flash.at}` : ''}`}
                    rowSpan={cover?.rows}
                    colSpan={cover?.columns}
                    data-type={cell?.type}
                    className={`${isFluid ? 'px-1.5 py-0.5' : 'px-[3px]'} leading-[1.25] ${isOver ? 'overflow-visible' : 'overflow-hidden'} ${isFlashed ? 'flash' : ''}`}
                    style={{
                      ...lookedStyle(cell, dress, look, roleOf(r)),
                      ...(cell && look.fills !== 'document' ? barStyle(cell) : {}),
                    }}
                  >
                    {cell && (
                      <CellFace cell={cell} isLinked isPlain={look.letters === 'document'} />
                    )}
                  </td>
                );
              })}
            </tr>
          ),
        )}
      </tbody>
    </table>
  );
});

function bringIntoView(cell: HTMLElement | null): void {
  cell?.scrollIntoView({ block: 'center', inline: 'nearest' });
}

function isFilled(cell: { type: string } | undefined): boolean {
  return cell !== undefined && cell.type !== 'blank';
}

type Cover = { rows: number; columns: number };

function arrange(snapshot: Snapshot) {
  const { area, merges } = snapshot;
  const widths = columnWidths(snapshot);
  const heights = rowHeights(snapshot);
  const covers = new Map<string, Cover | 'covered'>();
  for (const { top, left, bottom, right } of merges) {
    // Hidden rows and columns are not there to be spanned.
    const rows = heights.slice(top - area.top, bottom - area.top + 1).filter((size) => size > 0);
    const columns = widths
      .slice(left - area.left, right - area.left + 1)
      .filter((size) => size > 0);
    for (let row = top; row <= bottom; row++) {
      for (let column = left; column <= right; column++) {
        covers.set(`${row - area.top},${column - area.left}`, 'covered');
      }
    }
    covers.set(`${top - area.top},${left - area.left}`, {
      rows: Math.max(1, rows.length),
      columns: Math.max(1, columns.length),
    });
  }
  return { grid: gridOf(snapshot), widths, heights, covers };
}

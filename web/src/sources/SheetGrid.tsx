import type { VirtualItem } from '@tanstack/react-virtual';
import {
  type Area,
  type Cell,
  type CellAddress,
  columnName,
  formatArea,
  formatCell,
  formatReference,
  holds,
  intersection,
  type RowHeights,
} from '@tether/core';
import { GripVertical } from 'lucide-react';
import { type Ref, type RefObject, useEffect, useImperativeHandle, useRef } from 'react';
import { formulaAs, typedAs } from '../placed/typed-as.ts';
import { useCellsQuery } from '../state/api.ts';
import { CellLine } from './entering/CellLine.tsx';
import { EntryField } from './entering/EntryField.tsx';
import { LinesMenu } from './entering/LinesMenu.tsx';
import type { Entering } from './entering/useEntering.ts';
import { useEntryKeys } from './entering/useEntryKeys.ts';
import { GridTile, TILE_COLUMNS, TILE_ROWS, tileAround } from './GridTile.tsx';
import { boxOf, ROW_HEADER, ROW_HEIGHT } from './grid-geometry.ts';
import { type Outline, SheetOutlines } from './SheetOutlines.tsx';
import { useGridCopy } from './useGridCopy.ts';
import { type GridLayout, useGridLayout } from './useGridLayout.ts';
import { useSelecting } from './useSelecting.ts';

interface Props {
  sourceId: string;
  /** Tells states of the source apart. */
  hash: string;
  sheet: string;
  used: Area | null;
  /** How high its rows are. */
  rows: RowHeights;
  selection: Area | null;
  onSelect: (area: Area) => void;
  /** Areas drawn on the grid that can be clicked by their label. */
  outlines?: Outline[];
  /** Gives out where areas are drawn, for what is drawn over the grid. */
  viewRef?: Ref<GridView>;
  /** Makes the selection something to take hold of: dragged to a document, or placed by a press. */
  carry?: {
    label: string;
    onDragStart: (data: DataTransfer, area: Area) => void;
    onPress: (area: Area) => void;
  };
  /** Shows what stands in the picked cell, and takes what is typed into it, where that is allowed. */
  cells?: { entering: Entering | null };
  /** Puts the selected cells on the clipboard. */
  onCopy?: (data: DataTransfer, area: Area) => void;
}

/** Where the grid draws its areas. */
export interface GridView {
  /** What is scrolled. */
  scroller: HTMLElement;
  /** Pixels of an area from the upper left corner of what is scrolled. */
  boxOf: (area: Area) => { top: number; left: number; width: number; height: number };
  /** Pixels that the headers take of the view. */
  headers: { top: number; left: number };
}

/** The cells of a sheet with the source's look: only what is in view is fetched and drawn. A range is dragged over it. */
export function SheetGrid(props: Props) {
  const { sourceId, hash, sheet, used, selection, onSelect } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const place = { sourceId, hash, sheet };
  const layout = useGridLayout(place, used, selection, props.rows, scroller);
  const { size, isMeasured, offsets, lines } = layout;
  const { anchor, focus, go, handlers } = useSelecting(scroller, offsets, lines, size, onSelect);
  const entering = props.cells?.entering ?? null;
  const at = pickedCell(selection, focus);
  const { data: around } = useCellsQuery(
    { ...place, reference: formatArea(tileAround(at ?? FIRST, size)) },
    { skip: !props.cells || !at },
  );
  const held = at && around?.cells.find((each) => each.row === at.row && each.column === at.column);
  const keys = useEntryKeys(entering, at, selection);
  const shown = selection && intersection(selection, layout.drawable);
  useImperativeHandle(
    props.viewRef,
    () => ({
      scroller: scroller.current!,
      boxOf: (area) => boxOf(area, offsets, lines),
      headers: { top: ROW_HEIGHT, left: ROW_HEADER },
    }),
    [offsets, lines],
  );
  useGridCopy(scroller, selection, props.onCopy);
  useComingIntoView(selection, layout, anchor);
  const box = (
    <div
      ref={scroller}
      role="application"
      aria-label={`Cells of ${sheet}`}
      aria-description={`Arrow keys go from cell to cell, with Shift they take a range.${entering ? ' Letters and Enter change a cell, Delete empties it, Ctrl+D fills down, Ctrl+Z takes back.' : ''}`}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the grid is worked with the keyboard
      tabIndex={0}
      className="relative min-h-0 flex-1 touch-none overflow-auto border border-hairline bg-white select-none"
      {...handlers}
      onPointerDown={isMeasured ? handlers.onPointerDown : undefined}
      onKeyDown={(event) => {
        if (!keys.press(event)) handlers.onKeyDown(event);
      }}
      onDoubleClick={() => at && entering?.open(at, null)}
      onPaste={keys.paste}
      aria-busy={!isMeasured}
    >
      <GridCells grid={props} {...{ layout, entering, shown, go }} held={held ?? undefined} />
      <span className="sr-only" aria-live="polite">
        {selection
          ? `${formatReference({ sheet, area: selection })} taken`
          : focus && formatCell(focus)}
      </span>
    </div>
  );
  if (!props.cells) return box;
  return (
    <>
      <CellLine
        at={at}
        cell={held ?? undefined}
        entering={entering}
        menu={entering && shown && <LinesMenu {...place} area={shown} />}
      />
      {box}
    </>
  );
}

/** A typed range comes into view, and what is selected when the widths are known. What is dragged over stays where it is. */
function useComingIntoView(
  selection: Area | null,
  { size, isMeasured, rows, columns }: GridLayout,
  anchor: RefObject<CellAddress | null>,
): void {
  const wanted = selection && formatArea(selection);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only a new range or new widths move the view
  useEffect(() => {
    if (!selection || (anchor.current && holdsCorner(selection, anchor.current))) return;
    rows.scrollToIndex(Math.min(selection.top, size.rows) - 1, { align: 'auto' });
    columns.scrollToIndex(Math.min(selection.left, size.columns) - 1, { align: 'auto' });
  }, [wanted, isMeasured]);
}

/** The cells that are in view, with what is drawn over them: outlines, the field that is typed in, the selection. */
function GridCells(props: {
  grid: Props;
  layout: GridLayout;
  entering: Entering | null;
  /** The selection, as far as it is drawn. */
  shown: Area | null;
  /** The picked cell. */
  held: Cell | undefined;
  go: (from: CellAddress, down: number, across: number) => void;
}) {
  const { layout, entering, shown, held, go } = props;
  const { sourceId, hash, sheet, used, selection, outlines = [], carry } = props.grid;
  const { size, drawable, isMeasured, offsets, lines, widths, heights } = layout;
  const seenRows = layout.rows.getVirtualItems();
  const seenColumns = layout.columns.getVirtualItems();
  return (
    <div
      className={`relative ${isMeasured ? '' : 'invisible'}`}
      style={{ width: ROW_HEADER + offsets.at(-1)!, height: ROW_HEIGHT + lines.at(-1)! }}
    >
      <GridHeads
        rows={seenRows}
        columns={seenColumns}
        {...{ offsets, widths, lines, heights, shown }}
      />
      {tilesOf(seenRows, seenColumns, size).map((area) => (
        <GridTile
          key={formatArea(area)}
          {...{ sourceId, hash, sheet, area, offsets, lines }}
          firstRow={(seenRows[0]?.index ?? 0) + 1}
          lastRow={(seenRows.at(-1)?.index ?? 0) + 1}
          faces={entering?.faces}
        />
      ))}
      <SheetOutlines {...{ outlines, drawable, used, offsets, lines, seenRows }} />
      {entering?.opened && (
        <EntryField
          key={`${entering.opened.row},${entering.opened.column}`}
          entering={entering}
          cell={entering.opened}
          stood={stoodAs(entering, entering.opened, held)}
          style={boxOf(areaOfCell(entering.opened), offsets, lines)}
          onLeft={(down, across) => go(entering.opened!, down, across)}
        />
      )}
      {shown && (
        <div
          className="pointer-events-none absolute border-2 border-rope bg-rope/10"
          style={boxOf(shown, offsets, lines)}
        >
          {carry && selection && (
            // Below the selection, or at the foot of the view where that is longer.
            <div className="absolute top-0 -bottom-7 left-[-2px] flex flex-col justify-end">
              <Grip carry={carry} area={selection} />
            </div>
          )}
        </div>
      )}
    </div>
  );
}

const FIRST = { row: 1, column: 1 };
const areaOfCell = ({ row, column }: CellAddress): Area => ({
  top: row,
  left: column,
  bottom: row,
  right: column,
});

/** The cell that is meant where a range is selected: the one that was gone to last, if it lies in it. */
function pickedCell(selection: Area | null, focus: CellAddress | null): CellAddress | null {
  if (!selection) return focus;
  const isInside = focus && holds(selection, focus) && isOneCell(selection);
  return isInside ? focus : { row: selection.top, column: selection.left };
}

const isOneCell = ({ top, left, bottom, right }: Area) => top === bottom && left === right;

/** What stands in a cell, as it would be typed. */
function stoodAs(entering: Entering, at: CellAddress, cell: Cell | undefined): string {
  const entry = entering.entryAt(at);
  if (entry) return entry.typed;
  return cell?.formula ? formulaAs(cell.formula) : typedAs(cell);
}

/** The letters of the columns and the numbers of the rows in view; those of the selected cells stand out. */
function GridHeads(props: {
  rows: VirtualItem[];
  columns: VirtualItem[];
  offsets: readonly number[];
  widths: readonly number[];
  lines: readonly number[];
  heights: readonly number[];
  shown: Area | null;
}) {
  const { rows, columns, offsets, widths, lines, heights, shown } = props;
  const tint = (isSelected: boolean | null) =>
    isSelected ? 'bg-rope/25 text-ink' : 'bg-mist text-muted';
  return (
    <>
      <div className="sticky top-0 z-20 bg-mist" style={{ height: ROW_HEIGHT }}>
        {columns.map(({ index }) => (
          <div
            key={index}
            data-column={index + 1}
            className={`absolute overflow-hidden border-r border-b border-hairline text-center text-sm leading-[21px] ${tint(shown && index + 1 >= shown.left && index + 1 <= shown.right)}`}
            style={{
              left: ROW_HEADER + offsets[index]!,
              width: widths[index],
              height: ROW_HEIGHT,
            }}
          >
            {columnName(index + 1)}
          </div>
        ))}
        <div
          className="sticky left-0 z-10 border-r border-b border-hairline bg-mist"
          style={{ width: ROW_HEADER, height: ROW_HEIGHT }}
        />
      </div>
      <div
        className="sticky left-0 z-[15] bg-mist"
        style={{ width: ROW_HEADER, height: lines.at(-1) }}
      >
        {rows.map(({ index }) => (
          <div
            key={index}
            data-row={index + 1}
            className={`absolute flex items-end justify-end overflow-hidden border-r border-b border-hairline pr-2 text-right text-sm leading-[21px] ${tint(shown && index + 1 >= shown.top && index + 1 <= shown.bottom)}`}
            style={{ top: lines[index], width: ROW_HEADER, height: heights[index] }}
          >
            {index + 1}
          </div>
        ))}
      </div>
    </>
  );
}

/** What the selected cells are taken hold of by. */
function Grip({ carry, area }: { carry: NonNullable<Props['carry']>; area: Area }) {
  return (
    <button
      type="button"
      draggable
      aria-label={carry.label}
      title={carry.label}
      // Taking hold of it is not the beginning of a range.
      onPointerDown={(event) => event.stopPropagation()}
      onDragStart={(event) => {
        event.dataTransfer.effectAllowed = 'copy';
        carry.onDragStart(event.dataTransfer, area);
      }}
      onClick={() => carry.onPress(area)}
      className="pointer-events-auto sticky bottom-1 z-10 flex h-6 cursor-grab items-center gap-1 rounded-box bg-[#8a5518] pr-2 pl-1 text-sm whitespace-nowrap text-white"
    >
      <GripVertical size={13} aria-hidden /> Into the text
    </button>
  );
}

function holdsCorner(area: Area, { row, column }: CellAddress): boolean {
  return (
    (row === area.top || row === area.bottom) && (column === area.left || column === area.right)
  );
}

/** The tiles that cover what is in view. */
function tilesOf(
  rows: VirtualItem[],
  columns: VirtualItem[],
  size: { rows: number; columns: number },
): Area[] {
  const [firstRow, lastRow] = [rows[0]?.index ?? 0, rows.at(-1)?.index ?? -1];
  const [firstColumn, lastColumn] = [columns[0]?.index ?? 0, columns.at(-1)?.index ?? -1];
  const tiles: Area[] = [];
  for (let r = firstRow - (firstRow % TILE_ROWS); r <= lastRow; r += TILE_ROWS) {
    for (let c = firstColumn - (firstColumn % TILE_COLUMNS); c <= lastColumn; c += TILE_COLUMNS) {
      tiles.push({
        top: r + 1,
        left: c + 1,
        bottom: Math.min(r + TILE_ROWS, size.rows),
        right: Math.min(c + TILE_COLUMNS, size.columns),
      });
    }
  }
  return tiles;
}

import { useVirtualizer, type VirtualItem } from '@tanstack/react-virtual';
import {
  type Area,
  type CellAddress,
  columnName,
  formatArea,
  formatCell,
  formatReference,
  intersection,
  type RowHeights,
} from '@tether/core';
import { GripVertical, type LucideIcon } from 'lucide-react';
import {
  type KeyboardEvent,
  type PointerEvent,
  type ReactNode,
  type Ref,
  useEffect,
  useImperativeHandle,
  useMemo,
  useRef,
  useState,
} from 'react';
import { useCellsQuery } from '../app/api.ts';
import { GridTile, TILE_COLUMNS, TILE_ROWS } from './GridTile.tsx';
import {
  bandAt,
  gridHeights,
  gridSize,
  gridWidths,
  offsetsOf,
  ROW_HEADER,
  ROW_HEIGHT,
} from './gridGeometry.ts';

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

/** An area of the sheet with a name: a use of it, a block, a name, a table object. */
export interface Outline {
  key: string;
  area: Area;
  /** Null for one that is only drawn. */
  label: string | null;
  /** A use is drawn as rope, what could be used thin and dashed. */
  kind: 'use' | 'offer';
  /** Drawn stronger than others. */
  isChosen?: boolean;
  onChoose: () => void;
  /** Other ways to take it, as small buttons beside its label. */
  ways?: { label: string; icon: LucideIcon; onChoose: () => void }[];
  /** Drawn within it while it is in view: a chart over the cells. */
  content?: ReactNode;
}

/** The cells of a sheet with the source's look: only what is in view is fetched and drawn. A range is dragged over it. */
export function SheetGrid(props: Props) {
  const { sourceId, hash, sheet, used, selection, onSelect, outlines = [] } = props;
  const { rows: rowHeights } = props;
  const scroller = useRef<HTMLDivElement>(null);
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

  const { anchor, focus, handlers } = useSelecting(scroller, offsets, lines, size, onSelect);
  const seenRows = rows.getVirtualItems();
  const seenColumns = columns.getVirtualItems();
  const drawable = { top: 1, left: 1, bottom: size.rows, right: size.columns };
  const shown = selection && intersection(selection, drawable);

  useImperativeHandle(
    props.viewRef,
    () => ({
      scroller: scroller.current!,
      boxOf: (area) => boxOf(area, offsets, lines),
      headers: { top: ROW_HEIGHT, left: ROW_HEADER },
    }),
    [offsets, lines],
  );

  // A copy goes by what is selected as text, which may still be elsewhere: who works on the grid means its cells.
  const copied = useRef<(data: DataTransfer) => void>(() => undefined);
  copied.current = (data) => selection && props.onCopy?.(data, selection);
  const mayCopy = props.onCopy !== undefined && selection !== null;
  useEffect(() => {
    if (!mayCopy) return;
    const copy = (event: ClipboardEvent) => {
      if (document.activeElement !== scroller.current || !event.clipboardData) return;
      copied.current(event.clipboardData);
      event.preventDefault();
      event.stopPropagation();
    };
    document.addEventListener('copy', copy, { capture: true });
    return () => document.removeEventListener('copy', copy, { capture: true });
  }, [mayCopy]);

  // A typed range comes into view, and what is selected when the widths are known.
  const wanted = selection && formatArea(selection);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only a new range or new widths move the view
  useEffect(() => {
    if (!selection || (anchor.current && holdsCorner(selection, anchor.current))) return;
    rows.scrollToIndex(Math.min(selection.top, size.rows) - 1, { align: 'auto' });
    columns.scrollToIndex(Math.min(selection.left, size.columns) - 1, { align: 'auto' });
  }, [wanted, isMeasured]);

  return (
    <div
      ref={scroller}
      role="application"
      aria-label={`Cells of ${sheet}`}
      aria-description="Arrow keys go from cell to cell, with Shift they take a range."
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the grid is worked with the keyboard
      tabIndex={0}
      className="relative min-h-0 flex-1 touch-none overflow-auto border border-hairline bg-white select-none"
      {...handlers}
      onPointerDown={isMeasured ? handlers.onPointerDown : undefined}
      aria-busy={!isMeasured}
    >
      <div
        className={`relative ${isMeasured ? '' : 'invisible'}`}
        style={{ width: ROW_HEADER + offsets.at(-1)!, height: ROW_HEIGHT + lines.at(-1)! }}
      >
        <div className="sticky top-0 z-20 bg-mist" style={{ height: ROW_HEIGHT }}>
          {seenColumns.map(({ index }) => (
            <div
              key={index}
              data-column={index + 1}
              className={`absolute overflow-hidden border-r border-b border-hairline text-center text-sm leading-[21px] ${shown && index + 1 >= shown.left && index + 1 <= shown.right ? 'bg-rope/25 text-ink' : 'bg-mist text-muted'}`}
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
          {seenRows.map(({ index }) => (
            <div
              key={index}
              data-row={index + 1}
              className={`absolute flex items-end justify-end overflow-hidden border-r border-b border-hairline pr-2 text-right text-sm leading-[21px] ${shown && index + 1 >= shown.top && index + 1 <= shown.bottom ? 'bg-rope/25 text-ink' : 'bg-mist text-muted'}`}
              style={{ top: lines[index], width: ROW_HEADER, height: heights[index] }}
            >
              {index + 1}
            </div>
          ))}
        </div>
        {tilesOf(seenRows, seenColumns, size).map((area) => (
          <GridTile
            key={formatArea(area)}
            sourceId={sourceId}
            hash={hash}
            sheet={sheet}
            area={area}
            offsets={offsets}
            lines={lines}
            firstRow={(seenRows[0]?.index ?? 0) + 1}
            lastRow={(seenRows.at(-1)?.index ?? 0) + 1}
          />
        ))}
        {outlines.map((outline, index) => {
          const drawn = intersection(outline.area, drawable);
          if (!drawn) return null;
          const box = boxOf(drawn, offsets, lines);
          // Labels at the same corner stand below one another.
          const above = outlines
            .slice(0, index)
            .filter(
              ({ area, label }) =>
                label !== null &&
                area.top === outline.area.top &&
                area.right === outline.area.right,
            );
          return (
            <div
              key={outline.key}
              className={`pointer-events-none absolute ${outline.kind === 'use' ? `border-2 border-rope ${outline.isChosen ? 'bg-rope/15' : ''}` : 'border border-dashed border-deep'}`}
              style={box}
            >
              {outline.content && isInView(drawn, seenRows) && (
                <div className="size-full bg-white">{outline.content}</div>
              )}
              {outline.label !== null && (
                <div
                  className="absolute -left-px flex justify-end"
                  style={labelPlace(
                    lines[Math.min(outline.area.top, size.rows) - 1]!,
                    outline.label,
                    above.length,
                    isAtFoot(outline.area, used) ? box.height : null,
                  )}
                >
                  <button
                    type="button"
                    // A press on the label is not the beginning of a range.
                    onPointerDown={(event) => event.stopPropagation()}
                    onClick={outline.onChoose}
                    className={`pointer-events-auto sticky right-0 z-10 max-w-[220px] truncate px-1.5 text-sm text-white ${outline.kind === 'use' ? 'bg-[#8a5518]' : 'bg-deep'}`}
                    style={{ height: ROW_HEIGHT + 2, lineHeight: `${ROW_HEIGHT}px` }}
                  >
                    {outline.label}
                  </button>
                  {outline.ways?.map(({ label, icon: Icon, onChoose }) => (
                    <button
                      key={label}
                      type="button"
                      aria-label={label}
                      title={label}
                      onPointerDown={(event) => event.stopPropagation()}
                      onClick={onChoose}
                      className="pointer-events-auto grid w-6 place-items-center border-l border-white/40 bg-deep text-white"
                      style={{ height: ROW_HEIGHT + 2 }}
                    >
                      <Icon size={14} aria-hidden />
                    </button>
                  ))}
                </div>
              )}
            </div>
          );
        })}
        {shown && (
          <div
            className="pointer-events-none absolute border-2 border-rope bg-rope/10"
            style={boxOf(shown, offsets, lines)}
          >
            {props.carry && selection && (
              // Below the selection, or at the foot of the view where that is longer.
              <div className="absolute top-0 -bottom-7 left-[-2px] flex flex-col justify-end">
                <Grip carry={props.carry} area={selection} />
              </div>
            )}
          </div>
        )}
      </div>
      <span className="sr-only" aria-live="polite">
        {selection
          ? `${formatReference({ sheet, area: selection })} taken`
          : focus && formatCell(focus)}
      </span>
    </div>
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

function isInView({ top, bottom }: Area, rows: VirtualItem[]): boolean {
  return bottom > (rows[0]?.index ?? 0) && top <= (rows.at(-1)?.index ?? -1) + 1;
}

/** Pixels that a label beside its area takes at most. */
const LABEL_WIDTH = 220;
/** An area of so few rows is seen whole, and its label below it too. */
const FEW_ROWS = 3;
/** What a letter of it takes, about. */
const LETTER_WIDTH = 6;

/**
 * Labels stand below an area that ends where the sheet does (`below`: its height), where nothing is covered; otherwise above,
 * one over the other, as far as there are rows for them; then at its right side: so none covers a header while there is
 * room beside it.
 */
function labelPlace(
  top: number,
  label: string,
  before: number,
  below: number | null,
): { top: number; width: string } {
  const step = ROW_HEIGHT + 3;
  if (below !== null) return { top: below - 1 + before * step, width: 'calc(100% + 2px)' };
  const above = Math.floor((top + 3) / step);
  if (before < above) return { top: -(before + 1) * step, width: 'calc(100% + 2px)' };
  const width = Math.min(LABEL_WIDTH, LETTER_WIDTH * label.length + LETTER_WIDTH * 2);
  return { top: (before - above) * step - 1, width: `calc(100% + ${width}px)` };
}

/** Whether an area of a few rows ends where the sheet does. */
function isAtFoot({ top, bottom }: Area, used: Area | null): boolean {
  return used !== null && top > used.top && bottom >= used.bottom && bottom - top < FEW_ROWS;
}

/** Where an area is drawn. */
function boxOf(
  { top, left, bottom, right }: Area,
  offsets: readonly number[],
  lines: readonly number[],
) {
  const [columns, rows] = [offsets.length - 1, lines.length - 1];
  const [from, to] = [Math.min(left - 1, columns), Math.min(right, columns)];
  const [above, below] = [lines[Math.min(top - 1, rows)]!, lines[Math.min(bottom, rows)]!];
  return {
    top: ROW_HEIGHT + above - 1,
    left: ROW_HEADER + offsets[from]! - 1,
    width: offsets[to]! - offsets[from]! + 1,
    height: below - above + 1,
  };
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

const EDGE = 28;

/** Taking a range with the pointer or the keyboard. */
function useSelecting(
  scroller: React.RefObject<HTMLDivElement | null>,
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
  return { anchor, focus, handlers: { onPointerDown, onPointerMove, onPointerUp, onKeyDown } };
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

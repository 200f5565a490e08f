import {
  CELL_PADDING,
  type Cell,
  FOLD_GAP,
  fittedText,
  gridOf,
  headerOf,
  isFilled,
  isTextCut,
  LINE_HEIGHT,
  type Snapshot,
  type Span,
  type StripCut,
  spansIn,
  type TableFace,
  type TablePart,
} from '@tether/core';
import { Fragment, memo, type ReactNode, useMemo } from 'react';
import { InView } from '../nearness/InView.tsx';
import { barStyle, CellFace } from './CellFace.tsx';
import { cellClass } from './cell-class.ts';
import { CONTINUED_HEIGHT } from './continued.ts';
import { Turned } from './Turned.tsx';

interface Props {
  face: TableFace;
  /** Name for screen readers. */
  label: string;
  /** Cell of the sheet to light up for a moment; a new `at` lights it again. */
  flash?: { row: number; column: number; at: number } | null;
  /** Show at most so many rows. */
  maxRows?: number;
  /** Where pages break within it, with the pixels to the next page’s text. */
  breaks?: readonly TableBreak[];
  /** Said above what goes on on another page. */
  continued?: string;
  /** Cells of the sheet that changed since the person last looked, `row,column`. */
  marks?: ReadonlySet<string> | null;
  /** How cells of the sheet stand to being corrected here, by `row,column`. */
  edits?: ReadonlyMap<string, EditMark> | null;
  /** What is picked of it: a cell, a row (column null), a column (row null). */
  picked?: { row: number | null; column: number | null } | null;
  /** Where parts that stand side by side come to stand instead, by their number among all parts. */
  slot?: PartSlot | undefined;
}

/** Gives a part of a folded table its place. */
type PartSlot = (nth: number, part: ReactNode) => ReactNode;

/** How a cell stands to being corrected in the document. */
export type EditMark =
  | 'edited'
  | 'contested'
  | 'open'
  | 'open formula'
  | 'provisional'
  | 'not final';

const EDIT_CLASSES: Record<EditMark, string> = {
  edited: 'edited-here',
  contested: 'contested-here',
  open: 'open-here',
  'open formula': 'open-here formula-here',
  provisional: 'provisional-here',
  'not final': 'not-final-here',
};

/** A page break within a placed table. */
export interface TableBreak {
  place: StripCut;
  gap: number;
}

/**
 * A placed table as it was dressed, measured and folded: letters, fills, borders, widths, merged cells; hidden rows and
 * columns stay out. Where pages break it goes on below, its header over it again.
 */
export const PlacedTable = memo(function PlacedTable(props: Props) {
  const { face, label, maxRows, breaks = [], continued, flash, picked, marks, edits } = props;
  const { slot = AS_IT_IS } = props;
  const { snapshot, layout, strips } = face;
  const grid = useMemo(() => gridOf(snapshot), [snapshot]);
  const { title } = useMemo(() => headerOf(snapshot, grid), [snapshot, grid]);
  const piece = (part: TablePart) => ({
    face,
    grid,
    title,
    part,
    label,
    flash,
    picked,
    marks,
    edits,
  });
  /** How many parts stand in the strips before. */
  const before = (strip: number) =>
    strips.slice(0, strip).reduce((sum, { parts }) => sum + parts.length, 0);
  const isShort = layout.heights.length <= SHORT_ROWS;
  return (
    <div className="placed-table" data-table>
      {strips.map(({ parts }, strip) => {
        const first = before(strip);
        const gapBefore = breaks.find(({ place }) => place.strip === strip && place.row === null);
        const inside = breaks.filter(({ place }) => place.strip === strip && place.row !== null);
        const [only] = parts;
        return (
          <Fragment key={strip}>
            {strip > 0 && <div style={{ height: FOLD_GAP.y }} />}
            {gapBefore && <PageGap height={gapBefore.gap} continued={continued} />}
            {parts.length === 1 && only ? (
              slices(only, inside, maxRows, snapshot).map(({ part, gap }, index) => (
                <Fragment key={part.from}>
                  {gap !== null && <PageGap height={gap} continued={continued} />}
                  <InView
                    head={heightOf(layout.heights, 0, part.head.length)}
                    height={heightOf(layout.heights, part.from, part.to)}
                    width={part.columns.reduce((sum, column) => sum + layout.widths[column]!, 0)}
                    isHeadRepeated={index > 0}
                    isKept={isShort || (index === 0 && strip === 0)}
                  >
                    <PartTable {...piece(part)} />
                  </InView>
                </Fragment>
              ))
            ) : (
              <div className="flex items-start" style={{ gap: FOLD_GAP.x }}>
                {parts.map((part, at) => (
                  <Fragment key={part.from}>
                    {slot(first + at, <PartTable {...piece(part)} />)}
                  </Fragment>
                ))}
              </div>
            )}
          </Fragment>
        );
      })}
    </div>
  );
});

const AS_IT_IS: PartSlot = (_nth, part) => part;

/** Tables of so many rows at most come to be drawn whole: they can be searched, and read out from end to end. */
const SHORT_ROWS = 200;
/** The most rows that are drawn as one piece; more are drawn piece by piece as they come near the screen. */
const PIECE_ROWS = 80;

/**
 * The pieces of a part that stand on different pages, each with the gap before it, long ones in pieces of their own. Only a
 * page parts merged cells.
 */
function slices(
  part: TablePart,
  breaks: readonly TableBreak[],
  maxRows: number | undefined,
  { area, merges }: Pick<Snapshot, 'area' | 'merges'>,
): { part: TablePart; gap: number | null }[] {
  const to = maxRows === undefined ? part.to : Math.min(part.to, part.from + maxRows);
  const starts = [part.from, ...breaks.map(({ place }) => place.row!)];
  /** The first row from `row` on at which no merged cells go on. */
  const whole = (row: number): number => {
    const across = merges.find(
      ({ top, bottom }) => top - area.top < row && bottom - area.top >= row,
    );
    return across ? whole(across.bottom - area.top + 1) : row;
  };
  return starts.flatMap((from, index) => {
    const end = Math.min(to, starts[index + 1] ?? to);
    const gap = index === 0 ? null : breaks[index - 1]!.gap;
    const pieces: { part: TablePart; gap: number | null }[] = [];
    for (let at = from; at < end || pieces.length === 0; ) {
      const next = Math.min(end, whole(at + PIECE_ROWS));
      const isFirst = pieces.length === 0;
      pieces.push({
        part: { ...part, ...(isFirst ? {} : { head: [] }), from: at, to: next },
        gap: isFirst ? gap : null,
      });
      if (next <= at) break;
      at = next;
    }
    return pieces;
  });
}

function heightOf(heights: readonly number[], from: number, to: number): number {
  let sum = 0;
  for (let row = from; row < to; row++) sum += heights[row]!;
  return sum;
}

/** The room between two pages within a table, and the line that says that it goes on. */
export function PageGap({ height, continued }: { height: number; continued: string | undefined }) {
  return (
    <>
      <div className="page-gap" style={{ height }} />
      <p className="table-continued" style={{ height: CONTINUED_HEIGHT }}>
        {continued}
      </p>
    </>
  );
}

interface PartProps extends Pick<Props, 'face' | 'label' | 'flash' | 'picked' | 'marks' | 'edits'> {
  grid: (Cell | undefined)[][];
  /** Rows above the header. */
  title: number;
  part: TablePart;
}

/** One piece of a table: a header and rows, some columns. */
const PartTable = memo(function PartTable(props: PartProps) {
  const { face, grid, part, label } = props;
  const { snapshot, layout } = face;
  const { widths, heights } = layout;
  const { columns } = part;
  const rows = useMemo(
    () =>
      [
        ...part.head,
        ...Array.from({ length: part.to - part.from }, (_, at) => part.from + at),
      ].filter((row) => heights[row]! > 0),
    [part, heights],
  );
  const spans = useMemo(
    () =>
      spansIn(
        snapshot,
        [
          rows.filter((row) => row < layout.headerRows),
          rows.filter((row) => row >= layout.headerRows),
        ],
        columns,
        grid,
      ),
    [snapshot, layout, rows, columns, grid],
  );
  const line = (r: number) => (
    <tr key={r} style={{ height: heights[r] }}>
      {columns.map((_, at) => cellOf(props, spans, r, at))}
    </tr>
  );
  const isHead = (row: number) => row < part.head.length;
  return (
    <table
      aria-label={label}
      className="border-collapse"
      style={{
        tableLayout: 'fixed',
        lineHeight: LINE_HEIGHT,
        width: widthOf(widths, columns),
      }}
    >
      <colgroup>
        {columns.map((column) => (
          <col key={column} style={{ width: widths[column] }} />
        ))}
      </colgroup>
      {part.head.length > 0 && <thead>{rows.filter(isHead).map(line)}</thead>}
      <tbody>{rows.filter((row) => !isHead(row)).map(line)}</tbody>
    </table>
  );
});

/** A cell of a piece, by its row in the area and its place among the columns; none where another one lies over it. */
function cellOf(
  { face, grid, title, part, flash, picked, marks, edits }: PartProps,
  spans: ReadonlyMap<string, Span | null>,
  r: number,
  at: number,
): ReactNode {
  const { snapshot, layout } = face;
  const { area, dresses } = snapshot;
  const { widths, fit, narrowed } = layout;
  const { columns } = part;
  const c = columns[at]!;
  const span = spans.get(`${r},${c}`);
  if (span === null) return null;
  const cell = span ? span.cell : grid[r]![c];
  const dress = cell?.dress === undefined ? undefined : dresses[cell.dress];
  const isFlashed = flash?.row === area.top + r && flash.column === area.left + c;
  // A text that does not fit shows over its empty right neighbour, as it does on the sheet.
  const next = columns[at + 1];
  const isOver = cell?.type === 'text' && next === c + 1 && !isFilled(grid[r]![next]);
  const width = span ? widthOf(widths, columns.slice(at, at + span.columns)) : widths[c]!;
  const wraps = fit === 'page' || narrowed.has(c);
  const isCut = cell && !wraps && !isOver && isTextCut(cell, dress, width, fit);
  const edit = edits?.get(`${area.top + r},${area.left + c}`);
  const isFresh = marks?.has(`${area.top + r},${area.left + c}`);
  const isPicked =
    picked &&
    (picked.row ?? r) === r &&
    (picked.column ?? c) === c &&
    (picked.row ?? picked.column) !== null;
  const isHeading = r >= title && r < layout.headerRows;
  const Part = isHeading ? 'th' : 'td';
  return (
    <Part
      scope={isHeading ? 'col' : undefined}
      ref={isFlashed ? bringIntoView : undefined}
      key={`${c}${isFlashed ? `-${flash.at}` : ''}`}
      rowSpan={span?.rows}
      colSpan={span?.columns}
      data-type={cell?.type}
      data-cell={`${r},${c}`}
      data-edit={edit}
      title={isCut ? cell.text : undefined}
      className={`${cellClass(cell, dress, { ...CELL_PADDING[fit], wraps })} ${isCut ? 'overflow-clip text-ellipsis' : ''} ${isFlashed ? 'flash' : ''} ${isPicked ? 'picked' : ''} ${isFresh ? 'fresh' : ''} ${edit === undefined ? '' : EDIT_CLASSES[edit]}`}
      style={
        cell?.ink || cell?.bar
          ? { ...(cell.ink ? { color: cell.ink } : {}), ...barStyle(cell) }
          : undefined
      }
    >
      {cell && (
        // Where rows are as high as in the source there is room for letters that are turned.
        <Turned rotation={fit === 'source' ? dress?.rotation : undefined}>
          <CellFace cell={cell} shown={fittedText(cell, dress, width, fit)} isLinked />
        </Turned>
      )}
    </Part>
  );
}

const widthOf = (widths: readonly number[], columns: readonly number[]): number =>
  columns.reduce((sum, column) => sum + widths[column]!, 0);

function bringIntoView(cell: HTMLElement | null): void {
  cell?.scrollIntoView({ block: 'center', inline: 'nearest' });
}

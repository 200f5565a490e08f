import { isoToSerial } from '../sheet/date.ts';
import { headersOf, rowLabel } from '../sheet/header.ts';
import { hiddenPlaces } from '../sheet/hidden.ts';
import {
  describeLandmarks,
  FEW_CELLS,
  type LandmarkChange,
  landmarksChanged,
} from '../sheet/landmarks.ts';
import { showDifference, showNumber } from '../sheet/number-format.ts';
import { type Cell, type CellType, gridOf, isFilled, type Snapshot } from '../sheet/sheet.ts';
import { isTotal, totalsAtEnd, totalsRows } from '../sheet/totals.ts';
import { type AlignableRow, alignRows, type RowPair } from './align.ts';
import { alignColumns, type ColumnPair } from './align-columns.ts';

/** What a cell shows at one moment. */
export interface Face {
  type: CellType;
  value: number | string | boolean;
  text: string;
}

/** One cell of a change slip. `before` is null for a cell that was empty, `after` for one that is empty now. */
export interface CellChange {
  /** Column of the sheet, counted from 1. */
  column: number;
  /** The column where it stood before, when that was another one. */
  columnBefore?: number;
  /** Header text of the column, empty when the table has none. */
  header: string;
  before: Face | null;
  after: Face | null;
  /** `+12` for numbers, `+3 days` for dates, null where there is no difference to speak of. */
  difference: string | null;
  /**
   * `look` when only the look changed, its number format among it; `volatile` for a figure that is another one at every
   * save because its formula asks for the time or for chance.
   */
  kind: 'figure' | 'volatile' | 'look';
}

/** One row of a change slip: inserted, removed, or with changed cells. Row numbers are those of the sheet. */
export interface RowChange {
  kind: 'inserted' | 'removed' | 'changed';
  before: number | null;
  after: number | null;
  /** The row's first text, to know it by. */
  label: string;
  /** The source hides the row now, or shows it again. */
  hiding?: 'hidden' | 'shown';
  /** Of a row that was removed here and inserted unchanged elsewhere: the index of its other half among the slip's rows. */
  twin?: number;
  cells: CellChange[];
}

/** A column that came, went, or stands elsewhere. Of rows that stayed, the cells of one that came or went are told here alone. */
export interface ColumnChange {
  kind: 'inserted' | 'removed' | 'moved' | 'hidden' | 'shown';
  /** Columns of the sheet, counted from 1. */
  before: number | null;
  after: number | null;
  header: string;
  /** Filled cells of one that came or went, by their row of the state that has them. What changed in a moved one is told in its rows. */
  cells: { row: number; face: Face }[];
}

/** The sum of a numeric column before and after, with its text under the column's number format. */
export interface TotalChange {
  column: number;
  header: string;
  before: string;
  after: string;
  difference: string;
  /** `+7.2 %` of what it was; empty where that says nothing. Absent in slips that were logged earlier. */
  perCent?: string;
}

/** The cell changes that a refresh will make or has made. */
export interface ChangeSlip {
  totals: TotalChange[];
  rows: RowChange[];
  /** Absent where no column came, went or moved. */
  columns?: ColumnChange[];
  /** Column widths, row heights, hidden rows or columns, or merged cells changed. */
  arrangement: boolean;
  /** Landmarks that say something else. Absent where none do. */
  landmarks?: LandmarkChange[];
  /** The row of totals at the end, by its first text, where it is not among the cells any more. Absent where it is. */
  lostTotals?: string;
  /** Rows that moved are not counted as inserted and removed. */
  counts: {
    cells: number;
    inserted: number;
    removed: number;
    moved: number;
    looks: number;
    /** Absent in slips that were logged earlier. */
    volatile?: number;
    /** Rows that the source hides now or shows again. Absent where there are none. */
    hidden?: number;
    shown?: number;
  };
}

type Grid = (Cell | undefined)[][];

/**
 * What turns `before` into `after`. Rows and columns are aligned by what they hold. Cells are
 * compared by type, value and shown text, and by their look. The slip is empty exactly when both show the same.
 */
export function changeSlip(before: Snapshot, after: Snapshot): ChangeSlip {
  const both = sidesOf(before, after);
  const headers = both.after.headers.map((each, at) => each || after.landmarks?.columns[at] || '');
  return {
    totals: totals(both, headers),
    ...changesBetween(both, headers, difference),
  };
}

/** The same without the words for people: what only counts the changes needs no totals, headers and differences. */
export function changesOnly(before: Snapshot, after: Snapshot): Changes {
  return changesBetween(sidesOf(before, after), [], () => null);
}

/** What a slip says of rows and cells. */
export type Changes = Omit<ChangeSlip, 'totals'>;

interface Side {
  snapshot: Snapshot;
  grid: Grid;
  headers: string[];
}

/** Two states with their columns matched: what everything that compares them goes by. */
interface Sides {
  before: Side;
  after: Side;
  columns: ColumnPair[];
}

function sidesOf(before: Snapshot, after: Snapshot): Sides {
  const side = (snapshot: Snapshot): Side => {
    const grid = withoutHidden(snapshot);
    return { snapshot, grid, headers: headersOf(snapshot, grid) };
  };
  const [old, now] = [side(before), side(after)];
  return { before: old, after: now, columns: alignColumns(old, now) };
}

/** The cells of a snapshot without those of hidden columns, which states of earlier versions still hold. */
function withoutHidden(snapshot: Snapshot): Grid {
  const grid = gridOf(snapshot);
  const hidden = hiddenPlaces(snapshot.columns);
  for (const index of hidden) {
    for (const row of grid) row[index - snapshot.area.left] = undefined;
  }
  return grid;
}

/** The columns of two states matched, as columns of the sheet; see `alignColumns`. */
export function matchedColumns(before: Snapshot, after: Snapshot): Map<number, number> {
  const matched = new Map<number, number>();
  for (const pair of sidesOf(before, after).columns) {
    if (pair.before === null || pair.after === null) continue;
    matched.set(before.area.left + pair.before, after.area.left + pair.after);
  }
  return matched;
}

function changesBetween(
  sides: Sides,
  headers: string[],
  differenceOf: (a: Cell | undefined, b: Cell | undefined) => string | null,
): Changes {
  const { columns } = sides;
  const { snapshot: before, grid: old } = sides.before;
  const { snapshot: after, grid: now } = sides.after;
  const looks = { before: before.dresses.map(lookKey), after: after.dresses.map(lookKey) };
  const rows: RowChange[] = [];
  const counts = { cells: 0, inserted: 0, removed: 0, moved: 0, looks: 0 };
  let [volatile, hidden, shown] = [0, 0, 0];
  const matched = columns.filter(
    (pair): pair is { before: number; after: number } =>
      pair.before !== null && pair.after !== null,
  );
  for (const pair of rowPairs(sides, matched)) {
    const oldRow = pair.before === null ? [] : old[pair.before]!;
    const newRow = pair.after === null ? [] : now[pair.after]!;
    const cells: CellChange[] = [];
    // A row that came or went is told with all of its cells.
    const places: readonly ColumnPair[] =
      pair.before === null || pair.after === null ? columns : matched;
    for (const place of places) {
      const was = place.before === null ? undefined : oldRow[place.before];
      const is = place.after === null ? undefined : newRow[place.after];
      const kind = changeKind(was, is, looks);
      if (kind === null || (kind === 'look' && (pair.before === null || pair.after === null)))
        continue;
      const column = after.area.left + (place.after ?? place.before!);
      const columnBefore = before.area.left + (place.before ?? place.after!);
      cells.push({
        column,
        ...(columnBefore === column ? {} : { columnBefore }),
        header: headers[place.after ?? -1] ?? '',
        before: faceOf(was),
        after: faceOf(is),
        difference: kind === 'look' ? null : differenceOf(was, is),
        kind,
      });
    }
    const kind = pair.before === null ? 'inserted' : pair.after === null ? 'removed' : 'changed';
    if (kind === 'changed' && cells.length === 0) continue;
    if (pair.hiding === 'hidden') hidden++;
    else if (pair.hiding === 'shown') shown++;
    else if (kind === 'changed') {
      for (const cell of cells) {
        if (cell.kind === 'volatile') volatile++;
        else counts[cell.kind === 'look' ? 'looks' : 'cells']++;
      }
    } else counts[kind]++;
    const named = newRow.some(isFilled) ? newRow : oldRow;
    rows.push({
      kind,
      before: pair.before === null ? null : before.area.top + pair.before,
      after: pair.after === null ? null : after.area.top + pair.after,
      label: labelOf(pair, before, after) || rowLabel(named),
      ...(pair.hiding ? { hiding: pair.hiding } : {}),
      cells,
    });
  }
  const moved = findMoves(rows);
  counts.moved = moved;
  counts.inserted -= moved;
  counts.removed -= moved;
  const columnChanges = columnsChanged(sides);
  const landmarks = landmarksChanged(before, after);
  const lostTotals = totalsLost(sides);
  return {
    rows,
    ...(columnChanges.length > 0 ? { columns: columnChanges } : {}),
    ...(landmarks.length > 0 ? { landmarks } : {}),
    ...(lostTotals === null ? {} : { lostTotals }),
    arrangement:
      arrangementChanged(before, after, matched, {
        rows: counts.inserted + counts.removed + moved + hidden + shown > 0,
        columns: columnChanges.length > 0,
      }) || chartKey(before) !== chartKey(after),
    counts: {
      ...counts,
      ...(volatile > 0 ? { volatile } : {}),
      ...(hidden > 0 ? { hidden } : {}),
      ...(shown > 0 ? { shown } : {}),
    },
  };
}

type Pair = RowPair & { hiding?: 'hidden' | 'shown' };

/** The rows of both sides matched, by what stands in the columns that both have. */
function rowPairs(
  { before, after }: Sides,
  matched: readonly { before: number; after: number }[],
): Pair[] {
  const side = ({ grid }: Side, which: 'before' | 'after') => {
    const isWhole =
      matched.length === grid[0]?.length && matched.every((pair, at) => pair[which] === at);
    return grid.map((row) => toAlignable(isWhole ? row : matched.map((pair) => row[pair[which]])));
  };
  return withHiding(
    alignRows(side(before, 'before'), side(after, 'after')),
    hiddenEmpty(before.snapshot, before.grid),
    hiddenEmpty(after.snapshot, after.grid),
  );
}

/**
 * Where the rows and columns of one state stand in another, as rows and columns of the sheet: matched by what they hold; a row
 * that went at one place and came unchanged at another has moved there. What is not in the map is gone.
 */
export function matchedPlaces(
  before: Snapshot,
  after: Snapshot,
): { rows: Map<number, number>; columns: Map<number, number> } {
  const sides = sidesOf(before, after);
  const matched = sides.columns.filter(
    (pair): pair is { before: number; after: number } =>
      pair.before !== null && pair.after !== null,
  );
  const rows = new Map<number, number>();
  for (const pair of rowPairs(sides, matched)) {
    if (pair.before === null || pair.after === null) continue;
    rows.set(before.area.top + pair.before, after.area.top + pair.after);
  }
  const slip = changesOnly(before, after);
  for (const row of slip.rows) {
    const other = row.twin === undefined ? undefined : slip.rows[row.twin];
    const to = row.after ?? other?.after ?? null;
    if (row.kind === 'removed' && row.before !== null && to !== null) rows.set(row.before, to);
  }
  return {
    rows,
    columns: new Map(
      matched.map((pair) => [before.area.left + pair.before, after.area.left + pair.after]),
    ),
  };
}

/** Rows of a snapshot that its source hides and that are left out: they keep their place and hold nothing. */
function hiddenEmpty({ rows, area }: Snapshot, grid: Grid): Set<number> {
  return new Set(
    rows
      .filter((band) => band.hidden && !grid[band.index - area.top]?.some(isFilled))
      .map(({ index }) => index - area.top),
  );
}

/** Pairs rows that went with the hidden rows that stand at their place now, and the other way round. */
function withHiding(
  pairs: readonly RowPair[],
  before: ReadonlySet<number>,
  after: ReadonlySet<number>,
): Pair[] {
  if (before.size === 0 && after.size === 0) return [...pairs];
  const done: Pair[] = [];
  for (let at = 0; at < pairs.length; ) {
    let end = at;
    while (end < pairs.length && (pairs[end]!.before === null || pairs[end]!.after === null)) end++;
    const gap = pairs.slice(at, end);
    const of = (side: 'before' | 'after') =>
      gap.flatMap((pair) => (pair[side] === null ? [] : [pair[side]]));
    done.push(...gapPairs(of('before'), of('after'), before, after));
    if (end < pairs.length) done.push(pairs[end]!);
    at = end + 1;
  }
  return done;
}

/** What stands in a gap between matched rows, in the order of both sides. */
function gapPairs(
  gone: number[],
  come: number[],
  before: ReadonlySet<number>,
  after: ReadonlySet<number>,
): Pair[] {
  const done: Pair[] = [];
  let [i, j] = [0, 0];
  while (i < gone.length || j < come.length) {
    const [was, is] = [gone[i], come[j]];
    if (was !== undefined && is !== undefined && before.has(was) !== after.has(is)) {
      done.push({ before: was, after: is, hiding: after.has(is) ? 'hidden' : 'shown' });
      i++;
      j++;
    } else if (was !== undefined && is !== undefined && before.has(was) && after.has(is)) {
      done.push({ before: was, after: is });
      i++;
      j++;
    } else if (was !== undefined) {
      done.push({ before: was, after: null });
      i++;
    } else {
      done.push({ before: null, after: is! });
      j++;
    }
  }
  return done;
}

function columnsChanged({ before, after, columns }: Sides): ColumnChange[] {
  /** Whether a hidden column of a side stands between the neighbours that the other side has. */
  const isHiddenAt = (at: number, side: 'before' | 'after') => {
    const { area, columns: bands } = (side === 'before' ? before : after).snapshot;
    const from = columns.slice(0, at).findLast((pair) => pair[side] !== null)?.[side] ?? -1;
    const to = columns.slice(at + 1).find((pair) => pair[side] !== null)?.[side] ?? Infinity;
    return bands.some((band) => {
      const place = band.index - area.left;
      return band.hidden && place > from && place < to;
    });
  };
  return columns.flatMap((pair, at): ColumnChange[] => {
    const [old, now] = [
      pair.before === null ? null : before.snapshot.area.left + pair.before,
      pair.after === null ? null : after.snapshot.area.left + pair.after,
    ];
    const header =
      pair.after === null
        ? (before.headers[pair.before!] ?? '')
        : (after.headers[pair.after] ?? '');
    const change = { before: old, after: now, header };
    if (pair.after === null) {
      const cells = facesIn(before.grid, pair.before!, before.snapshot.area.top);
      return [{ ...change, kind: isHiddenAt(at, 'after') ? 'hidden' : 'removed', cells }];
    }
    if (pair.before === null) {
      const cells = facesIn(after.grid, pair.after, after.snapshot.area.top);
      return [{ ...change, kind: isHiddenAt(at, 'before') ? 'shown' : 'inserted', cells }];
    }
    return pair.isMoved ? [{ ...change, kind: 'moved', cells: [] }] : [];
  });
}

function facesIn(grid: Grid, column: number, top: number): ColumnChange['cells'] {
  return grid.flatMap((row, at) => {
    const face = faceOf(row[column]);
    return face ? [{ row: top + at, face }] : [];
  });
}

/** Whether the slip changes nothing. */
export function isEmptySlip(slip: Changes): boolean {
  return slip.rows.length === 0 && !slip.columns && !slip.arrangement;
}

/** How many figures the slip changes: those of rows that came or went too. What only looks different is none. */
export function figuresBehind({ rows, columns = [] }: Changes): number {
  return rows.reduce((sum, { kind, cells, hiding }) => {
    if (hiding) return sum + 1;
    if (kind !== 'changed') return sum + Math.max(1, cells.length);
    return sum + cells.filter((cell) => cell.kind !== 'look').length;
  }, columns.length);
}

/** How many cells the slip is about: its figures; where there are none, those that look different, one for what is no cell. */
export function cellsBehind(changes: Changes): number {
  return figuresBehind(changes) || changes.counts.looks || (changes.arrangement ? 1 : 0);
}

/** `3 cells changed, 1 row inserted`: the slip in a few words. */
export function summariseSlip({
  counts,
  columns = [],
  arrangement,
  landmarks,
  lostTotals,
}: Changes): string {
  const columnsOf = (kind: ColumnChange['kind']) =>
    columns.filter((change) => change.kind === kind).length;
  const count = (n: number, one: string, many: string) =>
    n === 0 ? [] : [`${n} ${n === 1 ? one : many}`];
  const parts = [
    ...count(counts.cells, 'cell changed', 'cells changed'),
    ...count(counts.inserted, 'row inserted', 'rows inserted'),
    ...count(counts.removed, 'row removed', 'rows removed'),
    ...count(counts.moved, 'row moved', 'rows moved'),
    ...count(counts.hidden ?? 0, 'row hidden', 'rows hidden'),
    ...count(counts.shown ?? 0, 'row shown again', 'rows shown again'),
    ...count(columnsOf('inserted'), 'column inserted', 'columns inserted'),
    ...count(columnsOf('removed'), 'column removed', 'columns removed'),
    ...count(columnsOf('moved'), 'column moved', 'columns moved'),
    ...count(columnsOf('hidden'), 'column hidden', 'columns hidden'),
    ...count(columnsOf('shown'), 'column shown again', 'columns shown again'),
    ...count(
      counts.volatile ?? 0,
      'cell that changes at every save',
      'cells that change at every save',
    ),
    ...count(counts.looks, 'cell looks different', 'cells look different'),
  ];
  if (parts.length === 0)
    return arrangement ? 'widths, heights, merged cells or the chart changed' : 'no change';
  return [
    ...parts,
    ...(landmarks ? [describeLandmarks(landmarks)] : []),
    ...(lostTotals === undefined ? [] : [describeLostTotals(lostTotals)]),
  ].join(', ');
}

/** `without its row of totals “All plots”`: what a slip says of totals that were pushed out. */
export function describeLostTotals(label: string): string {
  return label === '' ? 'without its row of totals' : `without its row of totals “${label}”`;
}

/** The row of totals that was the last one and is among the cells no more, by its first text; null where none was lost. */
function totalsLost({ before: old, after: now }: Sides): string | null {
  const [before, after] = [old.snapshot, now.snapshot];
  // A few cells are known by the words at their heads, which tell the same.
  if (before.cells.length < FEW_CELLS || before.cells.filter(isFilled).length < FEW_CELLS) {
    return null;
  }
  const had = totalsAtEnd(before, old.grid);
  if (!had || totalsAtEnd(after, now.grid)) return null;
  const texts = new Set(
    after.cells.flatMap(({ type, text }) => (type === 'text' ? [text.trim()] : [])),
  );
  // Rows that are put in below totals leave these where they are.
  return had.label !== '' && texts.has(had.label) ? null : had.label;
}

/** Functions whose value is another one at every reckoning (ECMA-376 Part 1, 18.17.7: NOW, RAND, RANDBETWEEN, TODAY). */
const VOLATILE = /\b(NOW|RAND|RANDBETWEEN|RANDARRAY|TODAY)\s*\(/i;

function isVolatile(cell: Cell | undefined): boolean {
  // What stands in quotes is no function.
  return cell?.formula !== undefined && VOLATILE.test(cell.formula.replace(/"[^"]*"/g, ''));
}

/** Whether two filled cells hold the same figure, however it is shown: a date is the number that it is counted by. */
function isSameFigure(a: Cell, b: Cell): boolean {
  if (a.type === b.type) return Object.is(a.value, b.value);
  const number = ({ type, value }: Cell) =>
    type === 'number' ? Number(value) : type === 'date' ? isoToSerial(String(value), '1900') : null;
  const [x, y] = [number(a), number(b)];
  return x !== null && y !== null && Math.abs(x - y) < 1e-8;
}

/** The landmark of a row, where it has one. */
function labelOf(pair: RowPair, before: Snapshot, after: Snapshot): string {
  const [from, at] = pair.after === null ? [before, pair.before!] : [after, pair.after];
  return from.landmarks?.rows[at] ?? '';
}

/** Ties rows that went and came back elsewhere with the same content to each other; gives how many there are. */
function findMoves(rows: RowChange[]): number {
  const faceKey = (cells: readonly CellChange[], side: 'before' | 'after') =>
    JSON.stringify(cells.map((cell) => [cell.column, cell[side]]));
  const gone = new Map<string, number[]>();
  rows.forEach(({ kind, cells }, index) => {
    if (kind !== 'removed' || cells.length === 0) return;
    const key = faceKey(cells, 'before');
    gone.set(key, [...(gone.get(key) ?? []), index]);
  });
  let moved = 0;
  rows.forEach((row, index) => {
    if (row.kind !== 'inserted') return;
    const twin = gone.get(faceKey(row.cells, 'after'))?.shift();
    if (twin === undefined) return;
    row.twin = twin;
    rows[twin]!.twin = index;
    moved++;
  });
  return moved;
}

function toAlignable(row: (Cell | undefined)[]): AlignableRow {
  let cells: string[] | null = null;
  return {
    // Written out when somebody asks: rows with the same labels are matched without.
    get cells() {
      cells ??= row.map((cell) => (isFilled(cell) ? `${cell.type}:${cell.value}` : ''));
      return cells;
    },
    label: row.find((cell) => cell?.type === 'text')?.text.trim() ?? '',
  };
}

/** What a cell shows; null for an empty one. */
export function faceOf(cell: Cell | undefined): Face | null {
  return isFilled(cell) ? { type: cell.type, value: cell.value, text: cell.text } : null;
}

/** What an object with a chart shows beside the cells of its own sheet. */
function chartKey({ chart, elsewhere }: Snapshot): string {
  if (!chart) return '';
  const others = elsewhere?.map(({ cells }) =>
    cells.map(({ row, column, text }) => [row, column, text]),
  );
  return lookKey([chart, others ?? []]);
}

/** The same text for the same look, whatever order its keys came in. */
function lookKey(look: object): string {
  return JSON.stringify(look, (_, value: unknown) =>
    typeof value === 'object' && value !== null
      ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
      : value,
  );
}

function changeKind(
  a: Cell | undefined,
  b: Cell | undefined,
  looks: { before: string[]; after: string[] },
): CellChange['kind'] | null {
  if (isFilled(a) !== isFilled(b)) return 'figure';
  if (isFilled(a) && isFilled(b)) {
    if (!isSameFigure(a, b)) return isVolatile(a) && isVolatile(b) ? 'volatile' : 'figure';
    if (a.type !== b.type || a.text !== b.text) return 'look';
  }
  const lookA = a?.dress === undefined ? '' : looks.before[a.dress];
  const lookB = b?.dress === undefined ? '' : looks.after[b.dress];
  return lookA === lookB && marksOf(a) === marksOf(b) ? null : 'look';
}

/** What a cell shows beside its text and dress. */
function marksOf(cell: Cell | undefined): string {
  if (!cell?.ink && !cell?.runs && !cell?.bar && !cell?.icon && !cell?.link) return '';
  const { ink, runs, bar, icon, link } = cell;
  return lookKey({ ink, runs, bar, icon, link });
}

function difference(a: Cell | undefined, b: Cell | undefined): string | null {
  if (a?.type === 'number' && b?.type === 'number') {
    const gap = (b.value as number) - (a.value as number);
    return gap === 0 ? null : showDifference(gap, b.format);
  }
  if (a?.type === 'date' && b?.type === 'date') {
    const days = isoToSerial(String(b.value), '1900') - isoToSerial(String(a.value), '1900');
    if (!Number.isFinite(days) || days === 0) return null;
    const rounded = Number(days.toFixed(4));
    return `${showDifference(rounded)} ${Math.abs(rounded) === 1 ? 'day' : 'days'}`;
  }
  return null;
}

/**
 * Sums that changed. Rows and cells that are totals themselves stay out, so that nothing counts twice; so do shares (`%`),
 * and columns with a figure that is not computed.
 */
function totals({ before, after, columns }: Sides, headers: readonly string[]): TotalChange[] {
  const changed: TotalChange[] = [];
  const [oldTotals, nowTotals] = [
    totalsRows(before.snapshot, before.grid),
    totalsRows(after.snapshot, after.grid),
  ];
  for (const pair of columns) {
    // The sum of a column that came or went says nothing about a change.
    if (pair.before === null || pair.after === null) continue;
    const column = pair.after;
    const a = columnSum(before.grid, pair.before, oldTotals);
    const b = columnSum(after.grid, column, nowTotals);
    const format = b.format ?? a.format ?? 'General';
    if (a.numbers + b.numbers < 2 || format.includes('%') || a.isUnknown || b.isUnknown) continue;
    const gap = Number((b.sum - a.sum).toPrecision(12));
    if (gap === 0 || !Number.isFinite(gap)) continue;
    changed.push({
      column: after.snapshot.area.left + column,
      header: headers[column] ?? '',
      before: showNumber(Number(a.sum.toPrecision(15)), format),
      after: showNumber(Number(b.sum.toPrecision(15)), format),
      difference: showDifference(gap, format),
      perCent: showPerCent(a.sum, b.sum),
    });
  }
  return changed;
}

/** By how much a number changed, of what it was: `+7.2 %`, `−31 %`; empty where it was zero or did not change. */
export function showPerCent(was: number, is: number): string {
  const change = ((is - was) / Math.abs(was)) * 100;
  if (!Number.isFinite(change) || change === 0) return '';
  const size = Math.abs(change);
  return `${change > 0 ? '+' : '−'}${size >= 10 ? size.toFixed(0) : size.toFixed(1)} %`;
}

function columnSum(grid: Grid, column: number, left: ReadonlySet<number>) {
  let sum = 0;
  let numbers = 0;
  let format: string | undefined;
  let isUnknown = false;
  for (const [at, row] of grid.entries()) {
    const cell = row[column];
    if (left.has(at)) continue;
    if (cell?.type === 'uncomputed') isUnknown = true;
    if (cell?.type !== 'number' || (cell.formula !== undefined && isTotal(cell))) continue;
    sum += cell.value as number;
    numbers++;
    format ??= cell.format;
  }
  return { sum, numbers, format, isUnknown };
}

function arrangementChanged(
  before: Snapshot,
  after: Snapshot,
  matched: readonly { before: number; after: number }[],
  moved: { rows: boolean; columns: boolean },
): boolean {
  const describe = (snapshot: Snapshot, side: 'before' | 'after') => {
    const { area, columns, rows, merges, defaults } = snapshot;
    const bands = new Map(columns.map((band) => [band.index - area.left, band]));
    // Where rows or columns came or went, heights and merges move along: that is said by the rows themselves.
    const isMoved = moved.rows || moved.columns;
    // What holds nothing and is not shown is no part of the arrangement.
    const widths = matched.map((pair) => {
      const band = bands.get(pair[side]);
      return [band?.isFitted ? undefined : band?.size, band?.hidden];
    });
    return JSON.stringify([
      widths,
      moved.rows ? [] : rows.map((band) => [band.index - area.top, band.size, band.hidden]),
      isMoved
        ? []
        : merges.map((m) => [
            m.top - area.top,
            m.left - area.left,
            m.bottom - area.top,
            m.right - area.left,
          ]),
      [defaults.columnWidth, defaults.rowHeight, defaults.digitWidth],
    ]);
  };
  return describe(before, 'before') !== describe(after, 'after');
}

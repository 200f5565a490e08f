import { rowLabel } from '../sheet/header.ts';
import { landmarksChanged } from '../sheet/landmarks.ts';
import { type Cell, isFilled, type Snapshot } from '../sheet/sheet.ts';
import type { RowPair } from './align.ts';
import type { ColumnPair } from './align-columns.ts';
import { changeKind, difference, faceOf, lookKey } from './compare-cells.ts';
import { type Grid, rowPairs, type Sides, sidesOf } from './sides.ts';
import type { CellChange, ChangeSlip, Changes, ColumnChange, RowChange } from './slip.ts';
import { totals, totalsLost } from './slip-totals.ts';

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

/** What an object with a chart shows beside the cells of its own sheet. */
function chartKey({ chart, elsewhere }: Snapshot): string {
  if (!chart) return '';
  const others = elsewhere?.map(({ cells }) =>
    cells.map(({ row, column, text }) => [row, column, text]),
  );
  return lookKey([chart, others ?? []]);
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

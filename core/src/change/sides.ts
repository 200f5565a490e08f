import { headersOf } from '../sheet/header.ts';
import { hiddenPlaces } from '../sheet/hidden.ts';
import { type Cell, gridOf, isFilled, type Snapshot } from '../sheet/sheet.ts';
import { type AlignableRow, alignRows, type RowPair } from './align.ts';
import { alignColumns, type ColumnPair } from './align-columns.ts';

export type Grid = (Cell | undefined)[][];

interface Side {
  snapshot: Snapshot;
  grid: Grid;
  headers: string[];
}

/** Two states with their columns matched: what everything that compares them goes by. */
export interface Sides {
  before: Side;
  after: Side;
  columns: ColumnPair[];
}

export function sidesOf(before: Snapshot, after: Snapshot): Sides {
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

type Pair = RowPair & { hiding?: 'hidden' | 'shown' };

/** The rows of both sides matched, by what stands in the columns that both have. */
export function rowPairs(
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

import { type Area, type CellAddress, union } from './address.ts';

/** Which cells of a sheet hold something: rows in ascending order, each with its runs of filled columns. */
export interface Occupancy {
  rows: OccupiedRow[];
}

/** One row with something in it: `runs` is from, to, from, to …, ascending and apart from each other. */
export interface OccupiedRow {
  row: number;
  runs: number[];
}

/** A connected region of filled cells: each cell touches another of it, also at a corner. */
export interface Block {
  area: Area;
  /** How many cells of the area are filled. */
  filled: number;
}

/** Gathers occupancy cell by cell; cells come row by row, columns within a row in any order. */
export class OccupancyBuilder {
  private readonly rows: OccupiedRow[] = [];
  private isSorted = true;

  add(row: number, column: number): void {
    const last = this.rows.at(-1);
    if (last?.row === row) {
      const { runs } = last;
      const end = runs.length - 1;
      if (column === runs[end]! + 1) runs[end] = column;
      else if (column > runs[end]!) runs.push(column, column);
      else insertColumn(runs, column);
      return;
    }
    if (last && last.row > row) this.isSorted = false;
    this.rows.push({ row, runs: [column, column] });
  }

  /** Adds a rectangle whose rows follow those added so far, or are the last of them. */
  addRun(row: { from: number; to: number }, column: { from: number; to: number }): void {
    for (let each = row.from; each <= row.to; each++) {
      const last = this.rows.at(-1);
      const runs = last?.row === each ? last.runs : [];
      if (last?.row !== each) {
        // A repeated row is built once: its cells come one after the other for all of its repeats.
        const known = this.rows.length > 0 && last!.row > each ? this.rowFrom(each) : null;
        if (known) {
          extend(known.runs, column);
          continue;
        }
        if (last && last.row > each) this.isSorted = false;
        this.rows.push({ row: each, runs });
      }
      extend(runs, column);
    }
  }

  /** The entry of a row near the end of those added. */
  private rowFrom(row: number): OccupiedRow | null {
    const at = this.rows.length - 1 - (this.rows.at(-1)!.row - row);
    return this.rows[at]?.row === row ? this.rows[at] : null;
  }

  build(): Occupancy {
    if (this.isSorted) return { rows: this.rows };
    // Rows out of order: legal to nobody, seen all the same. Rows that come twice are joined.
    const byRow = new Map<number, number[]>();
    for (const { row, runs } of this.rows) {
      const known = byRow.get(row);
      if (!known) byRow.set(row, runs);
      else {
        for (let at = 0; at < runs.length; at += 2) {
          for (let column = runs[at]!; column <= runs[at + 1]!; column++)
            insertColumn(known, column);
        }
      }
    }
    const rows = [...byRow].map(([row, runs]) => ({ row, runs })).sort((a, b) => a.row - b.row);
    return { rows };
  }
}

/** Adds the columns from one to another behind the runs. */
function extend(runs: number[], { from, to }: { from: number; to: number }): void {
  if (runs.at(-1) === from - 1) runs[runs.length - 1] = to;
  else runs.push(from, to);
}

function insertColumn(runs: number[], column: number): void {
  for (let at = 0; at < runs.length; at += 2) {
    if (column >= runs[at]! && column <= runs[at + 1]!) return;
  }
  const columns: number[] = [column];
  for (let at = 0; at < runs.length; at += 2) {
    for (let each = runs[at]!; each <= runs[at + 1]!; each++) columns.push(each);
  }
  columns.sort((a, b) => a - b);
  runs.length = 0;
  for (const each of columns) {
    if (runs.length > 0 && runs.at(-1) === each - 1) runs[runs.length - 1] = each;
    else runs.push(each, each);
  }
}

/** The smallest area with everything that is filled, null for an empty sheet. */
export function occupiedArea({ rows }: Occupancy): Area | null {
  let area: Area | null = null;
  for (const { row, runs } of rows) {
    const here = { top: row, bottom: row, left: runs[0]!, right: runs.at(-1)! };
    area = area ? union(area, here) : here;
  }
  return area;
}

/** The row's entry, found by halving. */
export function occupiedRow({ rows }: Occupancy, row: number): OccupiedRow | undefined {
  let [low, high] = [0, rows.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (rows[middle]!.row < row) low = middle + 1;
    else high = middle;
  }
  return rows[low]?.row === row ? rows[low] : undefined;
}

/** Whether the cell is filled. */
export function isOccupied(occupancy: Occupancy, { row, column }: CellAddress): boolean {
  return overlaps(occupiedRow(occupancy, row)?.runs, column, column);
}

/** Whether any column from `left` to `right` is in the runs. */
export function overlaps(
  runs: readonly number[] | undefined,
  left: number,
  right: number,
): boolean {
  if (!runs) return false;
  for (let at = 0; at < runs.length; at += 2) {
    if (runs[at]! <= right && runs[at + 1]! >= left) return true;
  }
  return false;
}

/**
 * The connected regions of a sheet, from top to bottom. Takes time in proportion to the number of runs: each run is
 * joined with the runs that touch it in the row before (a scan-line labelling with union-find).
 */
export function detectBlocks({ rows }: Occupancy): Block[] {
  const parents: number[] = [];
  const areas: Area[] = [];
  const counts: number[] = [];
  const find = (label: number): number => {
    let root = label;
    while (parents[root] !== root) root = parents[root]!;
    for (let at = label; parents[at] !== root; ) {
      const next = parents[at]!;
      parents[at] = root;
      at = next;
    }
    return root;
  };
  const join = (a: number, b: number): number => {
    const [x, y] = [find(a), find(b)];
    if (x === y) return x;
    parents[y] = x;
    areas[x] = union(areas[x]!, areas[y]!);
    counts[x]! += counts[y]!;
    return x;
  };

  let above: { from: number; to: number; label: number }[] = [];
  let aboveRow = -1;
  for (const { row, runs } of rows) {
    const here: typeof above = [];
    const touchable = aboveRow === row - 1 ? above : [];
    let first = 0;
    for (let at = 0; at < runs.length; at += 2) {
      const [from, to] = [runs[at]!, runs[at + 1]!];
      let label = -1;
      while (first < touchable.length && touchable[first]!.to < from - 1) first++;
      for (let n = first; n < touchable.length && touchable[n]!.from <= to + 1; n++) {
        label = label < 0 ? find(touchable[n]!.label) : join(label, touchable[n]!.label);
      }
      const area = { top: row, bottom: row, left: from, right: to };
      if (label < 0) {
        label = parents.length;
        parents.push(label);
        areas.push(area);
        counts.push(to - from + 1);
      } else {
        areas[label] = union(areas[label]!, area);
        counts[label]! += to - from + 1;
      }
      here.push({ from, to, label });
    }
    above = here;
    aboveRow = row;
  }
  return parents
    .flatMap((parent, label) =>
      parent === label ? [{ area: areas[label]!, filled: counts[label]! }] : [],
    )
    .sort((a, b) => a.area.top - b.area.top || a.area.left - b.area.left);
}

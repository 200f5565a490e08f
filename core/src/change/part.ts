import type { Area } from '../sheet/address.ts';
import type { Band, Cell, Dress, Snapshot } from '../sheet/sheet.ts';
import { matchedColumns } from './sides.ts';
import type { ChangeSlip, RowChange } from './slip.ts';

/** Changes of a slip that a person chose: rows by their place in it, a changed row whole or some of its columns. */
export interface Choice {
  rows: {
    /** Index into the slip's rows. */
    row: number;
    /** Columns of the sheet; null for the whole row, as rows that came or went are always taken. */
    columns: number[] | null;
  }[];
  /** Also take columns that came, went or moved. Absent means that they are left, where there are such. */
  columns?: boolean | undefined;
  /** Also take widths, heights, merged cells and what a chart draws. */
  arrangement: boolean;
}

/** Everything the slip changes. */
export function wholeChoice(slip: ChangeSlip): Choice {
  return {
    rows: slip.rows.map((_, row) => ({ row, columns: null })),
    ...(slip.columns ? { columns: true } : {}),
    arrangement: slip.arrangement,
  };
}

/** Whether the choice takes everything the slip changes. */
export function isWholeChoice(slip: ChangeSlip, choice: Choice): boolean {
  const chosen = new Map(choice.rows.map(({ row, columns }) => [row, columns]));
  return (
    (choice.arrangement || !slip.arrangement) &&
    (choice.columns === true || !slip.columns) &&
    slip.rows.every(({ kind, cells }, index) => {
      const columns = chosen.get(index);
      if (columns === undefined) return false;
      return (
        kind !== 'changed' ||
        columns === null ||
        cells.every(({ column }) => columns.includes(column))
      );
    })
  );
}

/** One row of the outcome: where it stands in either state, and what is taken of it. */
interface Step {
  before: number | null;
  after: number | null;
  takes: 'all' | 'nothing' | Set<number>;
  /** The source hides it or shows it again. */
  isHiding?: boolean;
}

/**
 * What stands when only the chosen changes of `slip`, which leads from `before` to `after`, are taken. Rows that were
 * removed and not chosen stay where they were; rows that were inserted and not chosen are left out; the rows of the
 * outcome follow each other without a gap from the first row of `after`. Its columns are those of `after`; where columns
 * came, went or moved and this is not chosen, those of `before`.
 */
export function takePart(
  before: Snapshot,
  after: Snapshot,
  slip: ChangeSlip,
  choice: Choice,
): Snapshot {
  const steps = stepsOf(before.area, after.area, slip, choice);
  const top = after.area.top;
  const oldCells = rowsOf(before);
  const newCells = rowsOf(after);
  const dresses: Dress[] = [];
  const numbers = new Map<string, number>();
  const placed = (cell: Cell, from: Snapshot, row: number, column: number): Cell => {
    const moved = { ...cell, row, column };
    if (cell.dress === undefined) return moved;
    const dress = from.dresses[cell.dress]!;
    const key = JSON.stringify(dress);
    let number = numbers.get(key);
    if (number === undefined) {
      number = dresses.push(dress) - 1;
      numbers.set(key, number);
    }
    return { ...moved, dress: number };
  };
  const layout = layoutOf(before, after, slip, choice);
  const cells: Cell[] = [];
  const rowBands: Band[] = [];
  const oldBands = new Map(before.rows.map((band) => [band.index, band]));
  const newBands = new Map(after.rows.map((band) => [band.index, band]));
  const placeOfOld = new Map<number, number>();
  const placeOfNew = new Map<number, number>();
  steps.forEach((step, index) => {
    const row = top + index;
    if (step.before !== null) placeOfOld.set(step.before, row);
    if (step.after !== null) placeOfNew.set(step.after, row);
    const merged = new Map<number, Cell>();
    if (step.before !== null && step.takes !== 'all') {
      for (const cell of oldCells.get(step.before) ?? []) {
        const column = layout.ofOld(cell.column);
        if (column !== null) merged.set(column, placed(cell, before, row, column));
      }
    }
    if (step.after !== null) {
      const chosen = step.takes;
      const isTaken = (column: number) =>
        chosen === 'all' ||
        (chosen !== 'nothing' && chosen.has(column)) ||
        // A column that came is taken whole, whatever is taken of the rows.
        (step.before !== null && layout.isNew(column));
      if (chosen !== 'all' && chosen !== 'nothing') {
        for (const each of chosen) {
          const column = layout.ofNew(each);
          if (column !== null) merged.delete(column);
        }
      }
      for (const cell of newCells.get(step.after) ?? []) {
        const column = layout.ofNew(cell.column);
        if (column !== null && isTaken(cell.column)) {
          merged.set(column, placed(cell, after, row, column));
        }
      }
    }
    cells.push(...[...merged.values()].sort((a, b) => a.column - b.column));
    const fromNew =
      step.before === null ||
      (step.after !== null && (step.isHiding ? step.takes === 'all' : choice.arrangement));
    const band = fromNew ? newBands.get(step.after!) : oldBands.get(step.before!);
    if (band) rowBands.push({ ...band, index: row });
  });
  const merges = choice.arrangement
    ? after.merges.flatMap((merge) => moved(merge, placeOfNew, layout.ofNew))
    : before.merges.flatMap((merge) => moved(merge, placeOfOld, layout.ofOld));
  const arranged = choice.arrangement ? after : before;
  // While something is left it is known by the words of before, so that the rest is asked about again.
  const known = isWholeChoice(slip, choice) ? after : before;
  return {
    sheet: after.sheet,
    area: {
      top,
      left: layout.area.left,
      bottom: top + Math.max(1, steps.length) - 1,
      right: layout.area.right,
    },
    cells,
    merges,
    columns: layout.bands,
    rows: rowBands,
    dresses,
    defaults: arranged.defaults,
    ...(after.header ? { header: after.header } : {}),
    ...(arranged.chart ? { chart: arranged.chart } : {}),
    ...(arranged.elsewhere ? { elsewhere: arranged.elsewhere } : {}),
    ...(known.landmarks ? { landmarks: known.landmarks } : {}),
  };
}

/** The rows of the outcome from top to bottom. */
function stepsOf(before: Area, after: Area, slip: ChangeSlip, choice: Choice): Step[] {
  const chosen = new Map(choice.rows.map(({ row, columns }) => [row, columns]));
  const steps: Step[] = [];
  let old = before.top;
  let now = after.top;
  /** Rows that are the same in both, up to the next that the slip names. */
  const keepUntil = (oldRow: number | null, newRow: number | null) => {
    while ((oldRow === null || old < oldRow) && (newRow === null || now < newRow)) {
      if (old > before.bottom || now > after.bottom) break;
      steps.push({ before: old++, after: now++, takes: 'nothing' });
    }
  };
  slip.rows.forEach((row: RowChange, index) => {
    keepUntil(row.before, row.after);
    const columns = chosen.get(index);
    if (row.kind === 'inserted') {
      if (columns !== undefined) steps.push({ before: null, after: now, takes: 'all' });
      now++;
    } else if (row.kind === 'removed') {
      if (columns === undefined) steps.push({ before: old, after: null, takes: 'nothing' });
      old++;
    } else {
      const takes = columns === undefined ? 'nothing' : columns === null ? 'all' : new Set(columns);
      steps.push({ before: old++, after: now++, takes, isHiding: row.hiding !== undefined });
    }
  });
  keepUntil(null, null);
  return steps;
}

function rowsOf({ cells }: Snapshot): Map<number, Cell[]> {
  const rows = new Map<number, Cell[]>();
  for (const cell of cells) {
    const row = rows.get(cell.row);
    if (row) row.push(cell);
    else rows.set(cell.row, [cell]);
  }
  return rows;
}

/** Where columns stand in the outcome. */
interface Layout {
  area: Pick<Area, 'left' | 'right'>;
  bands: Band[];
  /** The place of a column of either state; null where the outcome has none for it. */
  ofOld: (column: number) => number | null;
  ofNew: (column: number) => number | null;
  /** Whether a column of the new state is one that came and is taken. */
  isNew: (column: number) => boolean;
}

function layoutOf(before: Snapshot, after: Snapshot, slip: ChangeSlip, choice: Choice): Layout {
  const matched = matchedColumns(before, after);
  const back = new Map([...matched].map(([old, now]) => [now, old]));
  const isOld = slip.columns !== undefined && choice.columns !== true;
  const base = isOld ? before : after;
  const bandsOf = ({ columns }: Snapshot) => new Map(columns.map((band) => [band.index, band]));
  const [oldBands, newBands] = [bandsOf(before), bandsOf(after)];
  const bands: Band[] = [];
  for (let column = base.area.left; column <= base.area.right; column++) {
    const twin = isOld ? matched.get(column) : back.get(column);
    const own = (isOld ? oldBands : newBands).get(column);
    // Widths are those of the state that is arranged; a column of one state alone has its own.
    const isOther = twin !== undefined && choice.arrangement === isOld;
    const band = isOther ? (isOld ? newBands : oldBands).get(twin) : own;
    if (band) bands.push({ ...band, index: column });
  }
  const isMatched = new Set(matched.values());
  return {
    area: base.area,
    bands,
    ofOld: (column) => (isOld ? column : (matched.get(column) ?? null)),
    ofNew: (column) => (isOld ? (back.get(column) ?? null) : column),
    isNew: (column) => !isOld && !isMatched.has(column),
  };
}

/** A merged area where its rows and columns stand now; without it when one of them is gone or another came between. */
function moved(
  merge: Area,
  rows: ReadonlyMap<number, number>,
  columnOf: (column: number) => number | null,
): Area[] {
  const [top, bottom] = [rows.get(merge.top), rows.get(merge.bottom)];
  const [left, right] = [columnOf(merge.left), columnOf(merge.right)];
  if (top === undefined || bottom === undefined || bottom - top !== merge.bottom - merge.top)
    return [];
  if (left === null || right === null || right - left !== merge.right - merge.left) return [];
  return [{ top, left, bottom, right }];
}

import type { Area } from './address.ts';
import type { ChangeSlip, RowChange } from './merge.ts';
import type { Band, Cell, Dress, Snapshot } from './sheet.ts';

/** Changes of a slip that a person chose: rows by their place in it, a changed row whole or some of its columns. */
export interface Choice {
  rows: {
    /** Index into the slip's rows. */
    row: number;
    /** Columns of the sheet; null for the whole row, as rows that came or went are always taken. */
    columns: number[] | null;
  }[];
  /** Also take widths, heights, merged cells and what a chart draws. */
  arrangement: boolean;
}

/** Everything the slip changes. */
export function wholeChoice(slip: ChangeSlip): Choice {
  return {
    rows: slip.rows.map((_, row) => ({ row, columns: null })),
    arrangement: slip.arrangement,
  };
}

/** Whether the choice takes everything the slip changes. */
export function isWholeChoice(slip: ChangeSlip, choice: Choice): boolean {
  const chosen = new Map(choice.rows.map(({ row, columns }) => [row, columns]));
  return (
    (choice.arrangement || !slip.arrangement) &&
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
}

/**
 * What stands when only the chosen changes of `slip`, which leads from `before` to `after`, are taken. Rows that were
 * removed and not chosen stay where they were; rows that were inserted and not chosen are left out; the rows of the
 * outcome follow each other without a gap from the first row of `after`.
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
  const placed = (cell: Cell, from: Snapshot, row: number, shift: number): Cell => {
    const moved = { ...cell, row, column: cell.column + shift };
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
  // A range that moved sideways is compared column by column from its left side.
  const shift = after.area.left - before.area.left;
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
        merged.set(cell.column + shift, placed(cell, before, row, shift));
      }
    }
    if (step.after !== null && step.takes !== 'nothing') {
      const chosen = step.takes;
      if (chosen !== 'all') for (const column of chosen) merged.delete(column);
      for (const cell of newCells.get(step.after) ?? []) {
        if (chosen === 'all' || chosen.has(cell.column)) {
          merged.set(cell.column, placed(cell, after, row, 0));
        }
      }
    }
    cells.push(...[...merged.values()].sort((a, b) => a.column - b.column));
    const fromNew = step.before === null || (choice.arrangement && step.after !== null);
    const band = fromNew ? newBands.get(step.after!) : oldBands.get(step.before!);
    if (band) rowBands.push({ ...band, index: row });
  });
  const width = Math.max(
    choice.arrangement ? 0 : before.area.right - before.area.left,
    after.area.right - after.area.left,
  );
  const merges = choice.arrangement
    ? after.merges.flatMap((merge) => moved(merge, placeOfNew, 0))
    : before.merges.flatMap((merge) => moved(merge, placeOfOld, shift));
  const arranged = choice.arrangement ? after : before;
  // While something is left it is known by the words of before, so that the rest is asked about again.
  const known = isWholeChoice(slip, choice) ? after : before;
  return {
    sheet: after.sheet,
    area: {
      top,
      left: after.area.left,
      bottom: top + Math.max(1, steps.length) - 1,
      right: after.area.left + width,
    },
    cells,
    merges,
    columns: choice.arrangement
      ? after.columns
      : before.columns.map((band) => ({ ...band, index: band.index + shift })),
    rows: rowBands,
    dresses,
    defaults: arranged.defaults,
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
      steps.push({ before: old++, after: now++, takes });
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

/** A merged area where its rows stand now; without it when one of them is gone or another came between. */
function moved(merge: Area, places: ReadonlyMap<number, number>, shift: number): Area[] {
  const top = places.get(merge.top);
  const bottom = places.get(merge.bottom);
  if (top === undefined || bottom === undefined || bottom - top !== merge.bottom - merge.top)
    return [];
  return [{ top, left: merge.left + shift, bottom, right: merge.right + shift }];
}

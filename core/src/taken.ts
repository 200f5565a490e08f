import type { Area } from './address.ts';
import type { Reach, ReachWarning, ResolvedReach } from './reach.ts';
import type { Band, Cell, Snapshot } from './sheet.ts';

/** What a reach took: the snapshot to show, and what a person should know about it. */
export interface Taken {
  snapshot: Snapshot;
  warnings: ReachWarning[];
}

const SUM = /^\s*(SUM|SUBTOTAL|AGGREGATE)\(/i;

/**
 * Makes of the cells that lie in a resolved reach's area what the object shows: columns that were not picked and hidden
 * rows (unless wanted in) lose their cells and keep their place as hidden. Adds what is to be known about totals and
 * hidden rows.
 */
export function takeFrom(snapshot: Snapshot, resolved: ResolvedReach, reach: Reach): Taken {
  const warnings = [...resolved.warnings];
  const hidden = snapshot.rows.filter((band) => band.hidden).map(({ index }) => index);
  const isIn = reach.hiddenRows === 'in';
  const dropped = new Set(isIn ? [] : hidden);
  if (hidden.length > 0) {
    const rows = `${hidden.length === 1 ? 'Row' : 'Rows'} ${listed(hidden)}`;
    const [verb, how] = [
      hidden.length === 1 ? 'is' : 'are',
      isIn ? 'taken in all the same' : 'left out',
    ];
    warnings.push({
      code: 'hidden rows',
      message: `${rows} ${verb} hidden in the source and ${how}.`,
    });
  }
  const picked = resolved.columns && new Set(resolved.columns);
  const isLeftOut = (row: number, column: number) =>
    dropped.has(row) || (picked !== null && !picked.has(column));
  // What merged cells show is in their first one: it stays where others of them are shown.
  const needed = new Set(
    snapshot.merges
      .filter(({ top, left, bottom, right }) => {
        if (!isLeftOut(top, left)) return false;
        const rows = range(top, bottom).some((row) => !dropped.has(row));
        return rows && range(left, right).some((column) => !picked || picked.has(column));
      })
      .map(({ top, left }) => `${top},${left}`),
  );
  const cells = snapshot.cells
    .filter(({ row, column }) => !isLeftOut(row, column) || needed.has(`${row},${column}`))
    .map(withoutNote);
  const total = totalRow(cells, snapshot.area);
  if (total !== null) {
    warnings.push({ code: 'total inside', message: `Row ${total} is a total and is taken along.` });
  }
  const columns = picked ? withUnpickedHidden(snapshot, picked) : snapshot.columns;
  const rows = isIn ? snapshot.rows.flatMap(unhidden) : snapshot.rows;
  return { snapshot: { ...snapshot, cells, columns, rows }, warnings };
}

/** A note is said to those who work on the source; it is no part of what is shown elsewhere. */
export function withoutNote(cell: Cell): Cell {
  if (cell.note === undefined) return cell;
  const { note: _, ...rest } = cell;
  return rest;
}

function range(from: number, to: number): number[] {
  return Array.from({ length: to - from + 1 }, (_, at) => from + at);
}

function listed(rows: readonly number[]): string {
  const shown = rows.slice(0, 5).join(', ');
  return rows.length > 5 ? `${shown} and ${rows.length - 5} more` : shown;
}

/** The last row, when it holds sums: a table is often wanted without it, and a growing one must not lose it unseen. */
function totalRow(cells: readonly Cell[], { top, bottom }: Area): number | null {
  if (bottom === top) return null;
  const sums = cells.filter(({ row, formula }) => row === bottom && formula && SUM.test(formula));
  return sums.length > 0 ? bottom : null;
}

function withUnpickedHidden({ area, columns }: Snapshot, picked: ReadonlySet<number>): Band[] {
  const bands: Band[] = columns.filter(({ index }) => picked.has(index));
  for (let index = area.left; index <= area.right; index++) {
    if (!picked.has(index)) bands.push({ index, hidden: true });
  }
  return bands;
}

function unhidden({ index, size, hidden }: Band): Band[] {
  if (!hidden) return [size === undefined ? { index } : { index, size }];
  return size === undefined ? [] : [{ index, size }];
}

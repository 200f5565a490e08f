import { columnName, formatCell } from '../sheet/address.ts';
import { hiddenPlaces } from '../sheet/hidden.ts';
import type { Band, Cell, Snapshot } from '../sheet/sheet.ts';
import { totalsRows } from '../sheet/totals.ts';
import type { Reach, ReachWarning, ResolvedReach } from './reach.ts';

/** What a reach took: the snapshot to show, and what a person should know about it. */
export interface Taken {
  snapshot: Snapshot;
  warnings: ReachWarning[];
}

/**
 * Makes of the cells that lie in a resolved reach's area what the object shows: columns that were not picked and hidden
 * rows and columns (unless wanted in) lose their cells and keep their place as hidden. Adds what is to be known about totals and
 * hidden rows.
 */
export function takeFrom(snapshot: Snapshot, resolved: ResolvedReach, reach: Reach): Taken {
  const warnings = [...resolved.warnings];
  const hidden = [...hiddenPlaces(snapshot.rows)];
  const isIn = reach.hidden === 'in';
  const dropped = new Set(isIn ? [] : hidden);
  const hiddenColumns = [...hiddenPlaces(snapshot.columns)];
  const droppedColumns = new Set(isIn ? [] : hiddenColumns);
  warnings.push(...hiddenTold('hidden rows', 'Row', hidden, isIn));
  const picked = resolved.columns && new Set(resolved.columns);
  // Columns that were not picked are not missed, hidden or not.
  const missed = hiddenColumns.filter((column) => !picked || picked.has(column));
  warnings.push(...hiddenTold('hidden columns', 'Column', missed.map(columnName), isIn));
  const isLeftOut = (row: number, column: number) =>
    dropped.has(row) || droppedColumns.has(column) || (picked !== null && !picked.has(column));
  // What merged cells show is in their first one: it stays where others of them are shown.
  const needed = new Set(
    snapshot.merges
      .filter(({ top, left, bottom, right }) => {
        if (!isLeftOut(top, left)) return false;
        return range(top, bottom).some((row) =>
          range(left, right).some((column) => !isLeftOut(row, column)),
        );
      })
      .map(({ top, left }) => `${top},${left}`),
  );
  const cells = snapshot.cells
    .filter(({ row, column }) => !isLeftOut(row, column) || needed.has(`${row},${column}`))
    .map(withoutNote);
  const bands = isIn ? snapshot.columns.flatMap(unhidden) : snapshot.columns;
  const columns = picked ? withUnpickedHidden({ ...snapshot, columns: bands }, picked) : bands;
  const rows = isIn ? snapshot.rows.flatMap(unhidden) : snapshot.rows;
  const taken: Snapshot = {
    ...snapshot,
    cells,
    columns,
    rows,
    ...(reach.headed ? { header: reach.headed } : {}),
  };
  warnings.push(...totalsInside(taken), ...notComputed(cells));
  return { snapshot: taken, warnings };
}

/** What is said of rows or columns that the source hides. */
function hiddenTold(
  code: 'hidden rows' | 'hidden columns',
  what: string,
  places: readonly (number | string)[],
  isIn: boolean,
): ReachWarning[] {
  if (places.length === 0) return [];
  const [name, verb] = places.length === 1 ? [what, 'is'] : [`${what}s`, 'are'];
  const how = isIn ? 'taken in all the same' : 'left out';
  const message = `${name} ${listed(places)} ${verb} hidden in the source and ${how}.`;
  return [{ code, message }];
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

function listed(rows: readonly (number | string)[]): string {
  const shown = rows.slice(0, 5).join(', ');
  return rows.length > 5 ? `${shown} and ${rows.length - 5} more` : shown;
}

/** Rows of totals: a table is often wanted without them, and a growing one must not lose them unseen. */
function totalsInside(snapshot: Snapshot): ReachWarning[] {
  if (snapshot.area.bottom === snapshot.area.top) return [];
  const rows = [...totalsRows(snapshot)].sort((a, b) => a - b).map((at) => snapshot.area.top + at);
  if (rows.length === 0) return [];
  const message =
    rows.length === 1
      ? `Row ${rows[0]} is a total and is taken along.`
      : `Rows ${listed(rows)} are totals and are taken along.`;
  return [{ code: 'total inside', message }];
}

/** Formulas that no program has computed: their figures are not in the file. */
function notComputed(cells: readonly Cell[]): ReachWarning[] {
  const unknown = cells.filter(({ type }) => type === 'uncomputed');
  const [first] = unknown;
  if (!first) return [];
  const where = `${formatCell(first)}${unknown.length > 1 ? ` and ${unknown.length - 1} more` : ''}`;
  const message = `${unknown.length === 1 ? 'One formula has' : `${unknown.length} formulas have`} no stored value (${where}): the program that wrote the file did not compute ${unknown.length === 1 ? 'it' : 'them'}. Open it in a spreadsheet program and save it.`;
  const { row, column } = first;
  return [
    { code: 'not computed', message, area: { top: row, left: column, bottom: row, right: column } },
  ];
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

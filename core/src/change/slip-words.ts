import { describeLandmarks } from '../sheet/landmarks.ts';
import type { Changes, ColumnChange } from './slip.ts';

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

import { FEW_CELLS } from '../sheet/landmarks.ts';
import { showDifference, showNumber } from '../sheet/number-format.ts';
import { isFilled } from '../sheet/sheet.ts';
import { isTotal, totalsAtEnd, totalsRows } from '../sheet/totals.ts';
import type { Grid, Sides } from './sides.ts';
import type { TotalChange } from './slip.ts';

/**
 * Sums that changed. Rows and cells that are totals themselves stay out, so that nothing counts twice; so do shares (`%`),
 * and columns with a figure that is not computed.
 */
export function totals(
  { before, after, columns }: Sides,
  headers: readonly string[],
): TotalChange[] {
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

/** By how much a number changed, of what it was: `+7.2 %`, `−31 %`; empty where it was zero or did not change. */
export function showPerCent(was: number, is: number): string {
  const change = ((is - was) / Math.abs(was)) * 100;
  if (!Number.isFinite(change) || change === 0) return '';
  const size = Math.abs(change);
  return `${change > 0 ? '+' : '−'}${size >= 10 ? size.toFixed(0) : size.toFixed(1)} %`;
}

/** The row of totals that was the last one and is among the cells no more, by its first text; null where none was lost. */
export function totalsLost({ before: old, after: now }: Sides): string | null {
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

import { parseCell } from './address.ts';
import { headerOf } from './header.ts';
import { type Cell, gridOf, isFilled, type Snapshot } from './sheet.ts';

type Row = readonly (Cell | undefined)[];

/** Functions that make one figure out of many, also within a rounding or a guard against errors. */
const TOTAL =
  /^\s*[+(]*\s*(?:(?:ROUND|ROUNDUP|ROUNDDOWN|IFERROR|IF)\([^()]*?)?(?:SUM|SUBTOTAL|AGGREGATE|AVERAGE|MEDIAN|SUMIFS?|AVERAGEIFS?)\(/i;
/** Cells added up one by one. */
const CHAIN = /^\s*\+?\$?[A-Z]{1,3}\$?\d+(?:\s*\+\s*\$?[A-Z]{1,3}\$?\d+)+\s*$/i;
const CELLS = /(?<![A-Za-z0-9_.!'])\$?[A-Z]{1,3}\$?\d+(?![A-Za-z0-9_(])/gi;
/** The least rows whose sums are believed where no formula says so: two numbers add up to a third by chance. */
const FEWEST_ROWS = 3;

/**
 * Whether a cell holds a sum or mean of what stands above or below it, by its formula. One of cells in its own row is a
 * figure of that row like any other; it is a total where rows are looked at as columns (`across`).
 */
export function isTotal({ formula, row, column }: Cell, way: 'down' | 'across' = 'down'): boolean {
  if (formula === undefined) return false;
  const isChain = CHAIN.test(formula);
  if (!isChain && !TOTAL.test(formula)) return false;
  const cells = (formula.match(CELLS) ?? []).flatMap((text) => {
    const cell = parseCell(text.replaceAll('$', ''));
    return cell ? [cell] : [];
  });
  const isDown = cells.length === 0 || cells.some((cell) => cell.row !== row);
  if (way === 'across') return !isDown;
  return isChain ? cells.every((cell) => cell.column === column && cell.row !== row) : isDown;
}

/** Whether a row holds sums or means of what stands above or below, by its formulas: at least half of its figures do. */
export function isTotalsRow(row: Row, way?: 'down' | 'across'): boolean {
  let [figures, totals] = [0, 0];
  for (const cell of row) {
    if (cell?.type !== 'number' && cell?.type !== 'uncomputed') continue;
    figures++;
    if (cell.formula !== undefined && isTotal(cell, way)) totals++;
  }
  return totals > 0 && totals * 2 >= figures;
}

/** What was found of a snapshot: several ask for it, one after the other. */
const known = new WeakMap<Snapshot, Set<number>>();

/**
 * Which rows of a table hold totals, by their place in it: by their formulas, and the last or the first under the header
 * also because each of its numbers is the sum of the others (texts have no formulas, and some type their totals).
 */
export function totalsRows(
  snapshot: Snapshot,
  grid: readonly Row[] = gridOf(snapshot),
): ReadonlySet<number> {
  const before = known.get(snapshot);
  if (before) return before;
  const found = findTotals(snapshot, grid);
  known.set(snapshot, found);
  return found;
}

function findTotals(snapshot: Snapshot, grid: readonly Row[]): Set<number> {
  const totals = new Set<number>();
  const { title, rows: headed } = headerOf(snapshot, grid);
  const [first, last] = [
    grid.findIndex((row, at) => at >= title + headed && row.some(isFilled)),
    grid.findLastIndex((row) => row.some(isFilled)),
  ];
  if (first < 0) return totals;
  for (let at = first; at <= last; at++) if (isTotalsRow(grid[at]!)) totals.add(at);
  // A block that has totals by formulas is not searched for typed ones of its subtotals.
  if (totals.size > 0) return totals;
  if (addsUp(grid, first, last, last)) totals.add(last);
  else if (addsUp(grid, first, last, first)) totals.add(first);
  return totals;
}

/** The last row of a table where it holds totals: its first text, to know it by; null where it is one like the others. */
export function totalsAtEnd(
  snapshot: Snapshot,
  grid: readonly Row[] = gridOf(snapshot),
): { label: string } | null {
  const end = grid.findLastIndex((row) => row.some(isFilled));
  if (end < 0 || !totalsRows(snapshot, grid).has(end)) return null;
  return { label: grid[end]!.find((cell) => cell?.type === 'text')?.text.trim() ?? '' };
}

/** Whether a row that stands below a table is its totals, by its formulas or because it adds up to them. */
export function isTotalOf(table: Snapshot, below: Row): boolean {
  if (isTotalsRow(below)) return true;
  const grid = gridOf(table);
  const { title, rows } = headerOf(table, grid);
  const totals = totalsRows(table, grid);
  const body = grid.filter((_, at) => at >= title + rows && !totals.has(at));
  return addsUp([...body, below], 0, body.length, body.length);
}

/** Whether every number of a row is the sum of those of the others, from `first` to `last`, in its column. */
function addsUp(grid: readonly Row[], first: number, last: number, sum: number): boolean {
  const row = grid[sum]!;
  let columns = 0;
  for (let column = 0; column < row.length; column++) {
    const cell = row[column];
    if (cell?.type !== 'number') continue;
    let [numbers, all, size] = [0, 0, 0];
    for (let at = first; at <= last; at++) {
      const each = at === sum ? undefined : grid[at]![column];
      if (each?.type !== 'number') continue;
      numbers++;
      all += each.value as number;
      size += Math.abs(each.value as number);
    }
    if (numbers < FEWEST_ROWS) return false;
    // A column of nothing but zeros says nothing.
    if (size === 0) continue;
    if (Math.abs(all - (cell.value as number)) > 1e-9 * size) return false;
    columns++;
  }
  return columns > 0;
}

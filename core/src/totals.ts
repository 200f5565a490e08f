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
  const figures = row.filter((cell) => cell?.type === 'number' || cell?.type === 'uncomputed');
  const totals = figures.filter((cell) => isTotal(cell!, way)).length;
  return totals > 0 && totals * 2 >= figures.length;
}

/**
 * Which rows of a table hold totals, by their place in it: by their formulas, and the last or the first under the header
 * also because each of its numbers is the sum of the others (texts have no formulas, and some type their totals).
 */
export function totalsRows(
  snapshot: Snapshot,
  grid: readonly Row[] = gridOf(snapshot),
): Set<number> {
  const totals = new Set<number>();
  const { title, rows: headed } = headerOf(snapshot, grid);
  const body = grid.flatMap((row, at) => (at >= title + headed && row.some(isFilled) ? [at] : []));
  for (const at of body) if (isTotalsRow(grid[at]!)) totals.add(at);
  const plain = body.filter((at) => !totals.has(at));
  // A block that has totals by formulas is not searched for typed ones of its subtotals.
  if (totals.size > 0) return totals;
  const [first, last] = [plain[0], plain.at(-1)];
  const others = (without: number) => plain.filter((at) => at !== without).map((at) => grid[at]!);
  if (last !== undefined && addsUp(others(last), grid[last]!)) totals.add(last);
  else if (first !== undefined && addsUp(others(first), grid[first]!)) totals.add(first);
  return totals;
}

/** The last row of a table where it holds totals: its first text, to know it by; null where it is one like the others. */
export function totalsAtEnd(snapshot: Snapshot): { label: string } | null {
  const grid = gridOf(snapshot);
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
  return addsUp(
    grid.filter((_, at) => at >= title + rows && !totals.has(at)),
    below,
  );
}

/** Whether every number of a row is the sum of those of the other rows in its column. */
function addsUp(others: readonly Row[], row: Row): boolean {
  let columns = 0;
  for (let column = 0; column < row.length; column++) {
    const cell = row[column];
    if (cell?.type !== 'number') continue;
    const numbers = others.flatMap((other) => {
      const each = other[column];
      return each?.type === 'number' ? [each.value as number] : [];
    });
    if (numbers.length < FEWEST_ROWS) return false;
    const sum = numbers.reduce((all, each) => all + each, 0);
    const size = numbers.reduce((all, each) => all + Math.abs(each), 0);
    // A column of nothing but zeros says nothing.
    if (size === 0) continue;
    if (Math.abs(sum - (cell.value as number)) > 1e-9 * size) return false;
    columns++;
  }
  return columns > 0;
}

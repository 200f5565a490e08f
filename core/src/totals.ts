import { type Cell, gridOf, type Snapshot } from './sheet.ts';

type Row = readonly (Cell | undefined)[];

const SUM = /^\s*(SUM|SUBTOTAL|AGGREGATE|AVERAGE)\(/i;
/** The least rows whose sums are believed where no formula says so: two numbers add up to a third by chance. */
const FEWEST_ROWS = 3;

/** Whether a row holds sums or means of what stands above, by its formulas. */
export function isTotalsRow(row: Row): boolean {
  return row.some((cell) => cell?.type === 'number' && SUM.test(cell.formula ?? ''));
}

/**
 * The last row of a table where it holds totals, by its formulas, or because each of its numbers is the sum of those above
 * it (texts have no formulas): its first text, to know it by; null where the last row is one like the others.
 */
export function totalsAtEnd(snapshot: Snapshot): { label: string } | null {
  const rows = gridOf(snapshot).filter((row) => row.some(isFilled));
  const last = rows.at(-1);
  if (!last || !(isTotalsRow(last) || addsUp(rows.slice(0, -1), last))) return null;
  return { label: last.find((cell) => cell?.type === 'text')?.text.trim() ?? '' };
}

function addsUp(above: readonly Row[], last: Row): boolean {
  let columns = 0;
  for (let column = 0; column < last.length; column++) {
    const cell = last[column];
    if (cell?.type !== 'number') continue;
    const numbers = above.flatMap((row) => {
      const each = row[column];
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

function isFilled(cell: Cell | undefined): boolean {
  return cell !== undefined && cell.type !== 'blank';
}

import type { Cell } from '../sheet/sheet.ts';

const SAYS_YEAR = /\b(years?|yr|seasons?|fy|fiscal|calendar)\b/i;

/**
 * Whether a column of numbers holds years, which name the points of a chart and are no amounts: whole numbers of four
 * digits without separators, none twice, all in one direction; and either its header says so or they follow each other
 * in even steps of at most ten.
 */
export function areYears(header: string, cells: readonly (Cell | undefined)[]): boolean {
  const filled = cells.filter((cell) => cell !== undefined && cell.type !== 'blank');
  if (filled.length < 2 || filled.some((cell) => !isYear(cell!))) return false;
  const years = filled.map((cell) => cell!.value as number);
  const steps = years.slice(1).map((year, at) => year - years[at]!);
  const way = Math.sign(steps[0]!);
  if (way === 0 || steps.some((step) => Math.sign(step) !== way)) return false;
  return SAYS_YEAR.test(header) || (Math.abs(steps[0]!) <= 10 && new Set(steps).size === 1);
}

function isYear({ type, value, text }: Cell): boolean {
  return (
    type === 'number' && /^\d{4}$/.test(text) && Number(value) >= 1500 && Number(value) <= 2500
  );
}

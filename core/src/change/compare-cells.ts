import { isoToSerial } from '../sheet/date.ts';
import { showDifference } from '../sheet/number-format.ts';
import { type Cell, isFilled } from '../sheet/sheet.ts';
import type { CellChange, Face } from './slip.ts';

/** What a cell shows; null for an empty one. */
export function faceOf(cell: Cell | undefined): Face | null {
  return isFilled(cell) ? { type: cell.type, value: cell.value, text: cell.text } : null;
}

export function changeKind(
  a: Cell | undefined,
  b: Cell | undefined,
  looks: { before: string[]; after: string[] },
): CellChange['kind'] | null {
  if (isFilled(a) !== isFilled(b)) return 'figure';
  if (isFilled(a) && isFilled(b)) {
    if (!isSameFigure(a, b)) return isVolatile(a) && isVolatile(b) ? 'volatile' : 'figure';
    if (a.type !== b.type || a.text !== b.text) return 'look';
  }
  const lookA = a?.dress === undefined ? '' : looks.before[a.dress];
  const lookB = b?.dress === undefined ? '' : looks.after[b.dress];
  return lookA === lookB && marksOf(a) === marksOf(b) ? null : 'look';
}

/** Functions whose value is another one at every reckoning (ECMA-376 Part 1, 18.17.7: NOW, RAND, RANDBETWEEN, TODAY). */
const VOLATILE = /\b(NOW|RAND|RANDBETWEEN|RANDARRAY|TODAY)\s*\(/i;

function isVolatile(cell: Cell | undefined): boolean {
  // What stands in quotes is no function.
  return cell?.formula !== undefined && VOLATILE.test(cell.formula.replace(/"[^"]*"/g, ''));
}

/** Whether two filled cells hold the same figure, however it is shown: a date is the number that it is counted by. */
function isSameFigure(a: Cell, b: Cell): boolean {
  if (a.type === b.type) return Object.is(a.value, b.value);
  const number = ({ type, value }: Cell) =>
    type === 'number' ? Number(value) : type === 'date' ? isoToSerial(String(value), '1900') : null;
  const [x, y] = [number(a), number(b)];
  return x !== null && y !== null && Math.abs(x - y) < 1e-8;
}

/** The same text for the same look, whatever order its keys came in. */
export function lookKey(look: object): string {
  return JSON.stringify(look, (_, value: unknown) =>
    typeof value === 'object' && value !== null
      ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
      : value,
  );
}

/** What a cell shows beside its text and dress. */
function marksOf(cell: Cell | undefined): string {
  if (!cell?.ink && !cell?.runs && !cell?.bar && !cell?.icon && !cell?.link) return '';
  const { ink, runs, bar, icon, link } = cell;
  return lookKey({ ink, runs, bar, icon, link });
}

export function difference(a: Cell | undefined, b: Cell | undefined): string | null {
  if (a?.type === 'number' && b?.type === 'number') {
    const gap = (b.value as number) - (a.value as number);
    return gap === 0 ? null : showDifference(gap, b.format);
  }
  if (a?.type === 'date' && b?.type === 'date') {
    const days = isoToSerial(String(b.value), '1900') - isoToSerial(String(a.value), '1900');
    if (!Number.isFinite(days) || days === 0) return null;
    const rounded = Number(days.toFixed(4));
    return `${showDifference(rounded)} ${Math.abs(rounded) === 1 ? 'day' : 'days'}`;
  }
  return null;
}

import { type Area, columnName, formatArea, parseReference, quoteSheet } from '../sheet/address.ts';
import type { DefinedName } from '../sheet/sheet.ts';
import type { Reach } from './reach.ts';

/** What hidden names of ours begin with; nobody gives such a name by hand. */
const BEGINNING = '_tether_';

/** A name by which a workbook keeps cells in step by itself: a letter or `_` first, then letters, digits and `_` (ECMA-376 Part 1, 18.2.5). */
export function mooringName(id: string): string {
  return `${BEGINNING}${id.replace(/[^0-9A-Za-z]/g, '').slice(0, 32)}`;
}

/** What such a name refers to: the cells, whatever is put in beside them (`Counts!$A$3:$F$14`). */
export function mooringReference(sheet: string, { top, left, bottom, right }: Area): string {
  const corner = (row: number, column: number) => `$${columnName(column)}$${row}`;
  return `${quoteSheet(sheet)}!${corner(top, left)}:${corner(bottom, right)}`;
}

/** Where the workbook says that the cells of a reach are; null where it has no mooring, or the workbook does not know it as a range. */
export function mooredAt(
  reach: Reach,
  names: readonly DefinedName[],
): { sheet: string; area: Area } | null {
  if (reach.kind !== 'block' || reach.mooring === undefined) return null;
  const wanted = reach.mooring.toLowerCase();
  const named = names.find(({ name }) => name.toLowerCase() === wanted);
  const parsed = named && parseReference(named.refersTo);
  if (!parsed?.ok || parsed.value.sheet === null) return null;
  return { sheet: parsed.value.sheet, area: parsed.value.area };
}

/** Whether two places are the same cells; sheets are named with capitals or without. */
export function isSamePlace(
  a: { sheet: string; area: Area },
  b: { sheet: string; area: Area },
): boolean {
  return (
    a.sheet.toLowerCase() === b.sheet.toLowerCase() && formatArea(a.area) === formatArea(b.area)
  );
}

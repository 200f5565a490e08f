import { type CellPlace, showNumber } from '@tether/core';
import type { CellHeld } from '../../db/schema.ts';
import { type PlainValue, valueWords } from '../../sources/writing/written.ts';

/** The name of a cell among those of a source. */
export const keyOf = ({ sheet, row, column }: CellPlace) =>
  `${sheet.toLowerCase()} ${row} ${column}`;

/** A value as a cell with this number format shows it. */
export function shownAs(value: PlainValue, format: string | undefined): string {
  return typeof value === 'number' ? showNumber(value, format ?? 'General') : valueWords(value);
}

/** Whether a cell holds just that already. */
export const isSame = (one: Omit<CellHeld, 'text'>, other: Omit<CellHeld, 'text'>) =>
  one.formula === null && other.formula === null
    ? JSON.stringify(one.value) === JSON.stringify(other.value)
    : one.formula === other.formula;

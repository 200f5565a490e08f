import type { Cell } from '@tether/core';
import { writingWay } from './writing-way.ts';

/** The value of a cell, as it would be typed. */
export function typedAs(cell: Pick<Cell, 'type' | 'value' | 'format'> | undefined): string {
  if (!cell || cell.type === 'blank') return '';
  if (cell.type !== 'number') return String(cell.value);
  const isShare = (cell.format ?? '').includes('%');
  const said = isShare
    ? `${Number((Number(cell.value) * 100).toPrecision(15))}%`
    : String(cell.value);
  return said.replace('.', writingWay().decimal);
}

/** The formula of a cell as it would be typed: files put prefixes before later functions. */
export function formulaAs(formula: string): string {
  return `=${formula.replace(/_xl(?:fn|ws)\./gi, '')}`;
}

import { parseA1Ref, tokenize } from '@borgar/fx';
import { columnName, MAX_COLUMNS, MAX_ROWS } from '../sheet/address.ts';

interface Side {
  /** Column or row, counted from 1. */
  index: number;
  isFixed: boolean;
}

/** A piece of the formula: text that stays, or a reference that moves. */
type Piece = string | { prefix: string; corners: { column: Side | null; row: Side | null }[] };

/**
 * Makes a formula ready for copying: gives its text for a cell `down` and `across` from where it was written. References
 * move, fixed sides (`$`) stay; what leaves the sheet becomes `#REF!` (ECMA-376 Part 1, 18.3.1.40).
 */
export function shiftFormula(text: string): (down: number, across: number) => string {
  const pieces = tokenize(text).map(({ type, value }): Piece => {
    if (type !== 'range' && type !== 'range_beam') return value;
    return referencePiece(value) ?? value;
  });
  return (down, across) =>
    pieces
      .map((piece) => (typeof piece === 'string' ? piece : moved(piece, down, across)))
      .join('');
}

function referencePiece(value: string): Piece | null {
  if (!parseA1Ref(value)) return null;
  const bang = value.lastIndexOf('!');
  const prefix = value.slice(0, bang + 1);
  const corners = value
    .slice(bang + 1)
    .split(':')
    .map((corner) => {
      const parts = /^(\$?)([A-Za-z]*)(\$?)(\d*)$/.exec(corner);
      if (!parts) return null;
      const [, fixedColumn, letters, fixedRow, digits] = parts as unknown as [
        string,
        string,
        string,
        string,
        string,
      ];
      const column =
        letters === '' ? null : { index: columnOf(letters), isFixed: fixedColumn === '$' };
      // `$5` alone reads as a fixed column without letters.
      const isFixedRow = fixedRow === '$' || (letters === '' && fixedColumn === '$');
      const row = digits === '' ? null : { index: Number(digits), isFixed: isFixedRow };
      return { column, row };
    });
  return corners.every((corner) => corner !== null) ? { prefix, corners } : null;
}

function columnOf(letters: string): number {
  let number = 0;
  for (const letter of letters.toUpperCase()) number = number * 26 + letter.charCodeAt(0) - 64;
  return number;
}

function moved({ prefix, corners }: Exclude<Piece, string>, down: number, across: number): string {
  const parts: string[] = [];
  for (const { column, row } of corners) {
    const c = column && column.index + (column.isFixed ? 0 : across);
    const r = row && row.index + (row.isFixed ? 0 : down);
    if ((c !== null && (c < 1 || c > MAX_COLUMNS)) || (r !== null && (r < 1 || r > MAX_ROWS))) {
      return `${prefix}#REF!`;
    }
    parts.push(
      (c === null ? '' : `${column!.isFixed ? '$' : ''}${columnName(c)}`) +
        (r === null ? '' : `${row!.isFixed ? '$' : ''}${r}`),
    );
  }
  return prefix + parts.join(':');
}

import { parseA1Ref, tokenize } from '@borgar/fx';
import { columnName, MAX_COLUMNS, MAX_ROWS, parseCell } from '../sheet/address.ts';
import { type LineChange, movedArea } from '../sheet/line-change.ts';

/** A corner as written: signs, letters, digits. */
const CORNER = /^(\$?)([A-Za-z]*)(\$?)(\d*)$/;

/**
 * A formula whose references follow rows and columns that were put into a sheet or taken out of it. `own` is the sheet in which
 * it stands. What points at nothing any more becomes `#REF!` (ECMA-376 Part 1, 18.17.2.7). Null for a formula that reaches over
 * several sheets at once, among which may be this one.
 */
export function followFormula(text: string, own: string, change: LineChange): string | null {
  let isUnclear = false;
  const followed = tokenize(text).map(({ type, value }) => {
    if (type !== 'range' && type !== 'range_beam') {
      if (type === 'range_ternary') isUnclear = true;
      return value;
    }
    const bang = value.lastIndexOf('!');
    const parsed = parseA1Ref(value);
    if (!parsed) return value;
    const context = ('context' in parsed && parsed.context) || [];
    // With two it is of another file.
    if (context.length > 1) return value;
    const [named = own] = context;
    if (named.includes(':')) {
      isUnclear = true;
      return value;
    }
    if (named.toLowerCase() !== change.sheet.toLowerCase()) return value;
    return value.slice(0, bang + 1) + followReference(value.slice(bang + 1), change);
  });
  return isUnclear ? null : followed.join('');
}

/** A reference without its sheet that follows, as it is written: `$B$2:C9`, `A:A`, `3:5`. */
function followReference(reference: string, change: LineChange): string {
  const [from = '', colon = '', to = from] = reference.split(/(\.?:\.?)/);
  const [a, b] = [cornerIn(from), cornerIn(to)];
  if (!a || !b) return reference;
  // Corners may be written in any order; each side keeps its sign.
  const [upper, lower] = (a.row ?? 0) <= (b.row ?? 0) ? [a, b] : [b, a];
  const [left, right] = (a.column ?? 0) <= (b.column ?? 0) ? [a, b] : [b, a];
  const moved = movedArea(change, {
    top: upper.row ?? 1,
    bottom: lower.row ?? MAX_ROWS,
    left: left.column ?? 1,
    right: right.column ?? MAX_COLUMNS,
  });
  if (!moved) return '#REF!';
  const column = (side: Corner, at: number) =>
    side.column === null ? '' : `${side.columnSign}${columnName(at)}`;
  const row = (side: Corner, at: number) => (side.row === null ? '' : `${side.rowSign}${at}`);
  const first = column(left, moved.left) + row(upper, moved.top);
  return colon === ''
    ? first
    : `${first}${colon}${column(right, moved.right)}${row(lower, moved.bottom)}`;
}

interface Corner {
  column: number | null;
  columnSign: string;
  row: number | null;
  rowSign: string;
}

function cornerIn(text: string): Corner | null {
  const match = CORNER.exec(text);
  if (!match || text === '') return null;
  const [, sign = '', letters = '', second = '', digits = ''] = match;
  return {
    column: letters === '' ? null : parseCell(`${letters}1`)!.column,
    columnSign: letters === '' ? '' : sign,
    row: digits === '' ? null : Number(digits),
    // `$5` alone reads as a fixed column without letters.
    rowSign: letters === '' ? sign || second : second,
  };
}

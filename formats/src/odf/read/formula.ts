import { type Area, columnName, MAX_COLUMNS, MAX_ROWS, parseCell, quoteSheet } from '@tether/core';

/** A cell range of an OpenDocument file: `$Counts.$A$3:.$F$14` (ODF 1.3 Part 3, 18.3.5, cellRangeAddress). */
export interface OdfRange {
  sheet: string | null;
  area: Area;
}

interface Corner {
  sheet: string | null;
  /** As written, dollar signs included. */
  cell: string;
}

/** Splits `$'My sheet'.$A$3` into its sheet and its cell; null when it is none. */
function parseCorner(text: string): Corner | null {
  const match = /^\$?(?:'((?:[^']|'')*)'|([^'.]*))\.(\$?[A-Za-z]*\$?\d*)$/.exec(text.trim());
  if (!match) return null;
  const sheet = match[1]?.replaceAll("''", "'") ?? match[2] ?? '';
  return { sheet: sheet === '' ? null : sheet, cell: match[3]! };
}

/** Cuts a range at the colon between its corners; colons within quotes stay. */
function cornersOf(text: string): Corner[] | null {
  const parts = text.match(/(?:'(?:[^']|'')*'|[^':])+/g) ?? [];
  const corners = parts.map(parseCorner);
  if (corners.length === 0 || corners.length > 2 || corners.includes(null)) return null;
  return corners as Corner[];
}

/** Reads a cell or range address; null when it is none. */
export function parseOdfRange(text: string): OdfRange | null {
  const corners = cornersOf(text);
  if (!corners) return null;
  const [first, second = first] = corners as [Corner, Corner?];
  const bare = (corner: Corner) => corner.cell.replaceAll('$', '');
  const [from, to] = [bare(first), bare(second)];
  const whole = wholeLines(from, to);
  if (whole) return { sheet: first.sheet, area: whole };
  const [a, b] = [parseCell(from), parseCell(to)];
  if (!a || !b) return null;
  return {
    sheet: first.sheet,
    area: {
      top: Math.min(a.row, b.row),
      left: Math.min(a.column, b.column),
      bottom: Math.max(a.row, b.row),
      right: Math.max(a.column, b.column),
    },
  };
}

function wholeLines(from: string, to: string): Area | null {
  if (/^[A-Za-z]+$/.test(from) && /^[A-Za-z]+$/.test(to)) {
    const [a, b] = [parseCell(`${from}1`), parseCell(`${to}1`)];
    return a && b && { top: 1, bottom: MAX_ROWS, left: a.column, right: b.column };
  }
  if (/^\d+$/.test(from) && /^\d+$/.test(to)) {
    return { top: Number(from), bottom: Number(to), left: 1, right: MAX_COLUMNS };
  }
  return null;
}

/** Reads several ranges with spaces between. */
export function parseOdfRanges(text: string): OdfRange[] {
  const parts = text.match(/(?:'(?:[^']|'')*'|[^'\s])+/g) ?? [];
  return parts.flatMap((part) => parseOdfRange(part) ?? []);
}

/**
 * A formula of an OpenDocument file (OpenFormula, ODF 1.3 Part 4, clause 5) in the notation that everything else here
 * uses: `of:=SUM([.B2:.B5];[$Costs.A1])` becomes `SUM(B2:B5,Costs!A1)`.
 */
export function plainFormula(text: string): string {
  const body = text.replace(/^(?:of|oooc|msoxl):/, '').replace(/^=/, '');
  let plain = '';
  let braces = 0;
  for (let at = 0; at < body.length; ) {
    const letter = body[at]!;
    if (letter === '"') {
      const end = endOfQuotes(body, at);
      plain += body.slice(at, end);
      at = end;
    } else if (letter === '[') {
      const end = body.indexOf(']', at);
      if (end < 0) return plain + body.slice(at);
      plain += plainReference(body.slice(at + 1, end));
      at = end + 1;
    } else {
      if (letter === '{') braces++;
      else if (letter === '}') braces--;
      // Within an array `;` parts columns and `|` rows; elsewhere `;` parts arguments and `~` joins references.
      plain +=
        letter === ';' || letter === '~'
          ? ','
          : letter === '|' && braces > 0
            ? ';'
            : letter === '!'
              ? ' '
              : letter;
      at++;
    }
  }
  return plain;
}

function endOfQuotes(text: string, from: number): number {
  let at = from + 1;
  while (at < text.length) {
    if (text[at] === '"') {
      if (text[at + 1] !== '"') return at + 1;
      at++;
    }
    at++;
  }
  return text.length;
}

function plainReference(inner: string): string {
  const corners = cornersOf(inner);
  if (!corners) return inner.includes('#REF!') ? '#REF!' : `[${inner}]`;
  const sheet = corners[0]!.sheet;
  const cells = corners.map(({ cell }) => cell).join(':');
  return sheet === null ? cells : `${quoteSheet(sheet)}!${cells}`;
}

/** The reference of a range as formulas write it, all sides fixed. */
export function fixedReference({ sheet, area }: OdfRange): string {
  const corner = (row: number, column: number) => `$${columnName(column)}$${row}`;
  const from = corner(area.top, area.left);
  const to = corner(area.bottom, area.right);
  return `${sheet === null ? '' : `${quoteSheet(sheet)}!`}${from === to ? from : `${from}:${to}`}`;
}

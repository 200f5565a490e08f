import { fail, ok, type Result } from '../fault.ts';

/** Rows of a sheet. ECMA-376 sets no number; 1,048,576 is what every program that writes these files uses. */
export const MAX_ROWS = 1_048_576;
/** Columns of a sheet, A to XFD. */
export const MAX_COLUMNS = 16_384;

/** One cell. Rows and columns count from 1, as in A1 references. */
export interface CellAddress {
  row: number;
  column: number;
}

/** A rectangle of cells, all four sides included, counted from 1. */
export interface Area {
  top: number;
  left: number;
  bottom: number;
  right: number;
}

/** A reference as a person writes it: an area, with or without a sheet in front. */
export interface Reference {
  sheet: string | null;
  area: Area;
}

/** Letters of column `column` (1 → `A`, 27 → `AA`, 16384 → `XFD`): bijective base 26 (ECMA-376 Part 1, 18.17.2.3). */
export function columnName(column: number): string {
  let name = '';
  for (let rest = column; rest > 0; rest = Math.floor((rest - 1) / 26)) {
    name = String.fromCharCode(65 + ((rest - 1) % 26)) + name;
  }
  return name;
}

/** Number of the column with the letters `name` in either case; NaN when they are no letters. */
export function columnNumber(name: string): number {
  if (!/^[A-Za-z]+$/.test(name)) return Number.NaN;
  let column = 0;
  for (const letter of name.toUpperCase()) column = column * 26 + (letter.charCodeAt(0) - 64);
  return column;
}

const CELL = /^\$?([A-Za-z]{1,3})\$?([0-9]{1,7})$/;
const COLUMN = /^\$?([A-Za-z]{1,3})$/;
const ROW = /^\$?([0-9]{1,7})$/;

/** The cell that `text` (`B7`, `$B$7`) names, or null. No check against the sheet's limits. */
export function parseCell(text: string): CellAddress | null {
  const match = CELL.exec(text);
  if (!match) return null;
  return { row: Number(match[2]), column: columnNumber(match[1]!) };
}

/**
 * Reads an A1 reference: `B2`, `B2:F14`, `B:F`, `2:14`, each with `$` anywhere it may stand and with a sheet in front
 * (`Counts!B2`, `'Plot''s counts'!B2:C3`). Corners may come in any order.
 * Fails with `reference-malformed` or `reference-outside-sheet`.
 */
export function parseReference(text: string): Result<Reference> {
  const trimmed = text.trim();
  const split = splitSheet(trimmed);
  if (!split) return fail('reference-malformed', { text: trimmed });
  const corners = split.rest.split(':').map((corner) => corner.trim());
  if (corners.length > 2 || corners.some((corner) => corner === '')) {
    return fail('reference-malformed', { text: trimmed });
  }
  const area = areaBetween(corners[0]!, corners[1] ?? corners[0]!, corners.length === 2);
  if (!area) return fail('reference-malformed', { text: trimmed });
  if (!isInsideSheet(area)) return fail('reference-outside-sheet', { text: trimmed });
  return ok({ sheet: split.sheet, area });
}

function splitSheet(text: string): { sheet: string | null; rest: string } | null {
  if (text.startsWith("'")) {
    const match = /^'((?:[^']|'')+)'!(.+)$/s.exec(text);
    return match ? { sheet: match[1]!.replaceAll("''", "'"), rest: match[2]! } : null;
  }
  const mark = text.lastIndexOf('!');
  if (mark < 0) return { sheet: null, rest: text };
  const sheet = text.slice(0, mark);
  // A sheet name with any of these must be quoted, or the reference could be read in two ways.
  if (sheet === '' || /[\s'!:*?/\\[\]]/.test(sheet)) return null;
  return { sheet, rest: text.slice(mark + 1) };
}

function areaBetween(first: string, second: string, isRange: boolean): Area | null {
  const a = parseCell(first);
  const b = parseCell(second);
  if (a && b) {
    return {
      top: Math.min(a.row, b.row),
      left: Math.min(a.column, b.column),
      bottom: Math.max(a.row, b.row),
      right: Math.max(a.column, b.column),
    };
  }
  if (!isRange) return null;
  const columns = [COLUMN.exec(first), COLUMN.exec(second)];
  if (columns[0] && columns[1]) {
    const [x, y] = [columnNumber(columns[0][1]!), columnNumber(columns[1][1]!)];
    return { top: 1, bottom: MAX_ROWS, left: Math.min(x, y), right: Math.max(x, y) };
  }
  const rows = [ROW.exec(first), ROW.exec(second)];
  if (rows[0] && rows[1]) {
    const [x, y] = [Number(rows[0][1]), Number(rows[1][1])];
    return { left: 1, right: MAX_COLUMNS, top: Math.min(x, y), bottom: Math.max(x, y) };
  }
  return null;
}

/** Whether every cell of `area` exists on a sheet. */
export function isInsideSheet(area: Area): boolean {
  return (
    area.top >= 1 &&
    area.left >= 1 &&
    area.top <= area.bottom &&
    area.left <= area.right &&
    area.bottom <= MAX_ROWS &&
    area.right <= MAX_COLUMNS
  );
}

/** `B7` for a cell. */
export function formatCell({ row, column }: CellAddress): string {
  return `${columnName(column)}${row}`;
}

/** The shortest A1 form of an area: `B2`, `B2:F14`, `B:F` for whole columns, `2:14` for whole rows. */
export function formatArea(area: Area): string {
  if (area.top === 1 && area.bottom === MAX_ROWS) {
    return `${columnName(area.left)}:${columnName(area.right)}`;
  }
  if (area.left === 1 && area.right === MAX_COLUMNS) return `${area.top}:${area.bottom}`;
  const first = formatCell({ row: area.top, column: area.left });
  const last = formatCell({ row: area.bottom, column: area.right });
  return first === last ? first : `${first}:${last}`;
}

/** A sheet name as it must stand in a reference: quoted where it could be misread. */
export function quoteSheet(name: string): string {
  const plain = /^[\p{L}_][\p{L}\p{N}_.]*$/u.test(name);
  const looksLikeCell =
    CELL.test(name) || /^[Rr]\d*([Cc]\d*)?$/.test(name) || /^[Cc]\d*$/.test(name);
  return plain && !looksLikeCell ? name : `'${name.replaceAll("'", "''")}'`;
}

/** `Sheet!B2:F14`, quoted where needed; `parseReference` reads it back. */
export function formatReference({ sheet, area }: Reference): string {
  return sheet === null ? formatArea(area) : `${quoteSheet(sheet)}!${formatArea(area)}`;
}

/** The smallest area that holds both. */
export function union(a: Area, b: Area): Area {
  return {
    top: Math.min(a.top, b.top),
    left: Math.min(a.left, b.left),
    bottom: Math.max(a.bottom, b.bottom),
    right: Math.max(a.right, b.right),
  };
}

/** The cells both have, or null when there are none. */
export function intersection(a: Area, b: Area): Area | null {
  const shared = {
    top: Math.max(a.top, b.top),
    left: Math.max(a.left, b.left),
    bottom: Math.min(a.bottom, b.bottom),
    right: Math.min(a.right, b.right),
  };
  return shared.top <= shared.bottom && shared.left <= shared.right ? shared : null;
}

/** Whether `area` holds the cell. */
export function holds(area: Area, { row, column }: CellAddress): boolean {
  return row >= area.top && row <= area.bottom && column >= area.left && column <= area.right;
}

/** Rows times columns. */
export function cellCount(area: Area): number {
  return (area.bottom - area.top + 1) * (area.right - area.left + 1);
}

import { fail, ok, type Result } from '../fault.ts';
import {
  type Area,
  type CellAddress,
  cellCount,
  columnName,
  formatArea,
  formatReference,
  MAX_COLUMNS,
  MAX_ROWS,
  parseReference,
  quoteSheet,
  union,
} from '../sheet/address.ts';
import type { Header } from '../sheet/header.ts';
import { detectBlocks, type Occupancy, occupiedRow, overlaps } from '../sheet/occupancy.ts';
import {
  type DefinedName,
  findSheet,
  type SheetSummary,
  type TableObject,
} from '../sheet/sheet.ts';

/** What a person may say about any reach. */
export interface ReachOptions {
  /** Hidden rows and columns of the source are left out unless they are wanted in. */
  hidden?: 'in' | undefined;
  /** Rows at its top that are title and header, where that is not as it reads. */
  headed?: Header | undefined;
}

/** A header that was picked: its text and, of several with the same text, which one from the left (from 1). */
export type PickedHeader = string | { text: string; nth: number };

/** A fixed range of one sheet. */
export interface BlockReach extends ReachOptions {
  kind: 'block';
  sheet: string;
  area: Area;
  /** The hidden name by which the workbook itself keeps these cells in step (`reach/mooring`). */
  mooring?: string | undefined;
}

/** A header row and all rows under it until the data end. The columns stay as many as were taken. */
export interface GrowingReach extends ReachOptions {
  kind: 'growing block';
  sheet: string;
  /** The header row, from its first column to its last. */
  header: { row: number; left: number; right: number };
  /** What stood in it when it was placed, column by column: by that it is found when rows came above it. */
  words?: string[] | undefined;
}

/** A defined name or a table object, wherever the workbook says it is. */
export interface NameReach extends ReachOptions {
  kind: 'name';
  name: string;
  /** Whose name it is: a sheet's own or, with null, the workbook's. */
  sheet: string | null;
}

/** Everything on the sheet but what stands far from the data. */
export interface SheetReach extends ReachOptions {
  kind: 'whole sheet';
  sheet: string;
}

/** Single columns of a table by the text of their headers, wherever they stand. */
export interface ColumnsReach extends ReachOptions {
  kind: 'picked columns';
  sheet: string;
  /** Row of the headers when they were picked; they are looked for elsewhere when they moved. */
  headerRow: number;
  columns: PickedHeader[];
}

/** A chart of the source with the cells that it is drawn from, wherever these lie. */
export interface ChartReach extends ReachOptions {
  kind: 'chart';
  /** The sheet that it stands on. */
  sheet: string;
  /** The chart's id within the source. */
  chart: string;
}

/** Which part of a source a tether takes, and how it follows growth. */
export type Reach = BlockReach | GrowingReach | NameReach | SheetReach | ColumnsReach | ChartReach;

/** How far below a reach it is looked whether the data go on. */
export const LOOK_BELOW = 200;

/** The most cells that one placed object may take. */
export const MAX_REACH_CELLS = 200_000;

/** Something about what a reach took that a person should know. */
export interface ReachWarning {
  code:
    | 'stray cells'
    | 'empty row inside'
    | 'empty column inside'
    | 'data below'
    | 'column beside'
    | 'not computed'
    | 'odd'
    | 'total inside'
    | 'total below'
    | 'hidden rows'
    | 'hidden columns'
    | 'header moved'
    | 'named'
    | 'mooring gone'
    | 'empty';
  message: string;
  /** The cells it is about, where there are such. */
  area?: Area;
  /** The name of the workbook that it is about. */
  name?: Pick<NameReach, 'name' | 'sheet'>;
}

/** What a reach takes from a sheet: its area, the columns of it (all when null), and what to know about it. */
export interface ResolvedReach {
  sheet: string;
  area: Area;
  columns: number[] | null;
  warnings: ReachWarning[];
}

/** The sheet with this name, or the fault that says which there are. */
export function requireSheet<T extends SheetSummary>(
  sheets: readonly T[],
  name: string,
): Result<T> {
  const sheet = findSheet(sheets, name);
  if (sheet) return ok(sheet);
  return fail('sheet-missing', { sheet: name, sheets: sheets.map((each) => each.name).join(', ') });
}

/** Refuses areas with more cells than one object can show. */
export function limitReach(resolved: ResolvedReach): Result<ResolvedReach> {
  const { area, columns } = resolved;
  const cells = columns ? columns.length * (area.bottom - area.top + 1) : cellCount(area);
  if (cells <= MAX_REACH_CELLS) return ok(resolved);
  return fail('reach-too-large', { cells: cells.toLocaleString('en') });
}

/** Whole columns or rows as far as something stands in them; other areas as they are. */
export function trimmedToSheet(area: Area, occupancy: Occupancy): Area {
  const { top, left, bottom, right } = area;
  if (bottom < MAX_ROWS && right < MAX_COLUMNS) return area;
  const runsOf = ({ runs }: { runs: number[] }) => overlaps(runs, left, right);
  const rows = occupancy.rows.filter(
    (each) => each.row >= top && each.row <= bottom && runsOf(each),
  );
  const lastRow = rows.at(-1)?.row ?? top;
  const lastColumn = rows.reduce((most, { runs }) => Math.max(most, runs.at(-1)!), left);
  return {
    top,
    left,
    bottom: bottom === MAX_ROWS ? lastRow : bottom,
    right: right === MAX_COLUMNS ? lastColumn : right,
  };
}

/** A block takes its range as it is. One that has a name in the workbook would be found by that wherever it goes. */
export function resolveBlock(
  { sheet, area: asked }: BlockReach,
  occupancy: Occupancy,
  names: readonly DefinedName[] = [],
): ResolvedReach {
  const area = trimmedToSheet(asked, occupancy);
  const cells = cellCount(area);
  const warnings = [
    // Nobody takes a single cell for the beginning of a table.
    ...(cells === 1 ? [] : belowWarnings(area, occupancy)),
    ...emptyRows(area, occupancy),
    ...emptyColumns(area, occupancy),
    ...nameWarnings({ sheet, area }, names),
  ];
  return { sheet, area, columns: null, warnings };
}

/** The first name that refers to exactly these cells. */
function nameWarnings(
  { sheet, area }: Pick<BlockReach, 'sheet' | 'area'>,
  names: readonly DefinedName[],
): ReachWarning[] {
  const found = names.find(({ refersTo, hidden }) => {
    const parsed = parseReference(refersTo);
    if (hidden || !parsed.ok || parsed.value.sheet === null) return false;
    const isHere = findSheet([{ name: sheet }], parsed.value.sheet) !== undefined;
    return isHere && formatArea(parsed.value.area) === formatArea(area);
  });
  if (!found) return [];
  const message = `The workbook calls it “${found.name}”; by that name it is found wherever it moves on the sheet.`;
  return [{ code: 'named', message, name: { name: found.name, sheet: found.sheet } }];
}

/**
 * A growing block takes its header and every row below until one that is empty in its columns. What stands beyond that
 * row, and columns that have come to stand beside, are told and not taken.
 */
export function resolveGrowing(
  { sheet, header: { row: top, left, right } }: GrowingReach,
  occupancy: Occupancy,
  /** The row in which the header stood before, where it was looked for. */
  movedFrom?: number,
): ResolvedReach {
  let bottom = top;
  while (bottom < MAX_ROWS && overlaps(occupiedRow(occupancy, bottom + 1)?.runs, left, right)) {
    bottom++;
  }
  const area = { top, left, bottom, right };
  const warnings = belowWarnings(area, occupancy);
  if (movedFrom !== undefined && movedFrom !== top) {
    warnings.push({
      code: 'header moved',
      message: `The header moved from row ${movedFrom} to row ${top}.`,
    });
  }
  const end = besideEnd(area, occupancy);
  if (end !== null) {
    const wider = { top, left: right + 1, bottom, right: end };
    warnings.push({
      code: 'column beside',
      message: `Beside it, in ${columnRange(wider)}, the table goes on. Take the wider range if it belongs to it.`,
      area: wider,
    });
  }
  return { sheet, area, columns: null, warnings };
}

/**
 * The last column to which a table goes on at the right of its header: where its header row does, also past an empty
 * header cell over a column with cells in it. Null where it ends.
 */
function besideEnd({ top, bottom, right }: Area, occupancy: Occupancy): number | null {
  const next = right + 1;
  const header = occupiedRow(occupancy, top)?.runs ?? [];
  const runEnd = (from: number) =>
    header.find((end, at) => at % 2 === 1 && end >= from && header[at - 1]! <= from) ?? null;
  const beside = runEnd(next);
  if (beside !== null) return beside;
  const isColumn = occupancy.rows.some(
    ({ row, runs }) => row > top && row <= bottom && overlaps(runs, next, next),
  );
  return isColumn ? (runEnd(next + 1) ?? next) : null;
}

/**
 * The whole sheet, trimmed: everything but strays. A stray is a region of at most four cells and at most a sixth of
 * the largest, with at least two empty rows or columns between it and everything else. In common practice a whole
 * sheet goes from A1 to the last used cell, so that one stray cell widens it; this does not, and says so.
 */
export function resolveWholeSheet({ sheet }: SheetReach, occupancy: Occupancy): ResolvedReach {
  const blocks = detectBlocks(occupancy);
  const largest = blocks.reduce((most, block) => Math.max(most, block.filled), 0);
  const small = new Set(blocks.filter(({ filled }) => filled <= 4 && filled * 6 <= largest));
  const kept = blocks.filter((block) => !small.has(block));
  let area = kept.map((block) => block.area).reduce<Area | null>(join, null);
  // A title two rows above belongs to the data; taking it in may bring others near.
  for (let isGrowing = area !== null; isGrowing; ) {
    isGrowing = false;
    for (const block of small) {
      if (gap(area!, block.area) > 2) continue;
      area = union(area!, block.area);
      small.delete(block);
      isGrowing = true;
    }
  }
  const warnings = [...small].map(
    ({ area: stray }): ReachWarning => ({
      code: 'stray cells',
      message: `${formatArea(stray)} stands far from the data and is left out. Take a block to have it in.`,
      area: stray,
    }),
  );
  if (!area) {
    warnings.push({ code: 'empty', message: 'The sheet is empty.' });
    area = { top: 1, left: 1, bottom: 1, right: 1 };
  }
  warnings.push(...emptyRows(area, occupancy), ...emptyColumns(area, occupancy));
  return { sheet, area, columns: null, warnings };
}

function join(a: Area | null, b: Area): Area {
  return a ? union(a, b) : b;
}

/** How many empty rows or columns lie between two areas, plus one; 0 when they overlap. */
function gap(a: Area, b: Area): number {
  const rows = Math.max(b.top - a.bottom, a.top - b.bottom, 0);
  const columns = Math.max(b.left - a.right, a.left - b.right, 0);
  return Math.max(rows, columns);
}

/**
 * A name takes the range that it refers to now; a table object its range. A name that is a formula cannot be followed.
 * Faults: `name-missing`, `name-not-range`, `sheet-missing`.
 */
export function resolveName(
  reach: NameReach,
  book: {
    sheets: readonly SheetSummary[];
    names: readonly DefinedName[];
    tables: readonly TableObject[];
  },
): Result<ResolvedReach> {
  const wanted = reach.name.toLowerCase();
  const table = book.tables.find(({ name }) => name.toLowerCase() === wanted);
  if (table) {
    return ok({ sheet: table.sheet, area: table.area, columns: null, warnings: [] });
  }
  const named = book.names.filter(({ name }) => name.toLowerCase() === wanted);
  const own = reach.sheet?.toLowerCase() ?? null;
  const found = named.find(({ sheet }) => (sheet?.toLowerCase() ?? null) === own) ?? named[0];
  if (!found) {
    const names = [...book.names, ...book.tables].map(({ name }) => name).join(', ') || 'none';
    return fail('name-missing', { name: reach.name, names });
  }
  const parsed = parseReference(found.refersTo);
  if (!parsed.ok || parsed.value.sheet === null) {
    return fail('name-not-range', { name: found.name, refersTo: found.refersTo });
  }
  const sheet = requireSheet(book.sheets, parsed.value.sheet);
  if (!sheet.ok) return sheet;
  return ok({ sheet: sheet.value.name, area: parsed.value.area, columns: null, warnings: [] });
}

function headerKey(text: string): string {
  return text.trim().toLowerCase();
}

const NTH = ['first', 'second', 'third', 'fourth', 'fifth'];

/** `Planted`, or `Planted (second)` for one of several headers with the same text. */
export function describePicked(picked: PickedHeader): string {
  if (typeof picked === 'string') return picked;
  const { text, nth } = picked;
  return nth === 1 ? text : `${text} (${NTH[nth - 1] ?? `${nth}th`})`;
}

/**
 * Where the header row of a growing block stands now: where it was, when what stands there are its words (at least half of
 * them: a header may be written anew), else the row around that has them all. Without words any filled row will do. Fault:
 * `header-missing`.
 */
export function findHeaderRow(
  { header, words }: GrowingReach,
  headers: readonly HeaderCell[],
): Result<number> {
  const rows = new Map<number, Map<number, string>>();
  for (const { row, column, text } of headers) {
    if (column < header.left || column > header.right || text.trim() === '') continue;
    const known = rows.get(row) ?? new Map<number, string>();
    known.set(column, headerKey(text));
    rows.set(row, known);
  }
  const wanted = (words ?? []).flatMap((word, at) =>
    word.trim() === '' ? [] : [[header.left + at, headerKey(word)] as const],
  );
  const found = (row: number) =>
    wanted.filter(([column, word]) => rows.get(row)?.get(column) === word).length;
  const here = rows.has(header.row);
  if (here && found(header.row) * 2 >= wanted.length) return ok(header.row);
  const whole = [...rows.keys()]
    .filter((row) => wanted.length > 0 && found(row) === wanted.length)
    .sort((a, b) => Math.abs(a - header.row) - Math.abs(b - header.row));
  if (whole[0] !== undefined) return ok(whole[0]);
  return fail('header-missing', {
    row: String(header.row),
    words: (words ?? []).filter((word) => word !== '').join(', '),
  });
}

/** A header cell: its text and where it stands. */
export interface HeaderCell extends CellAddress {
  text: string;
}

/**
 * Picked columns take the columns with these headers, and every row below the headers until one that is empty in all of
 * them. `headers` are the texts of the rows in which the headers may stand, at least the row of before. Fault:
 * `column-missing`.
 */
export function resolveColumns(
  reach: ColumnsReach,
  headers: readonly HeaderCell[],
  occupancy: Occupancy,
): Result<ResolvedReach> {
  const rows = new Map<number, HeaderCell[]>();
  for (const header of headers) rows.set(header.row, [...(rows.get(header.row) ?? []), header]);
  const findIn = (row: number, wanted: PickedHeader) => {
    const { text, nth } = typeof wanted === 'string' ? { text: wanted, nth: 1 } : wanted;
    const same =
      rows.get(row)?.filter((header) => headerKey(header.text) === headerKey(text)) ?? [];
    return same.sort((a, b) => a.column - b.column)[nth - 1];
  };
  const missingIn = (row: number) => reach.columns.filter((wanted) => !findIn(row, wanted));
  const candidates = [
    reach.headerRow,
    ...[...rows.keys()].filter((row) => row !== reach.headerRow),
  ];
  const row = candidates.find((each) => missingIn(each).length === 0);
  if (row === undefined) {
    return fail('column-missing', {
      columns: missingIn(reach.headerRow).map(describePicked).join(', '),
      headers: (rows.get(reach.headerRow) ?? []).map(({ text }) => text).join(', ') || 'none',
    });
  }
  const columns = reach.columns.map((wanted) => findIn(row, wanted)!.column).sort((a, b) => a - b);
  const goesOn = (each: number) => {
    const runs = occupiedRow(occupancy, each)?.runs;
    return columns.some((column) => overlaps(runs, column, column));
  };
  let bottom = row;
  while (bottom < MAX_ROWS && goesOn(bottom + 1)) bottom++;
  const area = { top: row, left: columns[0]!, bottom, right: columns.at(-1)! };
  const warnings = belowWarnings(area, occupancy);
  if (row !== reach.headerRow) {
    warnings.push({
      code: 'header moved',
      message: `The headers moved from row ${reach.headerRow} to row ${row}.`,
    });
  }
  return ok({ sheet: reach.sheet, area, columns: [...new Set(columns)], warnings });
}

/** Rows of the area's columns that go on below it: at once, or after one empty row. */
function belowWarnings({ left, right, bottom }: Area, occupancy: Occupancy): ReachWarning[] {
  const goesOn = (row: number) => overlaps(occupiedRow(occupancy, row)?.runs, left, right);
  const start = goesOn(bottom + 1) ? bottom + 1 : goesOn(bottom + 2) ? bottom + 2 : null;
  if (start === null) return [];
  const last = bottom + LOOK_BELOW;
  let end = start;
  while (end < last && goesOn(end + 1)) end++;
  const rows =
    end === last
      ? `rows ${start} and on`
      : start === end
        ? `row ${start}`
        : `rows ${start} to ${end}`;
  const message =
    start === bottom + 1
      ? `The data go on below it, in ${rows}, and are not taken.`
      : `Row ${bottom + 1} is empty; below it the data go on in ${rows} and are not taken.`;
  return [{ code: 'data below', message, area: { top: start, left, bottom: end, right } }];
}

/** Rows without anything between the first and the last filled row of the area. */
function emptyRows(area: Area, occupancy: Occupancy): ReachWarning[] {
  const filled = occupancy.rows.filter(
    ({ row, runs }) =>
      row >= area.top && row <= area.bottom && overlaps(runs, area.left, area.right),
  );
  const empty: number[] = [];
  for (let n = 1; n < filled.length; n++) {
    for (let row = filled[n - 1]!.row + 1; row < filled[n]!.row && empty.length < 6; row++)
      empty.push(row);
  }
  if (empty.length === 0) return [];
  const rows = empty.length > 5 ? `${empty.slice(0, 5).join(', ')} and more` : empty.join(', ');
  return [{ code: 'empty row inside', message: `Empty inside: row ${rows}.` }];
}

/** Columns without anything between the first and the last filled column of the area. */
function emptyColumns({ top, left, bottom, right }: Area, occupancy: Occupancy): ReachWarning[] {
  const filled = new Uint8Array(right - left + 1);
  for (const { row, runs } of occupancy.rows) {
    if (row < top || row > bottom) continue;
    for (let at = 0; at < runs.length; at += 2) {
      const [from, to] = [Math.max(left, runs[at]!), Math.min(right, runs[at + 1]!)];
      if (from <= to) filled.fill(1, from - left, to - left + 1);
    }
  }
  const [first, last] = [filled.indexOf(1), filled.lastIndexOf(1)];
  const empty: string[] = [];
  for (let at = first + 1; at < last && empty.length < 6; at++) {
    if (first >= 0 && filled[at] === 0) empty.push(columnName(left + at));
  }
  if (empty.length === 0) return [];
  const columns = empty.length > 5 ? `${empty.slice(0, 5).join(', ')} and more` : empty.join(', ');
  return [{ code: 'empty column inside', message: `Empty inside: column ${columns}.` }];
}

function columnRange({ left, right }: Area): string {
  return left === right
    ? `column ${columnName(left)}`
    : `columns ${columnName(left)} to ${columnName(right)}`;
}

/** The reach in words a person reads: `Counts!A3:F14`, `Counts, growing from A4:G4`, `the name Plots`. */
export function describeReach(reach: Reach): string {
  switch (reach.kind) {
    case 'block':
      return formatReference(reach);
    case 'growing block': {
      const { row, left, right } = reach.header;
      return `${quoteSheet(reach.sheet)}!${formatArea({ top: row, left, bottom: row, right })} and below`;
    }
    case 'name':
      return reach.name;
    case 'whole sheet':
      return `${quoteSheet(reach.sheet)}, whole sheet`;
    case 'picked columns':
      return `${quoteSheet(reach.sheet)}: ${reach.columns.map(describePicked).join(', ')}`;
    case 'chart':
      return `${quoteSheet(reach.sheet)}, chart ${reach.chart}`;
  }
}

/** What each kind of reach is, in a sentence. */
export const REACH_WORDS: Record<Reach['kind'], { name: string; sentence: string }> = {
  block: { name: 'Block', sentence: 'These cells, whatever is put in below or beside them.' },
  'growing block': {
    name: 'Growing block',
    sentence: 'The header row and every row under it, until the data end.',
  },
  name: { name: 'Name or table', sentence: 'Where the workbook says the name or table object is.' },
  'whole sheet': {
    name: 'Whole sheet, trimmed',
    sentence: 'Everything on the sheet, but not cells that stand far from the data.',
  },
  'picked columns': {
    name: 'Picked columns',
    sentence: 'The columns with these headers, wherever they stand, until the data end.',
  },
  chart: {
    name: 'Chart of the source',
    sentence: 'The chart as it is drawn there, with its cells, wherever these lie.',
  },
};

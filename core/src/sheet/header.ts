import { type Cell, gridOf, type Snapshot } from './sheet.ts';

type Row = readonly (Cell | undefined)[];

/** The rows at the top of a table that are not its data: first those of its title, then those of its header. */
export interface Header {
  title: number;
  rows: number;
}

/** So many rows above a header may be a title or empty, and so many rows may a header have. */
const MOST_TITLE_ROWS = 4;
const MOST_HEADER_ROWS = 3;
/** A row of these beside numbers is one of figures that are not there, not of units. */
const NO_FIGURE = /^(n\/?a|n\.a\.|tbc|tbd|unknown|none|[-–—.?*]+)$/i;

/**
 * Where the header of a table stands: as it was set for the snapshot, else as it reads (common practice, our own rules).
 * A header row has at least two cells, all of them text, above at least one more row. Rows above it with a single text,
 * or with nothing, are a title when figures follow. The row below it belongs to the header too when it has texts where
 * the column has numbers or dates below (units, a second tier), or when cells merged downwards reach into it.
 */
export function headerOf(snapshot: Snapshot, grid: readonly Row[] = gridOf(snapshot)): Header {
  if (snapshot.header) return within(snapshot.header, grid.length);
  return findHeader(grid, snapshot);
}

/** The same for rows that are part of a table: `merges` are those of the sheet, `area` says where the rows stand. */
export function findHeader(
  grid: readonly Row[],
  place?: Pick<Snapshot, 'merges' | 'area'>,
): Header {
  const none = { title: 0, rows: 0 };
  const title = titleRows(grid);
  if (!isHeaderRow(grid, title)) return none;
  let rows = 1;
  while (rows < MOST_HEADER_ROWS && isSecondTier(grid, title + rows)) rows++;
  if (place) {
    // A label that is merged downwards out of the header takes the rows that it reaches with it.
    const first = place.area.top + title;
    const reached = place.merges
      .filter(({ top, bottom }) => top >= first && top < first + rows && bottom >= first + rows)
      .map(({ bottom }) => bottom - first + 1)
      .filter((count) => count <= MOST_HEADER_ROWS);
    rows = Math.max(rows, ...reached);
  }
  return title + rows < grid.length ? { title, rows } : { title, rows: 1 };
}

function within({ title, rows }: Header, height: number): Header {
  const most = Math.max(0, height - 1);
  const kept = Math.min(title, most);
  return { title: kept, rows: Math.min(rows, most - kept) };
}

function filledOf(row: Row | undefined): Cell[] {
  return (row ?? []).filter((cell): cell is Cell => cell !== undefined && cell.type !== 'blank');
}

/** Rows of a title: single texts and empty rows above a header over figures. */
function titleRows(grid: readonly Row[]): number {
  if ((grid[0]?.length ?? 0) < 2) return 0;
  let at = 0;
  while (at < MOST_TITLE_ROWS) {
    const filled = filledOf(grid[at]);
    if (filled.length > 1 || (filled[0] && filled[0].type !== 'text')) break;
    at++;
  }
  const hasText = grid.slice(0, at).some((row) => filledOf(row).length === 1);
  const isOverFigures = () => grid.slice(at + 1).some((row) => filledOf(row).some(isFigure));
  return at > 0 && hasText && isHeaderRow(grid, at) && isOverFigures() ? at : 0;
}

function isHeaderRow(grid: readonly Row[], at: number): boolean {
  const filled = filledOf(grid[at]);
  if (filled.length < 2 || grid.length - at < 2) return false;
  return filled.every(({ type }) => type === 'text');
}

function isFigure({ type }: Cell): boolean {
  return type === 'number' || type === 'date' || type === 'uncomputed';
}

/** Whether a row under a header row has texts, all of them, in columns whose cells below are numbers or dates. */
function isSecondTier(grid: readonly Row[], at: number): boolean {
  const filled = filledOf(grid[at]);
  if (filled.length === 0 || grid.length - at < 2) return false;
  if (filled.some(({ type, text }) => type !== 'text' || NO_FIGURE.test(text.trim()))) return false;
  const row = grid[at]!;
  for (let column = 0; column < row.length; column++) {
    const cell = row[column];
    if (!cell || cell.type === 'blank') continue;
    let [figures, others] = [0, 0];
    for (let below = at + 1; below < grid.length; below++) {
      const each = grid[below]![column];
      if (!each || each.type === 'blank') continue;
      if (isFigure(each)) figures++;
      else others++;
    }
    if (figures > others) return true;
  }
  return false;
}

/**
 * The header text of each column, `''` where there is none. Of a header of several rows the texts are joined, those of
 * merged cells for each of their columns: `2025, Planted`.
 */
export function headersOf(snapshot: Snapshot, grid: readonly Row[] = gridOf(snapshot)): string[] {
  const width = grid[0]?.length ?? 0;
  const { title, rows } = headerOf(snapshot, grid);
  const { area, merges } = snapshot;
  const textAt = (row: number, column: number): string => {
    const cell = grid[row]?.[column];
    if (cell && cell.type !== 'blank') return cell.text.trim();
    const merge = merges.find(
      ({ top, left, bottom, right }) =>
        row + area.top >= top &&
        row + area.top <= bottom &&
        column + area.left >= left &&
        column + area.left <= right,
    );
    return merge ? (grid[merge.top - area.top]?.[merge.left - area.left]?.text.trim() ?? '') : '';
  };
  return Array.from({ length: width }, (_, column) => {
    const texts = Array.from({ length: rows }, (_, at) => textAt(title + at, column));
    return [...new Set(texts.filter((text) => text !== ''))].join(', ');
  });
}

/** What a person would call the row: the text of its first filled cell. */
export function rowLabel(row: Row): string {
  return row.find((cell) => cell && cell.type !== 'blank')?.text.trim() ?? '';
}

/**
 * A name for an object that shows `snapshot`: `Counts: Plot, Planted, Surviving` from its headers, else from the words at
 * the heads of its row or columns, `Counts: Total, Surviving`, else the sheet with its first text, else the sheet alone.
 */
export function suggestName(snapshot: Snapshot): string {
  const own = headersOf(snapshot).filter((text) => text !== '');
  const headers = own.length > 0 ? own : headsOf(snapshot);
  if (headers.length > 0) {
    const shown = headers.slice(0, 3).join(', ');
    return `${snapshot.sheet}: ${shown}${headers.length > 3 ? ' …' : ''}`.slice(0, 80);
  }
  const text = snapshot.cells.find((cell) => cell.type === 'text')?.text.trim();
  return (text ? `${snapshot.sheet}: ${text}` : snapshot.sheet).slice(0, 80);
}

/** A single row goes by its own word, cells of several rows by those of their columns, a single cell by both. */
function headsOf({ landmarks }: Snapshot): string[] {
  if (!landmarks) return [];
  const { rows, columns } = landmarks;
  const own = rows.length === 1 ? rows : [];
  const words = [...own, ...(rows.length > 1 || columns.length === 1 ? columns : [])];
  return [...new Set(words.filter((text) => text !== ''))];
}

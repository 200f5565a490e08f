import { type Area, intersection } from './address.ts';
import type { SourceChart } from './source-chart.ts';

/**
 * What a cell holds. A `blank` cell has no value but is dressed (a fill or a border); an `uncomputed` one has a formula
 * whose value the file does not say, since no program has computed it.
 */
export type CellType = 'number' | 'text' | 'boolean' | 'date' | 'error' | 'blank' | 'uncomputed';

/** What a cell shows whose formula was not computed. */
export const NOT_COMPUTED = 'not computed';

/** One cell with its value, the text it shows, and its place on the sheet (counted from 1). */
export interface Cell {
  row: number;
  column: number;
  type: CellType;
  /** A number; a text; a truth value; for `date` its ISO 8601 form; for `error` its text, such as `#DIV/0!`. */
  value: number | string | boolean;
  /** The text shown: the value through its number format. */
  text: string;
  /** The formula without its leading `=`, where the cell has one. */
  formula?: string;
  /** The number format code, where it is not `General`. */
  format?: string;
  /** Letter colour that the number format sets (`[Red]`), `#RRGGBB`. */
  ink?: string;
  /** Index into the `dresses` of the snapshot. */
  dress?: number;
  /** The parts of a text that have letters of their own; joined they are its value. */
  runs?: TextRun[];
  /** Where a click on the cell leads: an address, or `#Sheet!A1` within the source. */
  link?: string;
  /** What somebody noted at the cell. Shown with the source, never part of what an object takes. */
  note?: string;
  /** A bar that a conditional format draws behind the value. */
  bar?: CellBar;
  /** A mark that a conditional format sets beside the value. */
  icon?: CellIcon;
}

/** A part of a text; its letters are those of the cell where it names none of its own. */
export interface TextRun {
  text: string;
  letters?: Letters;
  /** Raised or lowered letters. */
  shift?: 'super' | 'sub';
}

/** A bar within a cell, as shares of its width. */
export interface CellBar {
  from: number;
  to: number;
  /** `#RRGGBB` */
  colour: string;
  isGradient?: boolean;
  /** Where zero lies, when bars go both ways. */
  axis?: number;
}

/** One of a set of icons by the set's name in ECMA-376 Part 1, 18.18.42, counted from the lowest. */
export interface CellIcon {
  set: string;
  index: number;
}

/** How thick and in which pattern a border is drawn, by the names of ECMA-376 Part 1, 18.18.3. */
export interface BorderLine {
  style: string;
  /** `#RRGGBB` */
  colour: string;
}

/** The letters of a cell. */
export interface Letters {
  /** Family the source names. */
  family: string;
  /** Points. */
  size: number;
  bold?: boolean;
  italic?: boolean;
  underline?: boolean;
  strike?: boolean;
  /** `#RRGGBB`; black when absent. */
  colour?: string;
}

export type HorizontalAlignment = 'left' | 'center' | 'right' | 'fill' | 'justify';
export type VerticalAlignment = 'top' | 'center' | 'bottom' | 'justify';

/** How a cell is dressed: everything about its look but the number format. */
export interface Dress {
  letters: Letters;
  /** Fill colour, `#RRGGBB`. */
  fill?: string;
  top?: BorderLine;
  right?: BorderLine;
  bottom?: BorderLine;
  left?: BorderLine;
  /** Absent means by type: numbers and dates right, truth values and errors centred, text left. */
  horizontal?: HorizontalAlignment;
  /** Absent means bottom. */
  vertical?: VerticalAlignment;
  wrap?: boolean;
  /** Steps of three spaces' width (ECMA-376 Part 1, 18.8.1). */
  indent?: number;
  /** Degrees counter-clockwise, -90 to 90. */
  rotation?: number;
}

/** One column or row that differs from the sheet's default. */
export interface Band {
  index: number;
  /** Column width in widths of a digit (ECMA-376 Part 1, 18.3.1.13), row height in points. */
  size?: number;
  hidden?: true;
  /** Its size is that of what stands in it, and nobody's wish: another one is no change. */
  isFitted?: true;
  /** Its size was set for this document: it holds however the table fits its page. */
  isSet?: true;
}

/** Rows of a sheet that lie together and have one height, or are hidden. */
export interface RowRun {
  from: number;
  to: number;
  /** Points; absent for the usual height. */
  size?: number;
  hidden?: true;
}

/** How high the rows of a whole sheet are. */
export interface RowHeights {
  /** Points of a row that nothing is said of. */
  usual: number;
  /** Rows that differ, from the top; at most `MAX_ROW_RUNS`, further down they count as usual. */
  runs: RowRun[];
}

/** So many runs of rows are told of a sheet: its grid needs them all at once. */
export const MAX_ROW_RUNS = 20_000;

/** Rows that differ from the usual, joined where neighbours are alike. */
export function joinRowRuns(runs: Iterable<RowRun>): RowRun[] {
  const joined: RowRun[] = [];
  for (const run of runs) {
    const last = joined.at(-1);
    if (last?.to === run.from - 1 && last.size === run.size && last.hidden === run.hidden) {
      last.to = run.to;
      continue;
    }
    if (joined.length >= MAX_ROW_RUNS) break;
    joined.push({ ...run });
  }
  return joined;
}

/**
 * What an area of a sheet held at one moment, with its look: complete, without reference to the file.
 * Cells come row by row; empty undressed ones are left out. Two equal areas give equal snapshots.
 */
export interface Snapshot {
  sheet: string;
  area: Area;
  cells: Cell[];
  merges: Area[];
  columns: Band[];
  rows: Band[];
  dresses: Dress[];
  /** Column width in digit widths, row height in points, width of a digit in pixels. */
  defaults: { columnWidth: number; rowHeight: number; digitWidth: number };
  /** Rows at the top that are title and header, where a person said so; else it is seen from what stands there. */
  header?: { title: number; rows: number };
  /** The source's chart that is drawn from these cells, where a chart was taken. */
  chart?: SourceChart;
  /** Cells of that chart on other sheets. */
  elsewhere?: Snapshot[];
  /** The words at the heads of the rows and columns of a few cells. They are not shown, and no change puts these behind. */
  landmarks?: Landmarks;
}

/**
 * The words by which a person knows a few cells: at the head of each of their rows and columns, `''` where nothing stands
 * there. A block stays where it is on the sheet, so that these tell when other cells have moved into it.
 */
export interface Landmarks {
  rows: string[];
  columns: string[];
}

/** A sheet of a source, as a list shows it. */
export interface SheetSummary {
  name: string;
  /** `hidden` can be shown by the spreadsheet program's user, `very hidden` only by a program. */
  state: 'visible' | 'hidden' | 'very hidden';
}

/** A defined name of a source; `refersTo` is its formula without `=`. */
export interface DefinedName {
  name: string;
  refersTo: string;
  /** The sheet the name belongs to, or null for the whole workbook. */
  sheet: string | null;
  hidden: boolean;
}

/** A table object of a source (ECMA-376 Part 1, 18.5): a named range with headers that the program grows by itself. */
export interface TableObject {
  name: string;
  sheet: string;
  /** With its header and totals rows. */
  area: Area;
  headerRows: number;
  totalsRows: number;
  columns: string[];
}

/** Whether a sheet refuses changes, and which it allows all the same (ECMA-376 Part 1, 18.3.1.85). */
export interface SheetProtection {
  isProtected: boolean;
  /** Whether a password is needed to lift it. */
  hasPassword: boolean;
}

/** What may be entered into cells (ECMA-376 Part 1, 18.3.1.32). */
export interface Validation {
  areas: Area[];
  kind: 'whole' | 'decimal' | 'list' | 'date' | 'time' | 'textLength' | 'custom' | 'any';
  /** How the entry is compared with the operands, by the names of 18.18.20. */
  comparison: string;
  /** Formulas; of a list, its entries. */
  operands: string[];
  allowsBlank: boolean;
  /** What is said when an entry does not fit. */
  message: string | null;
}

/** Something in a file that can be read in more than one way, or not wholly, and what was made of it. */
export interface Oddity {
  code: 'stray quote' | 'columns beyond' | 'rows beyond' | 'cell twice' | 'number too large';
  /** A sentence about the first of them. */
  message: string;
  area: Area;
}

/** What a sheet says about itself beside its cells. */
export interface SheetRules {
  protection: SheetProtection;
  validations: Validation[];
  /** How many conditional formats there are, and what in them cannot be followed. */
  conditions: { count: number; unknown: string[] };
  /** What was odd in as much of the sheet as was read so far. */
  oddities: Oddity[];
}

/** Whether there is a cell and it holds something. */
export function isFilled(cell: Cell | undefined): cell is Cell {
  return cell !== undefined && cell.type !== 'blank';
}

/** Rows of a snapshot's cells: one entry for every row of the area, each with one place for every column. */
export function gridOf(snapshot: Snapshot): (Cell | undefined)[][] {
  const { area } = snapshot;
  const width = area.right - area.left + 1;
  const height = area.bottom - area.top + 1;
  const grid = Array.from({ length: height }, () => new Array<Cell | undefined>(width));
  for (const cell of snapshot.cells) {
    const row = grid[cell.row - area.top];
    if (row && cell.column >= area.left && cell.column <= area.right)
      row[cell.column - area.left] = cell;
  }
  return grid;
}

/** The part of a snapshot that lies in `area`; merges that reach out of it are cut at its sides. */
export function cutSnapshot(whole: Snapshot, area: Area): Snapshot {
  return snapshotCutter(whole)(area);
}

/** The same for many parts of one snapshot: each takes time for what lies in it, not for the whole. */
export function snapshotCutter(whole: Snapshot): (area: Area) => Snapshot {
  const byRow = new Map<number, Cell[]>();
  for (const cell of whole.cells) {
    const row = byRow.get(cell.row);
    if (row) row.push(cell);
    else byRow.set(cell.row, [cell]);
  }
  const rows = [...byRow].sort(([a], [b]) => a - b);
  const bands = [...whole.rows].sort((a, b) => a.index - b.index);
  return (area) => {
    const { top, left, bottom, right } = area;
    const dresses: Dress[] = [];
    const moved = new Map<number, number>();
    const cells: Cell[] = [];
    const isBefore = ([row]: [number, Cell[]]) => row < top;
    for (let at = firstNot(rows, isBefore); at < rows.length && rows[at]![0] <= bottom; at++) {
      for (const cell of rows[at]![1]) {
        if (cell.column < left || cell.column > right) continue;
        if (cell.dress === undefined) {
          cells.push(cell);
          continue;
        }
        let dress = moved.get(cell.dress);
        if (dress === undefined) {
          // Numbered by first use, so that equal areas of differently built files are equal.
          dress = dresses.push(whole.dresses[cell.dress]!) - 1;
          moved.set(cell.dress, dress);
        }
        cells.push(dress === cell.dress ? cell : { ...cell, dress });
      }
    }
    return {
      sheet: whole.sheet,
      area,
      cells,
      merges: whole.merges
        .map((merge) => intersection(merge, area))
        .filter((merge) => merge !== null)
        .filter((merge) => merge.top !== merge.bottom || merge.left !== merge.right),
      columns: whole.columns.filter(({ index }) => index >= left && index <= right),
      rows: bands.slice(
        firstNot(bands, ({ index }) => index < top),
        firstNot(bands, ({ index }) => index <= bottom),
      ),
      dresses,
      defaults: whole.defaults,
      ...(whole.header ? { header: whole.header } : {}),
      ...(whole.chart ? { chart: whole.chart } : {}),
      ...(whole.elsewhere ? { elsewhere: whole.elsewhere } : {}),
    };
  };
}

/** The place of the first item for which `isBefore` no longer holds, found by halving. */
function firstNot<T>(items: readonly T[], isBefore: (item: T) => boolean): number {
  let [low, high] = [0, items.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (isBefore(items[middle]!)) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Finds a sheet by name; names are compared without regard to case, as workbooks do. */
export function findSheet<T extends { name: string }>(
  sheets: readonly T[],
  name: string,
): T | undefined {
  const wanted = name.toLocaleLowerCase('en');
  return sheets.find((sheet) => sheet.name.toLocaleLowerCase('en') === wanted);
}

import { isoToSerial } from '../sheet/date.ts';
import { type Header, headerOf } from '../sheet/header.ts';
import { inkOf, showNumber } from '../sheet/number-format.ts';
import {
  type Band,
  type BorderLine,
  type Cell,
  type Dress,
  gridOf,
  type Letters,
  type Snapshot,
} from '../sheet/sheet.ts';
import { totalsRows } from '../sheet/totals.ts';
import { PIXELS_PER_MM } from './layout.ts';
import {
  type Override,
  type OverrideLook,
  type PlacedOverride,
  placeOverrides,
} from './overrides.ts';

/** What of a table's look can follow its source or the document. */
export const ASPECTS = ['letters', 'fills', 'formats', 'widths'] as const;
export type Aspect = (typeof ASPECTS)[number];

/** What each aspect of a table's look follows; an aspect that is not named follows the source. */
export type TableLook = { [K in Aspect]?: Follows | undefined };
export type Follows = 'source' | 'document';

/** How tables look in a document where they follow it. */
export const TABLE_STYLES = ['hairlines', 'bands', 'dark head', 'bare'] as const;
export type TableStyle = (typeof TABLE_STYLES)[number];

/** What a document says about the tables in it that follow it. */
export interface DocumentLook {
  tableStyle: TableStyle;
  /** Decimals of numbers in columns that are not of whole numbers. */
  decimals: number;
  /** Number format code of dates. */
  dates: string;
}

/** What a document that says nothing has. */
export const USUAL_LOOK: DocumentLook = {
  tableStyle: 'hairlines',
  decimals: 1,
  dates: 'd mmm yyyy',
};

/** Letters of a document's own tables. */
export const DOCUMENT_LETTERS: Letters = {
  family: 'Source Serif 4',
  size: 10.5,
  colour: '#10242B',
};

const INK = '#10242B';
const strong: BorderLine = { style: 'medium', colour: INK };
const thin: BorderLine = { style: 'thin', colour: INK };
const hairline: BorderLine = { style: 'thin', colour: '#C6D2D6' };

type Role = 'title' | 'header' | 'body' | 'second' | 'total';
type Fills = Pick<Dress, 'fill' | 'top' | 'bottom'> & { colour?: string };

/** Fills and lines of each style for each part of a table. */
const STYLES: Record<TableStyle, Record<Exclude<Role, 'title'>, Fills>> = {
  hairlines: {
    header: { bottom: strong },
    body: { bottom: hairline },
    second: { bottom: hairline },
    total: { top: thin, bottom: thin },
  },
  bands: {
    header: { fill: '#D5E1E5', bottom: thin },
    body: {},
    second: { fill: '#F0F4F5' },
    total: { top: thin },
  },
  'dark head': {
    header: { fill: '#0B4F5C', colour: '#FFFFFF' },
    body: { bottom: hairline },
    second: { bottom: hairline },
    total: { fill: '#E9EEF0', top: thin },
  },
  bare: { header: { bottom: thin }, body: {}, second: {}, total: { top: thin } },
};

/** How an object is to be dressed. */
export interface Wish {
  look: TableLook;
  document: DocumentLook;
  overrides: readonly Override[];
}

/**
 * The snapshot dressed as wished: what follows the document gets its letters, fills, lines and number formats, and
 * overrides lie on top. The result is a snapshot like any other, so that every renderer and every layout sees the same.
 * Widths that follow the document are the layout's business.
 */
export function dressSnapshot(snapshot: Snapshot, { look, document, overrides }: Wish): Snapshot {
  const isAsSource =
    look.letters !== 'document' && look.fills !== 'document' && look.formats !== 'document';
  if (isAsSource && overrides.length === 0) return snapshot;
  const grid = gridOf(snapshot);
  const dresses = new Wardrobe(snapshot.dresses);
  const header = headerOf(snapshot, grid);
  const totals = totalsRows(snapshot, grid);
  const { placed } = placeOverrides(snapshot, overrides);
  const codes = look.formats === 'document' ? documentFormats(grid, document) : null;
  // Lines under a row go on under its empty cells, and a set fill fills them.
  const needsAll =
    look.fills === 'document' || placed.some(({ override }) => override.look.fill !== undefined);
  let count = 0;
  const cells: Cell[] = [];
  grid.forEach((row, r) => {
    const role = roleOf(totals.has(r), r, header, r < header.title + header.rows ? 0 : count++);
    const here = placed.filter((each) => each.row === null || each.row === r);
    for (let c = 0; c < row.length; c++) {
      const found = row[c];
      if (!found && !needsAll) continue;
      const overridden = overriddenLook(here, c);
      const cell = found ?? blankAt(snapshot, r, c);
      cells.push(dressCell(cell, dresses, look, document, role, codes?.[c] ?? null, overridden));
    }
  });
  return {
    ...snapshot,
    cells: found(cells),
    columns: bands(snapshot.columns, placed, 'column', snapshot),
    rows: bands(snapshot.rows, placed, 'row', snapshot),
    dresses: dresses.all,
  };
}

/** Blank cells that were made and got no dress are as if they were not there. */
function found(cells: Cell[]): Cell[] {
  return cells.filter((cell) => cell.type !== 'blank' || cell.dress !== undefined);
}

function blankAt({ area }: Snapshot, r: number, c: number): Cell {
  return { row: area.top + r, column: area.left + c, type: 'blank', value: '', text: '' };
}

function roleOf(isTotal: boolean, r: number, header: Header, nth: number): Role {
  if (r < header.title) return 'title';
  if (r < header.title + header.rows) return 'header';
  if (isTotal) return 'total';
  return nth % 2 === 0 ? 'body' : 'second';
}

function overriddenLook(placed: readonly PlacedOverride[], column: number): OverrideLook | null {
  const looks = placed
    .filter((each) => each.column === null || each.column === column)
    .map(({ override }) => override.look);
  return looks.length === 0 ? null : Object.assign({}, ...looks);
}

function dressCell(
  cell: Cell,
  wardrobe: Wardrobe,
  look: TableLook,
  document: DocumentLook,
  role: Role,
  code: ColumnFormat | null,
  override: OverrideLook | null,
): Cell {
  const result: Cell = { ...cell };
  if (look.letters === 'document' && cell.runs) result.runs = cell.runs.map(plainRun);
  if (look.fills === 'document' && result.bar) delete result.bar;
  // Cells of the same dress in the same part of the table are dressed alike.
  const alike = wardrobe.alike(cell.dress, role, (before) => {
    let dress = before;
    if (look.letters === 'document') dress = documentLetters(dress, role);
    if (look.fills === 'document') {
      const isOwn = look.letters === 'document';
      const fills = role === 'title' ? {} : STYLES[document.tableStyle][role];
      dress = documentFills(dress, fills, isOwn);
    }
    return dress;
  });
  if (alike !== undefined) result.dress = alike;
  if (code !== null && code.isOfDates === (cell.type === 'date')) reshow(result, code.code);
  if (override) {
    if (override.format !== undefined) reshow(result, override.format);
    const dress = alike === undefined ? undefined : wardrobe.all[alike];
    const changed = overriddenDress(dress, override, cell.type === 'blank');
    if (changed !== dress && override.colour !== undefined) delete result.ink;
    if (changed !== dress) result.dress = wardrobe.put(changed!);
  }
  return result;
}

function plainRun(run: NonNullable<Cell['runs']>[number]) {
  const { bold, italic } = run.letters ?? {};
  if (!run.letters) return run;
  return {
    ...run,
    letters: { ...DOCUMENT_LETTERS, ...(bold ? { bold } : {}), ...(italic ? { italic } : {}) },
  };
}

/** The document's letters; weight and slant stay those of the source, since they say which row is a total. */
function documentLetters(dress: Dress | undefined, role: Role): Dress {
  const { bold, italic, underline, strike } = dress?.letters ?? {};
  const letters: Letters = { ...DOCUMENT_LETTERS };
  if (bold || role === 'header') letters.bold = true;
  if (italic) letters.italic = true;
  if (underline) letters.underline = true;
  if (strike) letters.strike = true;
  return { ...dress, letters };
}

function documentFills(dress: Dress | undefined, fills: Fills, isOwnLetters: boolean): Dress {
  const {
    fill: _,
    top: _top,
    right: _right,
    bottom: _bottom,
    left: _left,
    ...rest
  } = dress ?? { letters: DOCUMENT_LETTERS };
  const { colour, ...lines } = fills;
  const letters = rest.letters;
  const isLost =
    colour !== undefined ||
    (!isOwnLetters && letters.colour !== undefined && isLight(letters.colour));
  return {
    ...rest,
    ...lines,
    // White letters stood on a dark fill that is not there any more.
    letters: isLost ? { ...letters, colour: colour ?? INK } : letters,
  };
}

/** Whether letters of this colour would be lost on white paper. */
function isLight(colour: string): boolean {
  const part = (at: number) => Number.parseInt(colour.slice(at, at + 2), 16) / 255;
  return 0.2126 * part(1) + 0.7152 * part(3) + 0.0722 * part(5) > 0.7;
}

function overriddenDress(
  dress: Dress | undefined,
  { align, bold, italic, colour, fill }: OverrideLook,
  isBlank: boolean,
): Dress | undefined {
  const touchesLetters = bold !== undefined || italic !== undefined || colour !== undefined;
  if (isBlank ? fill === undefined : !touchesLetters && !align && fill === undefined) return dress;
  const next: Dress = { ...(dress ?? { letters: DOCUMENT_LETTERS }) };
  if (touchesLetters) {
    const letters = { ...next.letters };
    if (bold !== undefined) setFlag(letters, 'bold', bold);
    if (italic !== undefined) setFlag(letters, 'italic', italic);
    if (colour !== undefined) letters.colour = colour;
    next.letters = letters;
  }
  if (align) next.horizontal = align;
  if (fill === 'none') delete next.fill;
  else if (fill !== undefined) next.fill = fill;
  return next;
}

function setFlag(letters: Letters, flag: 'bold' | 'italic', isOn: boolean): void {
  if (isOn) letters[flag] = true;
  else delete letters[flag];
}

/** The text that a cell shows under another format code; texts and the like stay as they are. */
export function textUnder(cell: Cell, code: string): string {
  if (cell.type === 'number') return showNumber(cell.value as number, code);
  if (cell.type === 'date') return showNumber(isoToSerial(String(cell.value), '1900'), code);
  return cell.text;
}

function reshow(cell: Cell, code: string): void {
  if (cell.type !== 'number' && cell.type !== 'date') return;
  cell.text = textUnder(cell, code);
  cell.format = code;
  const ink = inkOf(cell.type === 'number' ? (cell.value as number) : 0, code);
  if (ink) cell.ink = ink;
  else if (cell.ink !== undefined) delete cell.ink;
}

/** A number format code, and whether it is one of dates. */
interface ColumnFormat {
  code: string;
  isOfDates: boolean;
}

/** The document's number format of each column; null where it leaves the source's. */
function documentFormats(
  grid: (Cell | undefined)[][],
  document: DocumentLook,
): (ColumnFormat | null)[] {
  const width = grid[0]?.length ?? 0;
  return Array.from({ length: width }, (_, column) => {
    const cells = grid.flatMap((row) => (row[column] ? [row[column]] : []));
    const date = cells.find(({ type }) => type === 'date');
    if (date) {
      const hasTime = String(date.value).includes('T');
      return { code: hasTime ? `${document.dates} h:mm` : document.dates, isOfDates: true };
    }
    const numbers = cells.filter(({ type }) => type === 'number');
    const [first] = numbers;
    if (!first) return null;
    const formats = new Set(numbers.map(({ format = 'General' }) => format));
    // Currencies, units, fractions and the like say something that a plain number would lose.
    if ([...formats].some((format) => !/^(General|[#0,]*0(\.[0#]+)?%?)$/.test(format))) return null;
    const shares = [...formats].filter((format) => format.endsWith('%')).length;
    if (shares > 0 && shares < formats.size) return null;
    const scale = shares > 0 ? 100 : 1;
    const isWhole = numbers.every(({ value }) => {
      const shown = (value as number) * scale;
      return Number.isInteger(shown) || Number.isInteger(Number(shown.toPrecision(12)));
    });
    const decimals = isWhole || document.decimals === 0 ? '' : `.${'0'.repeat(document.decimals)}`;
    return { code: shares > 0 ? `0${decimals}%` : `#,##0${decimals}`, isOfDates: false };
  });
}

/** Widths, heights and hiding that were set, over those of the source. */
function bands(
  source: readonly Band[],
  placed: readonly PlacedOverride[],
  side: 'row' | 'column',
  { area, defaults }: Snapshot,
): Band[] {
  const first = side === 'row' ? area.top : area.left;
  const last = side === 'row' ? area.bottom : area.right;
  const byIndex = new Map(source.map((band) => [band.index, band]));
  let isChanged = false;
  for (const { override, row, column } of placed) {
    const { width, height, isHidden } = override.look;
    const at = side === 'row' ? row : column;
    const other = side === 'row' ? column : row;
    // Only a whole row or column has a size; a size of the table is that of each of them.
    if (other !== null) continue;
    const millimetres = side === 'row' ? height : width;
    const size =
      millimetres === undefined
        ? undefined
        : side === 'row'
          ? (millimetres * 72) / 25.4
          : Math.round(millimetres * PIXELS_PER_MM) / defaults.digitWidth;
    const hides = at !== null && isHidden;
    if (size === undefined && !hides) continue;
    isChanged = true;
    const from = at === null ? first : first + at;
    const to = at === null ? last : first + at;
    for (let index = from; index <= to; index++) {
      const band: Band = { ...(byIndex.get(index) ?? { index }) };
      if (size !== undefined) {
        band.size = size;
        band.isSet = true;
      }
      if (hides) band.hidden = true;
      byIndex.set(index, band);
    }
  }
  if (!isChanged) return [...source];
  return [...byIndex.values()].sort((a, b) => a.index - b.index);
}

/** Dresses of a snapshot with those that come to it, each once. */
class Wardrobe {
  readonly all: Dress[];
  readonly #known = new Map<string, number>();
  readonly #alike = new Map<string, number | undefined>();

  constructor(readonly source: readonly Dress[]) {
    this.all = [...source];
  }

  /** The index of what `change` makes of a source's dress in a part of the table, worked out once. */
  alike(
    index: number | undefined,
    role: Role,
    change: (before: Dress | undefined) => Dress | undefined,
  ): number | undefined {
    const key = `${index ?? ''} ${role}`;
    if (!this.#alike.has(key)) {
      const before = index === undefined ? undefined : this.source[index];
      const after = change(before);
      this.#alike.set(key, after === before ? index : this.put(after!));
    }
    return this.#alike.get(key);
  }

  put(dress: Dress): number {
    const key = JSON.stringify(dress);
    let index = this.#known.get(key);
    if (index === undefined) {
      index = this.all.push(dress) - 1;
      this.#known.set(key, index);
    }
    return index;
  }
}

/** How a part of a table looks, as far as it can be set by hand and all of its cells agree. */
export interface ShownLook {
  bold: boolean;
  italic: boolean;
  /** Null where its cells differ. */
  align: 'left' | 'center' | 'right' | null;
}

/**
 * How a part of a dressed table looks: indices into the snapshot's area, null for every row or column. Only cells that hold
 * something count, where there are any. What a person sees there is what a switch has to turn over.
 */
export function shownLook(dressed: Snapshot, row: number | null, column: number | null): ShownLook {
  const { area, dresses } = dressed;
  const inside = dressed.cells.filter(
    (cell) =>
      (row === null || cell.row === area.top + row) &&
      (column === null || cell.column === area.left + column),
  );
  const filled = inside.filter(({ type }) => type !== 'blank');
  const looks = (filled.length > 0 ? filled : inside).map((cell) => {
    const dress = cell.dress === undefined ? undefined : dresses[cell.dress];
    return {
      bold: dress?.letters.bold ?? false,
      italic: dress?.letters.italic ?? false,
      align: sideOf(cell, dress),
    };
  });
  const [first] = looks;
  return {
    bold: looks.length > 0 && looks.every(({ bold }) => bold),
    italic: looks.length > 0 && looks.every(({ italic }) => italic),
    align: first && looks.every(({ align }) => align === first.align) ? first.align : null,
  };
}

/** At which side a cell stands: as it is dressed, else by what it holds. */
function sideOf({ type }: Cell, dress: Dress | undefined): ShownLook['align'] {
  const side = dress?.horizontal;
  if (side === 'left' || side === 'right' || side === 'center') return side;
  if (type === 'number' || type === 'date') return 'right';
  return type === 'boolean' || type === 'error' ? 'center' : 'left';
}

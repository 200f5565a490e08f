import { chartColour } from '../chart/drawing.ts';
import type { Box, Point } from '../page/box.ts';
import { placeAt } from '../page/measure.ts';
import { headerOf, headersOf } from '../sheet/header.ts';
import { shownPlaces } from '../sheet/merged.ts';
import { type Cell, gridOf, isFilled, type Snapshot } from '../sheet/sheet.ts';
import { totalsRows } from '../sheet/totals.ts';

/** How the rows of a reach are set out as marks in a plan. Columns are named by their header texts. */
export interface MarkWish {
  /** The column whose text names a row. */
  key: string;
  /** Columns that the label of a mark shows. */
  labels: readonly string[];
  from: MarkPlaces;
  /** What the colour of a mark follows; null for one colour of all. */
  colours?: MarkColours | null;
  /** The column of numbers that the areas of the symbols follow; null for one size of all. */
  sizes?: string | null;
  /** Places that were set by hand, in millimetres of the plan, by the text that names the row. They count before all others. */
  places: Readonly<Record<string, Point>>;
}

/** Where marks stand that nobody set by hand. */
export type MarkPlaces =
  | { kind: 'hand' }
  /** By two columns; `unit` is the millimetres that one stands for. */
  | { kind: 'coordinates'; x: string; y: string; unit: number }
  /** Along a line in the plan: by a column of chainages, and one of offsets to its right where there is one. */
  | {
      kind: 'along';
      line: readonly Point[];
      chainage: string;
      offset: string | null;
      unit: number;
    };

/** What the colour of a mark follows. */
export type MarkColours =
  /** The cell of a column as its source has it coloured, also by a conditional format: its ground, else its letters. */
  | { kind: 'source'; column: string }
  /** A colour for each of the texts that stand in a column. */
  | { kind: 'texts'; column: string };

/** A row as a mark. */
export interface RowMark {
  key: string;
  /** Its row, as an index into the area of the snapshot. */
  row: number;
  label: string[];
  /** `#RRGGBB`; null for the one that all have. */
  colour: string | null;
  /** How large its symbol is, as a share of the largest. */
  share: number;
  /** In millimetres of the plan; null where it has none. */
  place: Point | null;
  isByHand: boolean;
}

/** What somebody should look at. */
export type MarkNote =
  | { kind: 'column missing'; column: string }
  | { kind: 'no name'; row: number }
  | { kind: 'double'; key: string; count: number }
  | { kind: 'no number'; key: string; column: string; text: string }
  /** Its cell is no number, or below zero: it is as large as the largest. */
  | { kind: 'no size'; key: string; column: string; text: string }
  | { kind: 'outside'; key: string }
  | { kind: 'unplaced'; key: string }
  /** A place was set by hand for a row that is not there any more. */
  | { kind: 'gone'; key: string };

/**
 * Sets out the rows of a table as marks in a plan of this size (millimetres): every row of its body that is shown and is no
 * total. Rows that cannot be set out are told of and come without a place; none is left out without a word.
 */
export function rowMarks(
  snapshot: Snapshot,
  wish: MarkWish,
  plan: { width: number; height: number },
): { marks: RowMark[]; notes: MarkNote[]; colours: ColourMeaning[] } {
  const grid = gridOf(snapshot);
  const { title, rows: headed } = headerOf(snapshot, grid);
  const totals = totalsRows(snapshot, grid);
  const notes: MarkNote[] = [];
  const columns = columnsOf(wish, headersOf(snapshot, grid), notes);
  const meanings = new Map<string, string>();
  const amounts: (number | null)[] = [];
  const marks: RowMark[] = [];
  const around: Box = { x: 0, y: 0, ...plan };
  for (const row of shownPlaces(snapshot).rows) {
    const cells = grid[row] ?? [];
    if (row < title + headed || totals.has(row) || !cells.some(isFilled)) continue;
    const key = columns.key === null ? '' : textIn(cells[columns.key]);
    if (key === '') {
      if (columns.key !== null) notes.push({ kind: 'no name', row: snapshot.area.top + row });
      continue;
    }
    const label = columns.labels.map((at) => (at === null ? '' : textIn(cells[at])));
    const coloured = columns.colour === null ? undefined : cells[columns.colour];
    amounts.push(amountIn(cells, key, wish, columns, notes));
    const byHand = Object.hasOwn(wish.places, key) ? wish.places[key]! : null;
    const place = byHand ?? placeIn(cells, key, wish.from, columns, notes);
    if (place && !isAt(place, around)) notes.push({ kind: 'outside', key });
    else if (!place && wish.from.kind === 'hand') notes.push({ kind: 'unplaced', key });
    marks.push({
      key,
      row,
      label: label.filter((text) => text !== ''),
      colour:
        wish.colours?.kind === 'source'
          ? colourOf(snapshot, coloured)
          : colourFor(meanings, textIn(coloured)),
      share: 1,
      place,
      isByHand: byHand !== null,
    });
  }
  sizeByAmounts(marks, amounts);
  // Where the column of names is gone nothing is known of any row.
  if (columns.key !== null) notes.push(...notesOfKeys(marks, wish));
  const colours = [...meanings].map(([text, colour]) => ({ text, colour }));
  return { marks, notes, colours };
}

const textIn = (cell: Cell | undefined): string => cell?.text.trim() ?? '';

/** Where the columns of a wish are in the area; null for one that is not there. */
interface MarkColumns {
  key: number | null;
  labels: (number | null)[];
  /** Those that a place is reckoned from. */
  measured: { header: string; at: number | null }[];
  colour: number | null;
  size: number | null;
}

/** Looks up the columns of a wish; each that is not there is told of once. */
function columnsOf(wish: MarkWish, headers: readonly string[], notes: MarkNote[]): MarkColumns {
  const missing = new Set<string>();
  const columnOf = (header: string): number | null => {
    const at = headers.indexOf(header);
    if (at >= 0) return at;
    if (!missing.has(header)) notes.push({ kind: 'column missing', column: header });
    missing.add(header);
    return null;
  };
  return {
    key: columnOf(wish.key),
    labels: wish.labels.map(columnOf),
    measured: measuredIn(wish.from).map((header) => ({ header, at: columnOf(header) })),
    colour: wish.colours ? columnOf(wish.colours.column) : null,
    size: wish.sizes ? columnOf(wish.sizes) : null,
  };
}

/** The columns that places are reckoned from. */
function measuredIn(from: MarkPlaces): string[] {
  if (from.kind === 'coordinates') return [from.x, from.y];
  if (from.kind === 'along') {
    return from.offset === null ? [from.chainage] : [from.chainage, from.offset];
  }
  return [];
}

/** The place of a row by its numbers; null where it has none, which is told of. */
function placeIn(
  cells: readonly (Cell | undefined)[],
  key: string,
  from: MarkPlaces,
  { measured }: MarkColumns,
  notes: MarkNote[],
): Point | null {
  if (from.kind === 'hand') return null;
  const numbers = measured.flatMap(({ header, at }) => {
    if (at === null) return [];
    const number = numberIn(cells[at]);
    if (number !== null) return [number * from.unit];
    notes.push({ kind: 'no number', key, column: header, text: cells[at]?.text ?? '' });
    return [];
  });
  if (numbers.length < measured.length) return null;
  const [a = 0, b = 0] = numbers;
  return from.kind === 'coordinates' ? { x: a, y: b } : placeAt(from.line, { along: a, beside: b });
}

/** The amount that a mark is as large as; null where sizes follow none, or where its cell has none, which is told of. */
function amountIn(
  cells: readonly (Cell | undefined)[],
  key: string,
  wish: MarkWish,
  { size }: MarkColumns,
  notes: MarkNote[],
): number | null {
  if (size === null) return null;
  const amount = numberIn(cells[size]);
  if (amount === null || amount < 0) {
    notes.push({ kind: 'no size', key, column: wish.sizes!, text: cells[size]?.text ?? '' });
  }
  return amount;
}

/** Areas go with amounts (common practice of proportional symbols), so sides go with their roots. Of none a point is left. */
function sizeByAmounts(marks: readonly RowMark[], amounts: readonly (number | null)[]): void {
  const most = Math.max(0, ...amounts.map((amount) => amount ?? 0));
  if (most === 0) return;
  for (const [at, mark] of marks.entries()) {
    const amount = amounts[at] ?? null;
    if (amount === null || amount < 0) continue;
    mark.share = Math.max(LEAST_SHARE, Math.sqrt(amount / most));
  }
}

/** Names that several rows have, and places that were set by hand for rows that are not there any more. */
function notesOfKeys(marks: readonly RowMark[], { places }: MarkWish): MarkNote[] {
  const counts = new Map<string, number>();
  for (const { key } of marks) counts.set(key, (counts.get(key) ?? 0) + 1);
  return [
    ...[...counts].flatMap(([key, count]): MarkNote[] =>
      count > 1 ? [{ kind: 'double', key, count }] : [],
    ),
    ...Object.keys(places).flatMap((key): MarkNote[] =>
      counts.has(key) ? [] : [{ kind: 'gone', key }],
    ),
  ];
}

/** What a colour of marks stands for. */
export interface ColourMeaning {
  text: string;
  colour: string;
}

/** A symbol is never smaller than this share of the largest: it could not be found. */
const LEAST_SHARE = 0.2;

/** The colour that texts of a column have: one each in the order in which they come. None for an empty cell. */
function colourFor(meanings: Map<string, string>, text: string): string | null {
  if (text === '') return null;
  const known = meanings.get(text);
  if (known) return known;
  const colour = chartColour(meanings.size);
  meanings.set(text, colour);
  return colour;
}

/** The colour that a cell has in its source: its ground unless that is white, else its letters; null where it has none. */
function colourOf(snapshot: Snapshot, cell: Cell | undefined): string | null {
  if (!cell) return null;
  const dress = cell.dress === undefined ? undefined : snapshot.dresses[cell.dress];
  const ground = cell.bar?.colour ?? dress?.fill;
  if (ground && ground.toUpperCase() !== '#FFFFFF') return ground;
  return cell.ink ?? dress?.letters.colour ?? null;
}

/** A number as it stands in a cell; null for everything else. A date is none, nor is a text that reads like a number. */
function numberIn(cell: Cell | undefined): number | null {
  return cell?.type === 'number' && typeof cell.value === 'number' && Number.isFinite(cell.value)
    ? cell.value
    : null;
}

function isAt({ x, y }: Point, { width, height }: Box): boolean {
  return x >= 0 && y >= 0 && x <= width && y <= height;
}

/** Marks that stand so near to each other that they cover one another, in groups of more than one; millimetres of the plan. */
export function marksOnOnePlace(marks: readonly RowMark[], within: number): RowMark[][] {
  const cells = new Map<string, RowMark[]>();
  for (const mark of marks) {
    if (!mark.place) continue;
    const name = `${Math.round(mark.place.x / within)} ${Math.round(mark.place.y / within)}`;
    cells.set(name, [...(cells.get(name) ?? []), mark]);
  }
  return [...cells.values()].filter((group) => group.length > 1);
}

/**
 * What to begin with for a table: its first column of texts names the rows; where a header says chainage or station, or x
 * and y, these columns are taken (common practice of schedules). `unit` by what the header says in brackets, else metres.
 */
export function suggestMarks(snapshot: Snapshot): Pick<MarkWish, 'key' | 'labels'> & {
  chainage: string | null;
  x: string | null;
  y: string | null;
  unit: number;
} {
  const grid = gridOf(snapshot);
  const headers = headersOf(snapshot, grid);
  const { title, rows } = headerOf(snapshot, grid);
  const body = grid.slice(title + rows);
  const isNames = (column: number) => body.some((row) => row[column]?.type === 'text');
  const first = headers.findIndex((header, column) => header !== '' && isNames(column));
  const key = headers[first] ?? headers.find((header) => header !== '') ?? '';
  const find = (pattern: RegExp) => headers.find((header) => pattern.test(header)) ?? null;
  const chainage = find(/^(chainage|station|ch\b)/i);
  const x = find(/^(x|easting)\b/i);
  const y = find(/^(y|northing)\b/i);
  return { key, labels: [key], chainage, x, y, unit: unitIn(chainage ?? x ?? '') };
}

/** Millimetres of the unit that a header says in brackets; metres where it says none. */
function unitIn(header: string): number {
  const unit = /[([]\s*(mm|cm|dm|m|km)\s*[)\]]/i.exec(header)?.[1]?.toLowerCase();
  return { mm: 1, cm: 10, dm: 100, m: 1000, km: 1e6 }[unit ?? 'm'] ?? 1000;
}

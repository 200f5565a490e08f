import type { Area } from '../sheet/address.ts';
import type { Cell } from '../sheet/sheet.ts';

/** Cells as another program puts them on the clipboard: rows of shown texts. */
export type PastedCells = readonly (readonly string[])[];

/** Where pasted cells stand on a sheet. */
export interface Placement {
  area: Area;
  /** How many places show the same, of how many where the one or the other shows anything. */
  same: number;
  of: number;
}

/** How sure it is that pasted cells come from where they were found. */
export type Sureness = 'sure' | 'likely' | 'perhaps';

/** Cells of one sheet or several; what is looked for has at most so many. */
export const MAX_PASTED_CELLS = 20_000;
/** Below this share of equal places nothing is offered. */
const LEAST_SHARE = 0.5;
/** Places at which the same text is looked at; one that stands everywhere says nothing. */
const MOST_PLACES = 400;
/** Pasted cells that vote for where the whole may stand: the rarest. */
const MOST_VOTERS = 1_500;
const MOST_CANDIDATES = 6;

type Value = Pick<Cell, 'type' | 'value' | 'text'>;

/** The keys under which a cell of a source is found: its shown text and, of a number, its value. */
export function keysOfCell({ type, value, text }: Value): string[] {
  const shown = plain(text);
  const keys = shown === '' ? [] : [shown];
  if (type === 'number') keys.push(numberKey(Number(value)));
  if (type === 'date' || type === 'boolean') keys.push(plain(String(value)));
  return [...new Set(keys)];
}

/** The keys under which a pasted text is looked for: itself and the numbers that it can mean. */
export function keysOfText(text: string): string[] {
  const shown = plain(text);
  if (shown === '') return [];
  return [...new Set([shown, ...numbersIn(shown).map(numberKey)])];
}

function plain(text: string): string {
  return text.normalize('NFKC').replace(/\s+/g, ' ').trim().toLowerCase();
}

function numberKey(value: number): string {
  // Twelve digits: what is pasted was shown, and binary fractions differ in the last ones.
  return `#${Number(value.toPrecision(12))}`;
}

/** The numbers that a shown text can mean: with a point or a comma as decimal sign, percent, brackets for less than zero. */
export function numbersIn(shown: string): number[] {
  const match =
    /^(\()?([-+−])?\s*[^\d\s.,+−-]{0,3}\s*([-+−])?([\d.,' ]*\d)\s*(%)?[^\d.,%)]{0,8}(\))?$/.exec(
      shown,
    );
  if (!match) return [];
  const digits = match[4]!.replace(/[' ]/g, '');
  const isLess =
    match[1] !== undefined || [match[2], match[3]].some((sign) => sign && sign !== '+');
  const found: number[] = [];
  for (const [decimal, group] of [
    ['.', ','],
    [',', '.'],
  ] as const) {
    const parts = digits.split(decimal);
    if (parts.length > 2) continue;
    const whole = parts[0]!.split(group);
    const isGrouped = whole.length === 1 || whole.slice(1).every((part) => part.length === 3);
    if (!isGrouped || parts[1]?.includes(group)) continue;
    const value = Number(`${whole.join('') || '0'}.${parts[1] ?? '0'}`);
    if (!Number.isFinite(value)) continue;
    found.push((isLess ? -value : value) / (match[5] ? 100 : 1));
  }
  return [...new Set(found)];
}

/**
 * A key as a number of 32 bits, for an index that need not keep the texts: FNV-1a over its UTF-16 units (IETF
 * draft-eastlake-fnv, with units in place of octets). Two keys can share one: what is found by it is looked at again.
 */
export function markOf(key: string): number {
  let hash = 0x811c9dc5;
  for (let at = 0; at < key.length; at++) {
    hash = Math.imul(hash ^ key.charCodeAt(at), 0x01000193);
  }
  return hash | 0;
}

/**
 * Where pasted cells stand among the cells of a sheet, the best first: the places where at least half of what either
 * side shows is the same. Each pasted cell votes for the places that would put it where the sheet shows the same; the
 * places with the most votes are compared cell by cell.
 */
export function findPasted(pasted: PastedCells, cells: readonly Cell[]): Placement[] {
  const height = pasted.length;
  const width = Math.max(0, ...pasted.map((row) => row.length));
  const byKey = new Map<string, Cell[]>();
  const byPlace = new Map<string, Cell>();
  for (const cell of cells) {
    if (cell.type === 'blank') continue;
    byPlace.set(`${cell.row},${cell.column}`, cell);
    for (const key of keysOfCell(cell)) {
      const known = byKey.get(key);
      if (known) known.push(cell);
      else byKey.set(key, [cell]);
    }
  }
  const voters: { row: number; column: number; places: Cell[] }[] = [];
  pasted.forEach((texts, row) => {
    texts.forEach((text, column) => {
      const places = new Set(keysOfText(text).flatMap((key) => byKey.get(key) ?? []));
      if (places.size > 0 && places.size <= MOST_PLACES) {
        voters.push({ row, column, places: [...places] });
      }
    });
  });
  voters.sort((a, b) => a.places.length - b.places.length);
  const votes = new Map<string, { top: number; left: number; count: number }>();
  for (const { row, column, places } of voters.slice(0, MOST_VOTERS)) {
    for (const place of places) {
      const [top, left] = [place.row - row, place.column - column];
      if (top < 1 || left < 1) continue;
      const key = `${top},${left}`;
      const known = votes.get(key);
      if (known) known.count++;
      else votes.set(key, { top, left, count: 1 });
    }
  }
  return [...votes.values()]
    .sort((a, b) => b.count - a.count || a.top - b.top || a.left - b.left)
    .slice(0, MOST_CANDIDATES)
    .map(({ top, left }) => compare(pasted, { top, left, height, width }, byPlace))
    .filter(({ same, of }) => of > 0 && same / of >= LEAST_SHARE)
    .sort((a, b) => b.same / b.of - a.same / a.of);
}

function compare(
  pasted: PastedCells,
  at: { top: number; left: number; height: number; width: number },
  byPlace: ReadonlyMap<string, Cell>,
): Placement {
  let [same, of] = [0, 0];
  for (let row = 0; row < at.height; row++) {
    for (let column = 0; column < at.width; column++) {
      const wanted = keysOfText(pasted[row]![column] ?? '');
      const cell = byPlace.get(`${at.top + row},${at.left + column}`);
      if (wanted.length === 0 && !cell) continue;
      of++;
      if (cell && keysOfCell(cell).some((key) => wanted.includes(key))) same++;
    }
  }
  const area = {
    top: at.top,
    left: at.left,
    bottom: at.top + at.height - 1,
    right: at.left + at.width - 1,
  };
  return { area, same, of };
}

/**
 * How sure a placement is: `sure` when every place is the same, there are at least four of them and nowhere else fits as
 * well; `likely` when four in five are the same and nothing else fits better; `perhaps` otherwise.
 */
export function surenessOf(placement: Placement, others: readonly Placement[]): Sureness {
  const share = placement.same / placement.of;
  const rival = Math.max(0, ...others.map(({ same, of }) => same / of));
  if (share === 1 && placement.of >= 4 && rival < 1) return 'sure';
  return share >= 0.8 && rival < share && placement.of >= 2 ? 'likely' : 'perhaps';
}

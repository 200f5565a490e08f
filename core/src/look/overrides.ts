import { headersOf } from '../sheet/header.ts';
import type { Cell, Snapshot } from '../sheet/sheet.ts';
import { gridOf } from '../sheet/sheet.ts';

/**
 * What identifies a row or column of a table: what stands in it and not its number, so that whatever is said of it stays
 * with it when rows are inserted, sorted or moved. Its neighbours are kept too, to know it by when its own text changes.
 */
export interface BandKey {
  /** Of a row its leading texts, of a column its header. */
  text: string;
  /** Which it is among those with the same text, from 0. */
  nth: number;
  /** Texts of its neighbours; null at the side of the table. */
  before: string | null;
  after: string | null;
}

/** What a person set for a part of a table. Absent means as it is without. */
export interface OverrideLook {
  align?: 'left' | 'center' | 'right' | undefined;
  bold?: boolean | undefined;
  italic?: boolean | undefined;
  /** Of the letters, `#RRGGBB`. */
  colour?: string | undefined;
  /** Behind them, `#RRGGBB`, or `none`. */
  fill?: string | undefined;
  /** Number format code. */
  format?: string | undefined;
  /** Of a column, in millimetres. */
  width?: number | undefined;
  /** Of a row, in millimetres. */
  height?: number | undefined;
  isHidden?: boolean | undefined;
}

/** Something set for a cell (row and column), a row, a column, or the whole table (neither). */
export interface Override {
  row: BandKey | null;
  column: BandKey | null;
  look: OverrideLook;
}

/** An override with the places it has in a snapshot now, as indices into its area; null for all of them. */
export interface PlacedOverride {
  override: Override;
  row: number | null;
  column: number | null;
}

type Grid = (Cell | undefined)[][];

/** The key of every row of a grid: its texts up to the first number, or its first text at all. */
export function rowKeys(grid: Grid): BandKey[] {
  return bandKeys(
    grid.map((row) => {
      const filled = row.filter((cell) => cell && cell.type !== 'blank') as Cell[];
      const end = filled.findIndex(({ type }) => type === 'number' || type === 'error');
      const leading = end < 0 ? filled : filled.slice(0, Math.max(1, end));
      return leading.map(({ text }) => text.trim()).join(' · ');
    }),
  );
}

/** The key of every column of a table: its header. Without headers columns are known by their order. */
export function columnKeys(snapshot: Snapshot, grid: Grid = gridOf(snapshot)): BandKey[] {
  return bandKeys(headersOf(snapshot, grid));
}

/** The keys of rows or columns that are known by these texts. */
export function bandKeys(texts: readonly string[]): BandKey[] {
  const seen = new Map<string, number>();
  return texts.map((text, at) => {
    const nth = seen.get(text) ?? 0;
    seen.set(text, nth + 1);
    return { text, nth, before: texts[at - 1] ?? null, after: texts[at + 1] ?? null };
  });
}

/**
 * Where a row or column stands among `keys` now, or null when it is not there: by its own text, among several with the
 * same text by the neighbours and then by their order; one whose text changed by both its neighbours.
 */
export function findBand(keys: readonly BandKey[], wanted: BandKey): number | null {
  const isBetween = ({ before, after }: BandKey) =>
    before === wanted.before && after === wanted.after;
  const same = keys.flatMap((key, at) => (key.text === wanted.text ? [at] : []));
  if (same.length === 1) return same[0]!;
  if (same.length > 1) {
    // Another that was given this text has other neighbours, one of them at least.
    const likeness = same.map(
      (at) => Number(keys[at]!.before === wanted.before) + Number(keys[at]!.after === wanted.after),
    );
    const best = Math.max(...likeness);
    const likest = same.filter((_, index) => likeness[index] === best);
    return likest.length === 1 ? likest[0]! : (same[wanted.nth] ?? null);
  }
  // What was set while no header was seen goes by the order.
  const isByOrder = [wanted.text, wanted.before, wanted.after].every((text) => !text);
  if (isByOrder) return wanted.nth < keys.length ? wanted.nth : null;
  const between = keys.flatMap((key, at) => (isBetween(key) ? [at] : []));
  return between.length === 1 ? between[0]! : null;
}

/** Whether two keys name the same row or column of one state of a table. */
export function isSameBand(a: BandKey | null, b: BandKey | null): boolean {
  return a === null || b === null ? a === b : a.text === b.text && a.nth === b.nth;
}

/**
 * Overrides with the places they have in `snapshot`, the general ones first: table, column, row, cell. Those whose row or
 * column is not there now are in `waiting`: they apply again when it comes back.
 */
export function placeOverrides(
  snapshot: Snapshot,
  overrides: readonly Override[],
): { placed: PlacedOverride[]; waiting: Override[] } {
  if (overrides.length === 0) return { placed: [], waiting: [] };
  const grid = gridOf(snapshot);
  const rows = rowKeys(grid);
  const columns = columnKeys(snapshot, grid);
  const placed: PlacedOverride[] = [];
  const waiting: Override[] = [];
  for (const override of overrides) {
    const row = override.row && findBand(rows, override.row);
    const column = override.column && findBand(columns, override.column);
    const isLost =
      (override.row !== null && row === null) || (override.column !== null && column === null);
    if (isLost) waiting.push(override);
    else placed.push({ override, row, column });
  }
  const rank = ({ row, column }: PlacedOverride) =>
    (row === null ? 0 : 2) + (column === null ? 0 : 1);
  return { placed: placed.sort((a, b) => rank(a) - rank(b)), waiting };
}

/** The overrides with `change` made to the one of this row and column; what is set to undefined goes back. */
export function setOverride(
  overrides: readonly Override[],
  row: BandKey | null,
  column: BandKey | null,
  change: OverrideLook,
): Override[] {
  const isIt = (each: Override) => isSameBand(each.row, row) && isSameBand(each.column, column);
  const before = overrides.find(isIt);
  const look = Object.fromEntries(
    Object.entries({ ...before?.look, ...change }).filter(([, value]) => value !== undefined),
  ) as OverrideLook;
  const others = overrides.filter((each) => !isIt(each));
  return Object.keys(look).length === 0 ? others : [...others, { row, column, look }];
}

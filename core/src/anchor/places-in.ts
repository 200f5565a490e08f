import { type Area, formatArea, MAX_COLUMNS, MAX_ROWS } from '../sheet/address.ts';
import { alignSheets, type SheetMatching } from './align-sheets.ts';
import type { KeyCounts } from './key-counts.ts';
import type { Matching } from './line-chain.ts';
import { APART, isSameName, type OwnLines, ownLines, type Place } from './place.ts';
import { rankOf } from './rank.ts';
import { type SheetPrint, within } from './sheet-print.ts';
import { windowsOf } from './windows.ts';

/** Where so much is found with what stands around the area, it is not looked for without. */
const SURELY = 0.9;

/** Less than this of its cells at a place is no place. */
const LEAST_CELLS = 0.2;

/** By how much a place with lines that nobody knows stands behind the same one without. */
const WIDER = 0.01;

/** The places in a sheet where the area may stand, one for each copy of it. */
export function placesIn(
  before: SheetPrint,
  area: Area,
  own: OwnLines,
  wanted: () => KeyCounts,
  sheet: SheetPrint,
  isItself: boolean,
): Place[] {
  const around = alignedOnce(before, sheet);
  const windows = windowsOf(sheet, wanted, own.filled);
  const places: Place[] = [];
  // Where there is one place only, what stands around the area helps to know its lines again.
  const whole = windows.length <= 1 ? placeOf(before, area, around, sheet) : null;
  if (whole) places.push(whole);
  if ((whole?.share ?? 0) < SURELY) {
    const alone = onlyWithin(before, area);
    for (const window of windows) {
      const part = onlyWithin(sheet, window);
      const place = placeOf(alone, area, alignSheets(alone, part), part);
      if (!place || place.share <= (whole?.share ?? 0)) continue;
      if (whole) places.splice(0, 1, place);
      else if (!places.some((each) => formatArea(each.area) === formatArea(place.area))) {
        places.push(place);
      }
    }
  }
  return places.flatMap((place) => {
    place.rank = rankOf(before, area, own, place, around, isItself);
    const wider = widened(own, place, sheet, around);
    const isWider = formatArea(wider) !== formatArea(place.area) && !isUnmoved(area, place);
    if (!isWider) return [place];
    // Whether what is new at its edge belongs to it, nothing says: both are offered. Where lines changed places, a new one may have
    // come between them first.
    place.isEdgeOpen = true;
    const isTaller = wider.top !== place.area.top || wider.bottom !== place.area.bottom;
    const { rows, columns } = place.matching;
    const isMixed = isReordered(isTaller ? rows : columns, place.own, isTaller);
    return [place, { ...place, area: wider, rank: place.rank + (isMixed ? WIDER : -WIDER) }];
  });
}

/** Whole sheets that were matched: many areas of a sheet are looked for one after the other. */
const aligned = new WeakMap<SheetPrint, WeakMap<SheetPrint, SheetMatching>>();

function alignedOnce(before: SheetPrint, after: SheetPrint): SheetMatching {
  const known = aligned.get(before) ?? new WeakMap<SheetPrint, SheetMatching>();
  aligned.set(before, known);
  const found = known.get(after) ?? alignSheets(before, after);
  known.set(after, found);
  return found;
}

/** A print of which only an area is left. */
function onlyWithin(print: SheetPrint, area: Area): SheetPrint {
  const [top, below] = within(print.rows, area.top, area.bottom);
  const [left, beside] = within(print.columns, area.left, area.right);
  const width = beside - left;
  const keys = new Uint32Array((below - top) * width);
  for (let row = top; row < below; row++) {
    const from = row * print.columns.length + left;
    keys.set(print.keys.subarray(from, from + width), (row - top) * width);
  }
  return {
    name: print.name,
    rows: print.rows.subarray(top, below),
    columns: print.columns.subarray(left, beside),
    keys,
  };
}

/** The place that a matching gives an area; null where too little of it is there. */
function placeOf(
  before: SheetPrint,
  area: Area,
  matching: SheetMatching,
  sheet: SheetPrint,
): Place | null {
  const own = ownLines(before, area);
  const rows = spanOf(matching.rows, own.top, own.below, sheet.rows, (i, j) =>
    sameInRow(before, sheet, own, matching, i, j),
  );
  const columns = spanOf(matching.columns, own.left, own.beside, sheet.columns, (column, other) =>
    sameInColumn(before, sheet, own, matching, column, other),
  );
  if (!rows || !columns) return null;
  const place = {
    ...(area.top === 1 && area.bottom === MAX_ROWS
      ? { top: 1, bottom: MAX_ROWS }
      : {
          top: edge(area.top, before.rows[own.top]!, rows.first),
          bottom: edge(area.bottom, before.rows[own.below - 1]!, rows.last),
        }),
    ...(area.left === 1 && area.right === MAX_COLUMNS
      ? { left: 1, right: MAX_COLUMNS }
      : {
          left: edge(area.left, before.columns[own.left]!, columns.first),
          right: edge(area.right, before.columns[own.beside - 1]!, columns.last),
        }),
  };
  let same = 0;
  for (let i = own.top; i < own.below; i++) {
    const j = matching.rows.to[i]!;
    if (j < 0 || sheet.rows[j]! < place.top || sheet.rows[j]! > place.bottom) continue;
    same += sameInRow(before, sheet, own, matching, i, j);
  }
  const share = same / own.filled;
  if (share < LEAST_CELLS) return null;
  return { before, own, sheet, area: place, matching, share, rank: 0, isEdgeOpen: false };
}

/** Whether each line of the area that is known again stands where it stood, and its edges too. */
export function isUnmoved(area: Area, { before, own, sheet, area: now, matching }: Place): boolean {
  const stay = (
    { to }: Matching,
    from: number,
    until: number,
    was: Int32Array,
    is: Int32Array,
  ): boolean => {
    for (let i = from; i < until; i++) {
      if (to[i]! >= 0 && is[to[i]!] !== was[i]) return false;
    }
    return true;
  };
  return (
    isSameName(sheet.name, before.name) &&
    formatArea(now) === formatArea(area) &&
    stay(matching.rows, own.top, own.below, before.rows, sheet.rows) &&
    stay(matching.columns, own.left, own.beside, before.columns, sheet.columns)
  );
}

function isReordered(
  { isMoved }: Matching,
  { top, below, left, beside }: OwnLines,
  isRows: boolean,
): boolean {
  const [from, until] = isRows ? [top, below] : [left, beside];
  return isMoved.subarray(from, until).includes(1);
}

/** A place with the lines at its edges that nobody knows: filled ones that were not beside the area before. */
function widened(own: OwnLines, { area }: Place, sheet: SheetPrint, around: SheetMatching): Area {
  const known = (
    { to }: Matching,
    from: number,
    until: number,
    numbers: Int32Array,
  ): Set<number> => {
    const lines = new Set<number>();
    for (let i = 0; i < to.length; i++) {
      if ((i < from || i >= until) && to[i]! >= 0) lines.add(numbers[to[i]!]!);
    }
    return lines;
  };
  const rows = known(around.rows, own.top, own.below, sheet.rows);
  const columns = known(around.columns, own.left, own.beside, sheet.columns);
  const wide = { ...area };
  const isFilled = (part: Area) => ownLines(sheet, part).filled > 0;
  const isNewRow = (row: number) =>
    row > 0 && !rows.has(row) && isFilled({ ...wide, top: row, bottom: row });
  const isNewColumn = (column: number) =>
    column > 0 && !columns.has(column) && isFilled({ ...wide, left: column, right: column });
  while (isNewRow(wide.bottom + 1)) wide.bottom++;
  while (isNewRow(wide.top - 1)) wide.top--;
  while (isNewColumn(wide.right + 1)) wide.right++;
  while (isNewColumn(wide.left - 1)) wide.left--;
  return wide;
}

/** Where an edge comes to lie: as far from the outermost line as it was. */
const edge = (was: number, line: number, now: number): number => Math.max(1, now + was - line);

function sameInRow(
  before: SheetPrint,
  after: SheetPrint,
  { left, beside }: OwnLines,
  { columns }: SheetMatching,
  i: number,
  j: number,
): number {
  let same = 0;
  for (let column = left; column < beside; column++) {
    const other = columns.to[column]!;
    const key = before.keys[i * before.columns.length + column]!;
    if (key !== 0 && other >= 0 && after.keys[j * after.columns.length + other] === key) same++;
  }
  return same;
}

function sameInColumn(
  before: SheetPrint,
  after: SheetPrint,
  { top, below }: OwnLines,
  { rows }: SheetMatching,
  column: number,
  other: number,
): number {
  let same = 0;
  for (let i = top; i < below; i++) {
    const key = before.keys[i * before.columns.length + column]!;
    const j = rows.to[i]!;
    if (key !== 0 && j >= 0 && after.keys[j * after.columns.length + other] === key) same++;
  }
  return same;
}

/**
 * The first and last line of those that belong together: single ones that went far away do not, nor do those at the ends that have
 * nothing in common with what they were, unless they stand right beside the others.
 */
function spanOf(
  { to }: Matching,
  from: number,
  until: number,
  numbers: Int32Array,
  weightOf: (before: number, after: number) => number,
): { first: number; last: number } | null {
  const lines: { at: number; weight: number }[] = [];
  for (let i = from; i < until; i++) {
    if (to[i]! >= 0) lines.push({ at: numbers[to[i]!]!, weight: weightOf(i, to[i]!) });
  }
  lines.sort((a, b) => a.at - b.at);
  while (lines.length > 1 && lines[0]!.weight === 0 && lines[1]!.at > lines[0]!.at + 1) {
    lines.shift();
  }
  while (
    lines.length > 1 &&
    lines.at(-1)!.weight === 0 &&
    lines.at(-2)!.at < lines.at(-1)!.at - 1
  ) {
    lines.pop();
  }
  const apart = APART + (until - from) / 2;
  const spans: { first: number; last: number; weight: number }[] = [];
  for (const { at, weight } of lines) {
    const span = spans.at(-1);
    if (span && at - span.last <= apart) {
      span.last = at;
      span.weight += weight;
    } else spans.push({ first: at, last: at, weight });
  }
  return spans.sort((a, b) => b.weight - a.weight)[0] ?? null;
}

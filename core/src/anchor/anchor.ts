import {
  type Area,
  formatArea,
  intersection,
  MAX_COLUMNS,
  MAX_ROWS,
  quoteSheet,
} from '../sheet/address.ts';
import { alignSheets, type SheetMatching } from './align-sheets.ts';
import { KeyCounts, Tally } from './key-counts.ts';
import type { Matching } from './line-chain.ts';
import { LineMap } from './line-map.ts';
import { isTextKey, type SheetPrint, within } from './sheet-print.ts';
import { tallied, windowsOf } from './windows.ts';

/** What became of the rows or columns of an area. */
export interface LinesFound {
  inserted: number;
  deleted: number;
  moved: number;
}

/** What speaks for a place, each from 0 to 1. */
export interface Evidence {
  /** Rows and columns that are found again. */
  rows: number;
  columns: number;
  /** Cells that hold the same. */
  cells: number;
  /** Words of the header that are the same. */
  header: number;
  /** How much less of it stands at the likest other place. */
  alone: number;
  /** Whether its first and last lines are known again, by which its edges are told. */
  edges: number;
}

/** Where an area of a sheet stands in another state of its file. */
export interface Anchor {
  sheet: string;
  area: Area;
  evidence: Evidence;
  /** From 0 to 1: as good as its weakest part. */
  confidence: number;
  /** Nothing is lost, the header is the same, and it stands at one place only. */
  isCertain: boolean;
  rows: LinesFound;
  columns: LinesFound;
  /** What was found, in words. */
  reasons: string[];
  /** Where any row or column of the sheet stands now. */
  map: { rows: LineMap; columns: LineMap };
}

/** Where so much is found with what stands around the area, it is not looked for without. */
const SURELY = 0.9;
/** A sheet that has less than this of what the area holds is not looked at. */
const LEAST_CONTENT = 0.2;
const MOST_SHEETS = 6;
/** Less than this of its cells at a place is no place. */
const LEAST_CELLS = 0.2;
/** Where more than this share of what stands at the best place stands elsewhere too, it is not certain. */
const SECOND_PLACE = 0.35;
/** Where less than this of the cells is the same, a person decides. */
const CERTAIN_CELLS = 0.5;
/** How far apart lines may come to stand that belong together: so many, and half as many as there are. */
const APART = 8;

/**
 * Where an area of a sheet stands in another state of its workbook, the best place first; none where it is not found. Rows and
 * columns are matched by what they hold (`alignSheets`), over the whole sheet, so that what stands around the area speaks too.
 * `namesBefore` are the names of all sheets that the workbook had: one that is new may be the sheet under another name.
 */
export function anchorsOf(
  before: SheetPrint,
  area: Area,
  after: readonly SheetPrint[],
  namesBefore: readonly string[] = [before.name],
): Anchor[] {
  const own = ownLines(before, area);
  if (own.filled === 0) return [];
  let counted: KeyCounts | null = null;
  const wanted = () => {
    counted ??= countKeys(before, own);
    return counted;
  };
  const isItself = itselfAmong(before.name, after, namesBefore);
  const sheets = after
    .map((sheet) => ({
      sheet,
      // Of a single sheet it need not be asked.
      content: after.length === 1 ? 1 : contentOf(wanted, sheet) / own.filled,
      isNamed: isItself(sheet.name),
    }))
    .filter(({ content, isNamed }) => content >= (isNamed ? LEAST_CELLS / 2 : LEAST_CONTENT))
    .sort((a, b) => Number(b.isNamed) - Number(a.isNamed) || b.content - a.content)
    .slice(0, MOST_SHEETS);
  const found = sheets.flatMap(({ sheet }) =>
    placesIn(before, area, own, wanted, sheet, isItself(sheet.name)),
  );
  const ranked = found.sort((a, b) => b.rank - a.rank);
  return ranked.map((place) => {
    const others = ranked.filter((each) => each.matching !== place.matching);
    const rival = Math.max(0, ...others.map(({ share }) => share));
    const elsewhere = elsewhereOf(wanted, own.filled, after, place) / own.filled;
    return anchorAt(area, place, rival, elsewhere);
  });
}

/** The lines of an area that hold something, by their places in the print: the first, and behind the last. */
interface OwnLines {
  top: number;
  below: number;
  left: number;
  beside: number;
  filled: number;
}

function ownLines({ rows, columns, keys }: SheetPrint, area: Area): OwnLines {
  let [top, below] = within(rows, area.top, area.bottom);
  let [left, beside] = within(columns, area.left, area.right);
  const width = columns.length;
  const isRowEmpty = (row: number) =>
    keys.subarray(row * width + left, row * width + beside).every((key) => key === 0);
  const isColumnEmpty = (column: number) => {
    for (let row = top; row < below; row++) if (keys[row * width + column] !== 0) return false;
    return true;
  };
  while (top < below && isRowEmpty(top)) top++;
  while (below > top && isRowEmpty(below - 1)) below--;
  while (left < beside && isColumnEmpty(left)) left++;
  while (beside > left && isColumnEmpty(beside - 1)) beside--;
  let filled = 0;
  for (let row = top; row < below; row++) {
    for (let column = left; column < beside; column++) {
      if (keys[row * width + column] !== 0) filled++;
    }
  }
  return { top, below, left, beside, filled };
}

function countKeys(print: SheetPrint, { top, below, left, beside, filled }: OwnLines): KeyCounts {
  const counts = new KeyCounts(filled);
  const width = print.columns.length;
  for (let row = top; row < below; row++) {
    for (let column = left; column < beside; column++) {
      const key = print.keys[row * width + column]!;
      if (key !== 0) counts.add(key);
    }
  }
  return counts;
}

/** How many of the wanted cells a sheet can hold, wherever. */
function contentOf(wanted: () => KeyCounts, { keys }: SheetPrint): number {
  const tally = new Tally(wanted());
  for (const key of keys) if (key !== 0) tally.add(key);
  return tally.found;
}

/** Which sheet is the one from before: that of its name, or, where there is none, any that was not there under its own name. */
function itselfAmong(
  name: string,
  after: readonly SheetPrint[],
  namesBefore: readonly string[],
): (name: string) => boolean {
  if (after.some((sheet) => isSameName(sheet.name, name))) return (each) => isSameName(each, name);
  return (each) => !namesBefore.some((other) => isSameName(other, each));
}

/** From how much more cells on a place is looked through for copies. */
const LARGER = 1.15;

/** How many of the wanted cells stand anywhere but at a place, or there once more. */
function elsewhereOf(
  wanted: () => KeyCounts,
  filled: number,
  sheets: readonly SheetPrint[],
  { sheet, area }: Place,
): number {
  let tally: Tally | null = null;
  for (const { name, rows, columns, keys } of sheets) {
    const isOwn = isSameName(name, sheet.name);
    const [left, beside] = within(columns, area.left, area.right);
    for (let row = 0; row < rows.length; row++) {
      const isBeside = !isOwn || rows[row]! < area.top || rows[row]! > area.bottom;
      const from = row * columns.length;
      for (let column = 0; column < columns.length; column++) {
        if (column === left && !isBeside) column = beside;
        const key = column < columns.length ? keys[from + column]! : 0;
        if (key === 0) continue;
        tally ??= new Tally(wanted());
        tally.add(key);
      }
    }
  }
  const there = ownLines(sheet, area).filled;
  // One that holds much more than the area did may hold a copy too.
  const twice = there > filled * LARGER ? tallied(sheet, area, wanted()).twice : 0;
  return (tally?.found ?? 0) + twice;
}

const isSameName = (a: string, b: string) => a.toLowerCase() === b.toLowerCase();

/** A place that the area may have. */
interface Place {
  /** The print in which it was matched, and its lines there. */
  before: SheetPrint;
  own: OwnLines;
  sheet: SheetPrint;
  area: Area;
  matching: SheetMatching;
  /** Share of the area's cells that hold the same there. */
  share: number;
  /** By which places are put in order. */
  rank: number;
  /** Whether there are lines at its edges of which nothing says whether they belong to it. */
  isEdgeOpen: boolean;
}

/** By how much a place with lines that nobody knows stands behind the same one without. */
const WIDER = 0.01;

/** The places in a sheet where the area may stand, one for each copy of it. */
function placesIn(
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
function isUnmoved(area: Area, { before, own, sheet, area: now, matching }: Place): boolean {
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

/** What puts one place before another: its content, its sheet's name, and that it stands as it stood to what is around it. */
function rankOf(
  before: SheetPrint,
  area: Area,
  own: OwnLines,
  { sheet, area: now, share }: Place,
  { rows }: SheetMatching,
  isItself: boolean,
): number {
  const [above, below] = [own.top - 1, own.below];
  const near = (i: number, edgeBefore: number, edgeNow: number) => {
    if (i < 0 || i >= before.rows.length || rows.to[i]! < 0) return 0;
    const [was, is] = [before.rows[i]! - edgeBefore, sheet.rows[rows.to[i]!]! - edgeNow];
    return was === is ? 1 : was < 0 === is < 0 && Math.abs(is) < Math.abs(was) + APART ? 0.5 : 0;
  };
  const moved = Math.abs(now.top - area.top) + Math.abs(now.left - area.left);
  return (
    share +
    (isItself ? 0.3 : 0) +
    0.4 * near(above, area.top, now.top) +
    0.2 * near(below, area.bottom, now.bottom) +
    (isItself ? 0.8 * sharedPlaces(area, now) : 0) +
    0.3 / (1 + moved / 10)
  );
}

/** How much two areas have in common, of all that either has. */
function sharedPlaces(a: Area, b: Area): number {
  const size = ({ top, bottom, left, right }: Area) => (bottom - top + 1) * (right - left + 1);
  const both = intersection(a, b);
  const common = both ? size(both) : 0;
  return common / (size(a) + size(b) - common);
}

function anchorAt(area: Area, place: Place, rival: number, elsewhere: number): Anchor {
  const { before, own, sheet, area: now, matching, share } = place;
  const rows = linesFound(matching.rows, own.top, own.below, sheet.rows, now.top, now.bottom);
  const columns = linesFound(
    matching.columns,
    own.left,
    own.beside,
    sheet.columns,
    now.left,
    now.right,
  );
  // A copy that was changed since is no second place, and still leaves a doubt.
  const other = Math.max(rival, elsewhere);
  const isAsWas = share === 1 && isUnmoved(area, place);
  const alone = isAsWas ? 1 : Math.max(0, 1 - other / Math.max(other, share));
  const header = headerShare(place);
  const evidence: Evidence = {
    rows: rows.kept / (own.below - own.top),
    columns: columns.kept / (own.beside - own.left),
    cells: share,
    header: header ?? 1,
    alone,
    edges: rows.isHeld && columns.isHeld && !place.isEdgeOpen ? 1 : 0.5,
  };
  const isCertain =
    evidence.rows === 1 &&
    evidence.columns === 1 &&
    evidence.header === 1 &&
    evidence.edges === 1 &&
    evidence.cells >= CERTAIN_CELLS &&
    evidence.alone >= 1 - SECOND_PLACE;
  const weakest = Math.min(
    evidence.rows,
    evidence.columns,
    evidence.header,
    evidence.edges,
    0.5 + evidence.cells / 2,
    0.5 + evidence.alone / 2,
  );
  const anchor: Anchor = {
    sheet: sheet.name,
    area: now,
    evidence,
    confidence: Math.round(weakest * 1_000) / 1_000,
    isCertain,
    rows: rows.found,
    columns: columns.found,
    reasons: [],
    map: {
      rows: new LineMap(matching.rows, before.rows, sheet.rows),
      columns: new LineMap(matching.columns, before.columns, sheet.columns),
    },
  };
  anchor.reasons = reasonsFor(before, area, anchor, other, header !== null);
  return anchor;
}

/** What became of the lines from one place to another. */
function linesFound(
  { to, isMoved }: Matching,
  from: number,
  until: number,
  numbers: Int32Array,
  first: number,
  last: number,
): { kept: number; isHeld: boolean; found: LinesFound } {
  const places: number[] = [];
  let [kept, moved] = [0, 0];
  for (let i = from; i < until; i++) {
    const at = to[i]! < 0 ? null : numbers[to[i]!]!;
    if (at === null || at < first || at > last) continue;
    places.push(at);
    kept++;
    if (isMoved[i]) moved++;
  }
  const span = last >= first ? within(numbers, first, last) : [0, 0];
  const there = span[1]! - span[0]!;
  const all = until - from;
  const outer = [from, until - 1].map((i) => (to[i]! < 0 ? null : numbers[to[i]!]!));
  const isHeld =
    kept === all || (outer[0] === Math.min(...places) && outer[1] === Math.max(...places));
  // Where all moved together none moved among the others.
  const among = moved === kept ? disordered(places) : moved;
  return {
    kept,
    isHeld,
    found: { inserted: there - kept, deleted: all - kept, moved: among },
  };
}

/** How many lines do not stand in rising order. */
function disordered(places: readonly number[]): number {
  let most = Number.NEGATIVE_INFINITY;
  let count = 0;
  for (const at of places) {
    if (at < most) count++;
    else most = at;
  }
  return count;
}

/** The share of a header's words that stand over the same columns; null where the area has no header. */
function headerShare({ before, own, matching, sheet }: Place): number | null {
  const width = before.columns.length;
  const words: number[] = [];
  for (let column = own.left; column < own.beside; column++) {
    const key = before.keys[own.top * width + column]!;
    if (key === 0) continue;
    if (!isTextKey(key)) return null;
    words.push(column);
  }
  if (words.length < 2 || own.below - own.top < 2) return null;
  const j = matching.rows.to[own.top]!;
  if (j < 0) return 0;
  const same = words.filter((column) => {
    const other = matching.columns.to[column]!;
    const key = before.keys[own.top * width + column];
    return other >= 0 && sheet.keys[j * sheet.columns.length + other] === key;
  });
  return same.length / words.length;
}

function reasonsFor(
  before: SheetPrint,
  area: Area,
  { sheet, area: now, evidence, rows, columns }: Anchor,
  rival: number,
  hasHeader: boolean,
): string[] {
  const reasons: string[] = [];
  if (sheet !== before.name) {
    reasons.push(`It stands on the sheet ${quoteSheet(sheet)}, not on ${quoteSheet(before.name)}.`);
  }
  if (formatArea(now) !== formatArea(area)) {
    reasons.push(`It stands at ${formatArea(now)}, not at ${formatArea(area)}.`);
  }
  for (const [one, found] of [
    ['row', rows],
    ['column', columns],
  ] as const) {
    const many = (count: number) => `${count} ${one}${count === 1 ? ' was' : 's were'}`;
    if (found.inserted > 0) reasons.push(`${many(found.inserted)} put in.`);
    if (found.deleted > 0) reasons.push(`${many(found.deleted)} not found again.`);
    if (found.moved > 0) reasons.push(`${many(found.moved)} put into another order.`);
  }
  const percent = (share: number) => `${Math.round(share * 100)} %`;
  reasons.push(`${percent(evidence.cells)} of its cells hold the same.`);
  if (hasHeader) {
    reasons.push(
      evidence.header === 1
        ? 'Its header is the same.'
        : 'Words of its header are other than before.',
    );
  }
  if (evidence.alone < 1 && rival > 0) {
    reasons.push(`${percent(rival)} of its cells stand elsewhere too.`);
  }
  if (evidence.edges < 1) reasons.push('Where it ends is not certain.');
  return reasons;
}

import { type Area, formatArea, quoteSheet } from '../sheet/address.ts';
import type { Anchor, Evidence, LinesFound } from './found.ts';
import type { Matching } from './line-chain.ts';
import { LineMap } from './line-map.ts';
import type { Place } from './place.ts';
import { isUnmoved } from './places-in.ts';
import { isTextKey, type SheetPrint, within } from './sheet-print.ts';

/** Where more than this share of what stands at the best place stands elsewhere too, it is not certain. */
const SECOND_PLACE = 0.35;

/** Where less than this of the cells is the same, a person decides. */
const CERTAIN_CELLS = 0.5;

/** How sure an edge is at which lines are missing or came in. */
const OPEN_EDGE = 0.5;

/** Cells that changed, and copies elsewhere, make no more than half unsure: lines and header say where it is. */
const halfSure = (share: number): number => 0.5 + share / 2;

/** A place with what speaks for it. `rival` and `elsewhere`: the shares of the next best places, on its sheets and on others. */
export function anchorAt(area: Area, place: Place, rival: number, elsewhere: number): Anchor {
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
    edges: rows.isHeld && columns.isHeld && !place.isEdgeOpen ? 1 : OPEN_EDGE,
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
    halfSure(evidence.cells),
    halfSure(evidence.alone),
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

import { choosePairs, type Matching, type Pairing } from './line-chain.ts';
import type { SheetPrint } from './sheet-print.ts';

/** How the rows and columns of one state of a sheet stand in another, by their places in the prints. */
export interface SheetMatching {
  rows: Matching;
  columns: Matching;
}

/** Keys of a row by which rows like it are looked for: its rarest ones. */
const RAREST = 6;
/** A key that stands in more rows than this says nothing of any of them. */
const MOST_ROWS = 24;
/** A key that stands in so few rows is rare. */
const RARE = 4;
/** Rows like one that are weighed. */
const MOST_LIKE = 4;
/** Rows that share less than this of what the one held before are not it. */
const LEAST_SHARED = 0.34;
/** Pairs of rows by which columns are matched. */
const MOST_SAMPLED = 2_000;
/** Rows of up to so many columns are compared column by column with each other. */
const FEW_COLUMNS = 40;

/**
 * Matches rows and columns of two states of a sheet by what they hold, wherever they stand: inserted, taken out, moved, sorted.
 * Rows first, whatever their columns; columns by the rows that were matched.
 */
export function alignSheets(before: SheetPrint, after: SheetPrint): SheetMatching {
  const rows = matchRows(before, after);
  const columns = matchColumns(before, after, rows);
  pairByPlace(rows, after.rows.length, (i, j) => sharedAt(before, after, i, j, columns.to) > 0);
  return { rows, columns };
}

/** Filled cells that are the same in a row before and one afterwards, column by matched column. */
function sharedAt(
  before: SheetPrint,
  after: SheetPrint,
  i: number,
  j: number,
  columns: Int32Array,
): number {
  let same = 0;
  const [from, to] = [i * before.columns.length, j * after.columns.length];
  for (let column = 0; column < columns.length; column++) {
    const key = before.keys[from + column]!;
    const other = columns[column]!;
    if (key !== 0 && other >= 0 && after.keys[to + other] === key) same++;
  }
  return same;
}

function matchRows(before: SheetPrint, after: SheetPrint): Matching {
  const [old, now] = [hashRows(before), hashRows(after)];
  const weigh = new Weights(before, after);
  const pairings: Pairing[] = [];
  const [onceOld, onceNow] = [onceOnly(old), onceOnly(now)];
  const isKnown = new Uint8Array(after.rows.length);
  const open: number[] = [];
  for (let i = 0; i < before.rows.length; i++) {
    const j = onceOld.get(old[i]!) === i ? (onceNow.get(old[i]!) ?? -1) : -1;
    if (j < 0) {
      open.push(i);
      continue;
    }
    pairings.push({ before: i, after: j, weight: weigh.row(before, i) });
    isKnown[j] = 1;
  }
  if (open.length > 0) {
    const index = new RowIndex(after, weigh, isKnown);
    for (const i of open) pairings.push(...likestRows(before, after, i, index, weigh));
  }
  return choosePairs(pairings, before.rows.length, after.rows.length);
}

/** A number for each row that is equal for equal rows, whatever empty columns lie between. */
function hashRows({ rows, columns, keys }: SheetPrint): Float64Array {
  const hashes = new Float64Array(rows.length);
  const width = columns.length;
  for (let row = 0; row < rows.length; row++) {
    let [low, high] = [0x811c9dc5, 0x01234567];
    for (let at = row * width; at < (row + 1) * width; at++) {
      const key = keys[at]!;
      if (key === 0) continue;
      low = Math.imul(low ^ key, 0x01000193);
      high = Math.imul(high + key, 0x85ebca6b) ^ (high >>> 13);
    }
    // 53 bits: rows that share one by chance are not met with.
    hashes[row] = (high & 0x1fffff) * 0x1_0000_0000 + (low >>> 0);
  }
  return hashes;
}

/** Where each number stands that is there once; -1 for one that is there more often. */
function onceOnly(hashes: Float64Array): Map<number, number> {
  const places = new Map<number, number>();
  for (let at = 0; at < hashes.length; at++) {
    places.set(hashes[at]!, places.has(hashes[at]!) ? -1 : at);
  }
  return places;
}

/** How often keys are met with, and what each says: less the oftener it is. */
class Weights {
  private readonly mask: number;
  private readonly now: Uint8Array;
  private readonly most: Uint8Array;

  constructor(before: SheetPrint, after: SheetPrint) {
    // Counted by a part of the key, in tables that are small enough to be fast: few keys share a place.
    let size = 4_096;
    while (size < 2 * Math.max(before.keys.length, after.keys.length) && size < 1 << 20) size *= 2;
    this.mask = size - 1;
    this.now = this.count(after.keys);
    this.most = this.count(before.keys);
    for (let at = 0; at < size; at++) this.most[at] = Math.max(this.most[at]!, this.now[at]!);
  }

  private count(keys: Uint32Array): Uint8Array {
    const counts = new Uint8Array(this.mask + 1);
    for (const key of keys) {
      const at = (key >>> 1) & this.mask;
      if (key !== 0 && counts[at]! < 255) counts[at]!++;
    }
    return counts;
  }

  /** In how many places of the later sheet a key stands, at most 255. */
  after(key: number): number {
    return this.now[(key >>> 1) & this.mask]!;
  }

  key(key: number): number {
    return BY_COUNT[this.most[(key >>> 1) & this.mask]!]!;
  }

  row({ columns, keys }: SheetPrint, row: number): number {
    let sum = 0;
    for (let at = row * columns.length; at < (row + 1) * columns.length; at++) {
      if (keys[at] !== 0) sum += this.key(keys[at]!);
    }
    return sum;
  }
}

const BY_COUNT = Float64Array.from(
  { length: 256 },
  (_, count) => 1 / (1 + Math.log2(Math.max(1, count))),
);

/** The rarest keys of a row that stand in the later sheet, at most so many, each once, the rarest first. */
function rarestOf({ columns, keys }: SheetPrint, row: number, weigh: Weights): number[] {
  const rarest: number[] = [];
  const counts: number[] = [];
  for (let at = row * columns.length; at < (row + 1) * columns.length; at++) {
    const key = keys[at]!;
    const count = key === 0 ? 0 : weigh.after(key);
    if (count === 0 || count > MOST_ROWS || rarest.includes(key)) continue;
    let place = rarest.length;
    while (place > 0 && counts[place - 1]! > count) place--;
    if (place >= RAREST) continue;
    rarest.splice(place, 0, key);
    counts.splice(place, 0, count);
    if (rarest.length > RAREST) {
      rarest.pop();
      counts.pop();
    }
  }
  return rarest;
}

/** Rows of a sheet by their keys, but for those that are known already. */
class RowIndex {
  private readonly mask: number;
  private readonly heads: Int32Array;
  private readonly next: Int32Array;
  private readonly keys: Uint32Array;
  private readonly rows: Int32Array;

  constructor(print: SheetPrint, weigh: Weights, isKnown: Uint8Array) {
    const width = print.columns.length;
    let size = 1_024;
    while (size < print.keys.length && size < 1 << 18) size *= 2;
    this.mask = size - 1;
    this.heads = new Int32Array(size).fill(-1);
    this.next = new Int32Array(print.keys.length);
    this.keys = new Uint32Array(print.keys.length);
    this.rows = new Int32Array(print.keys.length);
    let kept = 0;
    for (let row = 0; row < print.rows.length; row++) {
      if (isKnown[row]) continue;
      // Rare keys say enough where there are some.
      let rare = 0;
      for (let at = row * width; at < (row + 1) * width; at++) {
        if (print.keys[at] !== 0 && weigh.after(print.keys[at]!) <= RARE) rare++;
      }
      const most = rare >= RAREST ? RARE : MOST_ROWS;
      for (let at = row * width; at < (row + 1) * width; at++) {
        const key = print.keys[at]!;
        if (key === 0 || weigh.after(key) > most) continue;
        const slot = (key >>> 1) & this.mask;
        this.keys[kept] = key;
        this.rows[kept] = row;
        this.next[kept] = this.heads[slot]!;
        this.heads[slot] = kept++;
      }
    }
  }

  tell(key: number, tell: (row: number) => void): void {
    for (let at = this.heads[(key >>> 1) & this.mask]!; at >= 0; at = this.next[at]!) {
      if (this.keys[at] === key) tell(this.rows[at]!);
    }
  }
}

function likestRows(
  before: SheetPrint,
  after: SheetPrint,
  row: number,
  index: RowIndex,
  weigh: Weights,
): Pairing[] {
  const found: number[] = [];
  const votes: number[] = [];
  for (const key of rarestOf(before, row, weigh)) {
    const weight = weigh.key(key);
    index.tell(key, (place) => {
      const at = found.indexOf(place);
      if (at >= 0) votes[at]! += weight;
      else {
        found.push(place);
        votes.push(weight);
      }
    });
  }
  const order = [...found.keys()].sort(
    (a, b) => votes[b]! - votes[a]! || Math.abs(found[a]! - row) - Math.abs(found[b]! - row),
  );
  const own = before.keys.subarray(row * before.columns.length, (row + 1) * before.columns.length);
  let filled = 0;
  for (const key of own) if (key !== 0) filled++;
  const pairings: Pairing[] = [];
  for (const at of order.slice(0, MOST_LIKE)) {
    // Far behind the first one, it is not it.
    if (pairings.length > 0 && votes[at]! < votes[order[0]!]! / 3) break;
    const { shared, weight } = sharedOf(own, after, found[at]!, weigh);
    if (shared >= filled * LEAST_SHARED) pairings.push({ before: row, after: found[at]!, weight });
  }
  return pairings;
}

/** How much a row and another one hold alike, wherever in the row it stands. */
function sharedOf(
  own: Uint32Array,
  { columns, keys }: SheetPrint,
  row: number,
  weigh: Weights,
): { shared: number; weight: number } {
  const others = keys.subarray(row * columns.length, (row + 1) * columns.length);
  let [shared, weight] = [0, 0];
  if (own.length === others.length) {
    let filled = 0;
    for (let at = 0; at < own.length; at++) {
      if (own[at] === 0) continue;
      filled++;
      if (own[at] !== others[at]) continue;
      shared++;
      weight += weigh.key(own[at]!);
    }
    // Most often no column moved, and there is nothing else to find.
    if (shared >= filled / 2) return { shared, weight };
    [shared, weight] = [0, 0];
  }
  if (own.length * others.length <= FEW_COLUMNS * FEW_COLUMNS) {
    const isTaken = new Uint8Array(others.length);
    for (const key of own) {
      if (key === 0) continue;
      for (let at = 0; at < others.length; at++) {
        if (others[at] !== key || isTaken[at]) continue;
        isTaken[at] = 1;
        shared++;
        weight += weigh.key(key);
        break;
      }
    }
    return { shared, weight };
  }
  const left = new Map<number, number>();
  for (const key of own) if (key !== 0) left.set(key, (left.get(key) ?? 0) + 1);
  for (const key of others) {
    const many = left.get(key) ?? 0;
    if (many === 0) continue;
    left.set(key, many - 1);
    shared++;
    weight += weigh.key(key);
  }
  return { shared, weight };
}

function matchColumns(before: SheetPrint, after: SheetPrint, rows: Matching): Matching {
  const [oldWidth, newWidth] = [before.columns.length, after.columns.length];
  const pairs: number[] = [];
  for (let i = 0; i < rows.to.length; i++) if (rows.to[i]! >= 0) pairs.push(i);
  const step = Math.max(1, pairs.length / MOST_SAMPLED);
  const votes = new Map<number, number>();
  const vote = (column: number, other: number, weight: number) => {
    const key = column * newWidth + other;
    votes.set(key, (votes.get(key) ?? 0) + weight);
  };
  for (let at = 0; at < pairs.length; at += step) {
    const i = pairs[Math.floor(at)]!;
    voteInRow(before, after, i, rows.to[i]!, vote);
  }
  const pairings = [...votes].map(([key, weight]) => ({
    before: Math.floor(key / newWidth),
    after: key % newWidth,
    weight,
  }));
  const matching = choosePairs(pairings, oldWidth, newWidth);
  pairByPlace(matching, newWidth, () => false);
  return matching;
}

/** Each cell of a row votes for the columns in which the row holds the same afterwards. */
function voteInRow(
  before: SheetPrint,
  after: SheetPrint,
  i: number,
  j: number,
  vote: (column: number, other: number, weight: number) => void,
): void {
  const [from, to] = [i * before.columns.length, j * after.columns.length];
  const old = before.keys.subarray(from, from + before.columns.length);
  const now = after.keys.subarray(to, to + after.columns.length);
  if (old.length <= FEW_COLUMNS && now.length <= FEW_COLUMNS) {
    for (let column = 0; column < old.length; column++) {
      const key = old[column]!;
      if (key === 0) continue;
      let many = 0;
      for (const other of now) if (other === key) many++;
      if (many === 0) continue;
      for (let other = 0; other < now.length; other++) {
        if (now[other] === key) vote(column, other, 1 / many);
      }
    }
    return;
  }
  const places = new Map<number, number[]>();
  for (let other = 0; other < now.length; other++) {
    if (now[other] === 0) continue;
    const known = places.get(now[other]!);
    if (known) known.push(other);
    else places.set(now[other]!, [other]);
  }
  for (let column = 0; column < old.length; column++) {
    const found = places.get(old[column]!) ?? [];
    // A key that stands all over the row says nothing of one column.
    if (found.length > FEW_COLUMNS) continue;
    for (const other of found) vote(column, other, 1 / found.length);
  }
}

/**
 * Between two lines that were matched in order, lines that are left in equal numbers are the same ones with other content; of others
 * those for which `isLike` speaks, in their order.
 */
function pairByPlace(
  { to, isMoved }: Matching,
  countAfter: number,
  isLike: (before: number, after: number) => boolean,
): void {
  const isTaken = new Uint8Array(countAfter);
  for (const after of to) if (after >= 0) isTaken[after] = 1;
  let [last, lastAfter] = [-1, -1];
  for (let at = 0; at <= to.length; at++) {
    const isEnd = at === to.length;
    if (!isEnd && (to[at]! < 0 || isMoved[at])) continue;
    const next = isEnd ? countAfter : to[at]!;
    const gone: number[] = [];
    for (let i = last + 1; i < at; i++) if (to[i]! < 0) gone.push(i);
    const come: number[] = [];
    for (let j = lastAfter + 1; j < next; j++) if (!isTaken[j]) come.push(j);
    const isOpen = isEnd || last < 0;
    if (gone.length > 0 && gone.length === come.length && !isOpen) {
      for (const [nth, i] of gone.entries()) to[i] = come[nth]!;
    } else {
      let j = 0;
      for (const i of gone) {
        const found = come.findIndex((each, nth) => nth >= j && isLike(i, each));
        if (found < 0) continue;
        to[i] = come[found]!;
        j = found + 1;
      }
    }
    [last, lastAfter] = [at, next];
  }
}

/** One step of an alignment: a row kept (both), removed (`after` null) or inserted (`before` null); indexes from 0. */
export interface RowPair {
  before: number | null;
  after: number | null;
}

/** A row for aligning: one key for each cell (empty text for an empty cell) and the row's label. */
export interface AlignableRow {
  cells: readonly string[];
  label: string;
}

/** Rows x rows x columns up to which a stretch is compared row by row with every other. */
const THOROUGH = 4_000_000;
/** How alike two rows must be to count as the same row changed. */
const ALIKE = 0.5;
/** What an equal label is worth: enough to match on its own, less than half of equal cells on top. */
const SAME_LABEL = 0.6;

/**
 * Matches the rows of two versions of a table by what they hold, not by number, and keeps their order: an inserted row
 * reads as one inserted row, not as a change of everything below it.
 *
 * Rows that are equal and occur once on both sides anchor the match (longest increasing subsequence, as in patience
 * differencing); between anchors rows are paired so that the sum of their likeness is greatest; what is left over in
 * equal numbers and has no label of its own is paired by position.
 */
export function alignRows(
  before: readonly AlignableRow[],
  after: readonly AlignableRow[],
): RowPair[] {
  if (hasSameLabels(before, after)) return before.map((_, at) => ({ before: at, after: at }));
  const pairs: RowPair[] = [];
  const left = before.map(keyOf);
  const right = after.map(keyOf);
  // Built once, and only where they are needed: there can be thousands of gaps, and every one asks for them.
  let built: [string[], string[]] | null = null;
  const labels = () => {
    built ??= [before.map(labelOf), after.map(labelOf)];
    return built;
  };
  stretch(0, before.length, 0, after.length, 0);
  return pairs;

  function keep(i: number, j: number) {
    pairs.push({ before: i, after: j });
  }

  function dropAndInsert(b0: number, b1: number, a0: number, a1: number) {
    for (let i = b0; i < b1; i++) pairs.push({ before: i, after: null });
    for (let j = a0; j < a1; j++) pairs.push({ before: null, after: j });
  }

  /** Aligns before[b0, b1) with after[a0, a1). Round 0 anchors on whole rows, 1 on labels, 2 pairs what is left. */
  function stretch(b0: number, b1: number, a0: number, a1: number, round: 0 | 1 | 2) {
    while (b0 < b1 && a0 < a1 && left[b0] === right[a0]) keep(b0++, a0++);
    const tail: RowPair[] = [];
    while (b0 < b1 && a0 < a1 && left[b1 - 1] === right[a1 - 1]) {
      tail.push({ before: --b1, after: --a1 });
    }
    middle(b0, b1, a0, a1, round);
    for (const pair of tail.reverse()) pairs.push(pair);
  }

  function middle(b0: number, b1: number, a0: number, a1: number, round: 0 | 1 | 2) {
    if (b0 === b1 || a0 === a1) return dropAndInsert(b0, b1, a0, a1);
    if (round < 2) {
      const keys = round === 0 ? [left, right] : labels();
      const anchors =
        round === 1 && isSmall(b0, b1, a0, a1) ? [] : anchorsOf(keys[0]!, keys[1]!, b0, b1, a0, a1);
      const next = round === 0 && anchors.length > 0 ? 0 : ((round + 1) as 1 | 2);
      let [i, j] = [b0, a0];
      for (const [bi, aj] of anchors) {
        stretch(i, bi, j, aj, next);
        keep(bi, aj);
        [i, j] = [bi + 1, aj + 1];
      }
      return stretch(i, b1, j, a1, next);
    }
    const matched = hasSameLabels(before.slice(b0, b1), after.slice(a0, a1))
      ? Array.from({ length: b1 - b0 }, (_, n) => [b0 + n, a0 + n] as const)
      : isSmall(b0, b1, a0, a1)
        ? likestPairs(before, after, b0, b1, a0, a1)
        : [];
    let [i, j] = [b0, a0];
    for (const [bi, aj] of [...matched, [b1, a1] as const]) {
      leftover(i, bi, j, aj);
      if (bi < b1) keep(bi, aj);
      [i, j] = [bi + 1, aj + 1];
    }
  }

  function isSmall(b0: number, b1: number, a0: number, a1: number): boolean {
    return (b1 - b0) * (a1 - a0) * (before[b0]?.cells.length ?? 1) <= THOROUGH;
  }

  function leftover(b0: number, b1: number, a0: number, a1: number) {
    while (b0 < b1 && a0 < a1 && mayPairByPlace(before[b0]!, after[a0]!)) keep(b0++, a0++);
    dropAndInsert(b0, b1, a0, a1);
  }
}

/** Most often only figures changed: the same labels in the same order, each once, need no comparing of all rows. */
function hasSameLabels(before: readonly AlignableRow[], after: readonly AlignableRow[]): boolean {
  if (before.length !== after.length) return false;
  const seen = new Set<string>();
  return before.every(({ label }, at) => {
    if (label === '' || label !== after[at]!.label || seen.has(label)) return false;
    seen.add(label);
    return true;
  });
}

function keyOf(row: AlignableRow): string {
  return row.cells.join('\u0001');
}

function labelOf(row: AlignableRow): string {
  return row.label;
}

/**
 * Rows without text of their own can only be told apart by where they stand, and so can rows of one single cell: a new
 * text there reads best as that cell's change.
 */
function mayPairByPlace(a: AlignableRow, b: AlignableRow): boolean {
  const [filledA, filledB] = [a, b].map((row) => row.cells.filter((cell) => cell !== '').length);
  if (filledA === 1 && filledB === 1) return true;
  return a.label === '' && b.label === '' && filledA! + filledB! > 0;
}

/** Pairs of equal keys that occur once on either side, in an order that rises on both. */
function anchorsOf(
  left: readonly string[],
  right: readonly string[],
  b0: number,
  b1: number,
  a0: number,
  a1: number,
): [number, number][] {
  const inLeft = onceOnly(left, b0, b1);
  const inRight = onceOnly(right, a0, a1);
  const candidates: [number, number][] = [];
  for (const [key, i] of inLeft) {
    const j = inRight.get(key);
    if (j !== undefined && key !== '') candidates.push([i, j]);
  }
  candidates.sort((x, y) => x[0] - y[0]);
  return longestRising(candidates);
}

function onceOnly(keys: readonly string[], from: number, to: number): Map<string, number> {
  const seen = new Map<string, number>();
  const repeated = new Set<string>();
  for (let i = from; i < to; i++) {
    const key = keys[i]!;
    if (seen.has(key)) repeated.add(key);
    else seen.set(key, i);
  }
  for (const key of repeated) seen.delete(key);
  return seen;
}

/** Longest subsequence whose second members rise (patience sorting, O(n log n)). */
function longestRising(pairs: [number, number][]): [number, number][] {
  const tops: number[] = [];
  const previous = new Array<number>(pairs.length).fill(-1);
  for (let k = 0; k < pairs.length; k++) {
    const value = pairs[k]![1];
    let [low, high] = [0, tops.length];
    while (low < high) {
      const mid = (low + high) >> 1;
      if (pairs[tops[mid]!]![1] < value) low = mid + 1;
      else high = mid;
    }
    if (low > 0) previous[k] = tops[low - 1]!;
    tops[low] = k;
  }
  const rising: [number, number][] = [];
  for (let k = tops.at(-1) ?? -1; k >= 0; k = previous[k]!) rising.push(pairs[k]!);
  return rising.reverse();
}

/** A row whose keys are numbers, equal for equal texts and 0 for empty ones: numbers are compared at once. */
interface NumberedRow {
  cells: Uint32Array;
  label: number;
  filled: number;
}

function numberRows(rows: readonly AlignableRow[], numbers: Map<string, number>): NumberedRow[] {
  const numberOf = (key: string) => {
    const known = numbers.get(key);
    if (known !== undefined) return known;
    numbers.set(key, numbers.size);
    return numbers.size - 1;
  };
  return rows.map(({ cells, label }) => {
    const numbered = Uint32Array.from(cells, numberOf);
    return {
      cells: numbered,
      label: numberOf(label),
      filled: numbered.reduce((sum, key) => sum + (key === 0 ? 0 : 1), 0),
    };
  });
}

/** How alike two rows are: the share of their filled cells that are equal, more when their labels are; 0 to 1.6. */
function likeness(a: NumberedRow, b: NumberedRow): number {
  let equal = 0;
  const width = Math.min(a.cells.length, b.cells.length);
  for (let column = 0; column < width; column++) {
    const key = a.cells[column]!;
    if (key !== 0 && key === b.cells[column]) equal++;
  }
  const filled = Math.max(a.filled, b.filled);
  const share = filled === 0 ? 0 : equal / filled;
  return share + (a.label !== 0 && a.label === b.label ? SAME_LABEL : 0);
}

/** Order-keeping pairs with the greatest sum of likeness (the alignment recurrence of Needleman and Wunsch). */
function likestPairs(
  before: readonly AlignableRow[],
  after: readonly AlignableRow[],
  b0: number,
  b1: number,
  a0: number,
  a1: number,
): [number, number][] {
  const rows = b1 - b0;
  const columns = a1 - a0;
  const stride = columns + 1;
  const numbers = new Map([['', 0]]);
  const left = numberRows(before.slice(b0, b1), numbers);
  const right = numberRows(after.slice(a0, a1), numbers);
  const best = new Float64Array((rows + 1) * stride);
  const paired = new Uint8Array((rows + 1) * stride);
  for (let i = rows - 1; i >= 0; i--) {
    for (let j = columns - 1; j >= 0; j--) {
      const at = i * stride + j;
      const skip = Math.max(best[at + stride]!, best[at + 1]!);
      const like = likeness(left[i]!, right[j]!);
      const match = like >= ALIKE ? like + best[at + stride + 1]! : -1;
      best[at] = Math.max(skip, match);
      paired[at] = match >= skip && match >= 0 ? 1 : 0;
    }
  }
  const pairs: [number, number][] = [];
  for (let i = 0, j = 0; i < rows && j < columns; ) {
    const at = i * stride + j;
    if (paired[at]) pairs.push([b0 + i++, a0 + j++]);
    else if (best[at + stride]! >= best[at + 1]!) i++;
    else j++;
  }
  return pairs;
}

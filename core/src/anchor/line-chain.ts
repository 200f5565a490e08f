/** A row or column before that may be one afterwards, by their places, and how much speaks for it. */
export interface Pairing {
  before: number;
  after: number;
  weight: number;
}

/** Which line a line is afterwards, by place; -1 for none. */
export interface Matching {
  to: Int32Array;
  /** 1 for a line that stands elsewhere among the others. */
  isMoved: Uint8Array;
}

/**
 * Chooses among pairings: first those that keep their order and for which most speaks together (the heaviest rising
 * subsequence, by a tree of prefix maxima: Fenwick, "A New Data Structure for Cumulative Frequency Tables", 1994), then, for
 * lines that are left on both sides, the likest ones elsewhere, of equal ones the nearest to where it would be expected.
 */
export function choosePairs(
  pairings: readonly Pairing[],
  countBefore: number,
  countAfter: number,
): Matching {
  const to = new Int32Array(countBefore).fill(-1);
  const isMoved = new Uint8Array(countBefore);
  const isTaken = new Uint8Array(countAfter);
  for (const { before, after } of heaviestRising(pairings, countAfter)) {
    to[before] = after;
    isTaken[after] = 1;
  }
  const left = pairings.filter(({ before, after }) => to[before]! < 0 && !isTaken[after]);
  if (left.length === 0) return { to, isMoved };
  const expected = expectedPlaces(to);
  const ranked = left
    .map((each) => ({ ...each, away: Math.abs(each.after - expected[each.before]!) }))
    .sort((a, b) => b.weight - a.weight || a.away - b.away);
  for (const { before, after } of ranked) {
    if (to[before]! >= 0 || isTaken[after]) continue;
    to[before] = after;
    isTaken[after] = 1;
    isMoved[before] = 1;
  }
  return { to, isMoved };
}

/** Where each line would stand, going on from the chosen one before it. */
function expectedPlaces(to: Int32Array): Int32Array {
  const expected = new Int32Array(to.length);
  let by = 0;
  for (let at = 0; at < to.length; at++) {
    if (to[at]! >= 0) by = to[at]! - at;
    expected[at] = at + by;
  }
  return expected;
}

/** Of equal weight that which moves least. */
const NEARNESS = 1e-7;

/** Pairings by their line before; of one line, since at most one of them may be in the chain, those with larger places first. */
function inOrder(pairings: readonly Pairing[]): number[] {
  const order = [...pairings.keys()];
  const isSorted = pairings.every(({ before, after }, at) => {
    const last = pairings[at - 1];
    return !last || last.before < before || (last.before === before && last.after >= after);
  });
  if (isSorted) return order;
  return order.sort((a, b) => {
    const [one, other] = [pairings[a]!, pairings[b]!];
    return one.before - other.before || other.after - one.after;
  });
}

function heaviestRising(pairings: readonly Pairing[], countAfter: number): Pairing[] {
  const order = inOrder(pairings);
  const best = new Float64Array(countAfter + 1);
  const bestAt = new Int32Array(countAfter + 1).fill(-1);
  const previous = new Int32Array(pairings.length).fill(-1);
  let [top, last] = [0, -1];
  for (const index of order) {
    const { before, after, weight } = pairings[index]!;
    let [sum, from] = [0, -1];
    for (let at = after; at > 0; at -= at & -at) {
      if (best[at]! > sum) [sum, from] = [best[at]!, bestAt[at]!];
    }
    previous[index] = from;
    sum += weight - NEARNESS * Math.abs(after - before);
    for (let at = after + 1; at <= countAfter; at += at & -at) {
      if (sum > best[at]!) {
        best[at] = sum;
        bestAt[at] = index;
      }
    }
    if (sum > top) [top, last] = [sum, index];
  }
  const chain: Pairing[] = [];
  for (let at = last; at >= 0; at = previous[at]!) chain.push(pairings[at]!);
  return chain.reverse();
}

import { constants, deflateRawSync } from 'node:zlib';

/**
 * A part that changed in a few places, packed anew only around them: the blocks of the old stream (DEFLATE, RFC 1951) before and
 * behind the change are taken over bit by bit, so that the part stays as small as it was. What is packed anew goes on for 32 KB behind
 * the change, since later blocks may copy from so far back (RFC 1951, 2). Null where that is not possible or does not help: the
 * stream is not as it should be, or the changes lie far apart. What lies behind is not looked at: a block there that is stored as it
 * is would have to begin at a whole byte, and the stream is broken then. Whoever uses it unpacks it once.
 */
export function spliceDeflate(packed: Buffer, before: Buffer, after: Buffer): Buffer | null {
  const same = commonEnds(before, after);
  const changedTo = before.length - same.end;
  const starts = blocksUntil(packed, changedTo + WINDOW);
  if (!starts) return null;
  // The last block that begins before the change.
  let first = 0;
  while (first + 1 < starts.length && starts[first + 1]!.out <= same.start) first++;
  let next = first + 1;
  while (next < starts.length && starts[next]!.out < changedTo + WINDOW) next++;
  const from = starts[first]!;
  const to = starts[next];
  const until = to ? to.out + after.length - before.length : after.length;
  const middle = after.subarray(from.out, until);
  if (middle.length > MOST_ANEW) return null;
  const fresh = deflateRawSync(middle, to ? { finishFlush: constants.Z_SYNC_FLUSH } : {});
  const head = aligned(packed, from.bit);
  return to ? Buffer.concat([head, fresh, shifted(packed, to.bit)]) : Buffer.concat([head, fresh]);
}

const WINDOW = 32_768;
/** Changes that lie farther apart are packed faster as a whole, quickly. */
const MOST_ANEW = 8 << 20;

interface BlockStart {
  /** Where it begins, in bits of the stream, and in bytes of what comes out. */
  bit: number;
  out: number;
}

/** The bits of a stream up to a block, ended by an empty stored block, behind which a whole byte begins (RFC 1951, 3.2.4). */
function aligned(packed: Buffer, bit: number): Buffer {
  const whole = bit >> 3;
  const rest = bit & 7;
  // Three bits of its head are zero, as is what fills the byte: a head may need a byte more.
  const size = Math.ceil((rest + 3) / 8);
  const end = Buffer.alloc(size + 4);
  if (rest > 0) end[0] = packed[whole]! & ((1 << rest) - 1);
  end.writeUInt16LE(0xffff, size + 2);
  return Buffer.concat([packed.subarray(0, whole), end]);
}

/** The bits of a stream from a block on, beginning at a whole byte. */
function shifted(packed: Buffer, bit: number): Buffer {
  const from = bit >> 3;
  const by = bit & 7;
  if (by === 0) return packed.subarray(from);
  const made = Buffer.alloc(packed.length - from);
  for (let at = 0; at < made.length; at++) {
    made[at] = (packed[from + at]! >> by) | ((packed[from + at + 1] ?? 0) << (8 - by));
  }
  return made;
}

/** How many bytes are the same at both ends. */
function commonEnds(a: Buffer, b: Buffer): { start: number; end: number } {
  const shorter = Math.min(a.length, b.length);
  const PIECE = 65_536;
  let start = 0;
  while (start + PIECE <= shorter && a.compare(b, start, start + PIECE, start, start + PIECE) === 0)
    start += PIECE;
  while (start < shorter && a[start] === b[start]) start++;
  let end = 0;
  const most = shorter - start;
  while (end + PIECE <= most) {
    const [i, j] = [a.length - end, b.length - end];
    if (a.compare(b, j - PIECE, j, i - PIECE, i) !== 0) break;
    end += PIECE;
  }
  while (end < most && a[a.length - 1 - end] === b[b.length - 1 - end]) end++;
  return { start, end };
}

/** Lengths and distances: where each code begins, and how many bits say more (RFC 1951, 3.2.5). */
const LENGTH_BASE = Uint16Array.of(
  ...[3, 4, 5, 6, 7, 8, 9, 10, 11, 13, 15, 17, 19, 23, 27, 31, 35, 43, 51, 59, 67, 83, 99, 115],
  ...[131, 163, 195, 227, 258],
);
const LENGTH_EXTRA = Uint8Array.of(
  ...[0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 2, 2, 2, 2, 3, 3, 3, 3, 4, 4, 4, 4, 5, 5, 5, 5, 0],
);
/** In which order the lengths of the codes of codes are said (3.2.7). */
const ORDER = [16, 17, 18, 0, 8, 7, 9, 6, 10, 5, 11, 4, 12, 3, 13, 2, 14, 1, 15];
const LONGEST_CODE = 15;
const END_OF_BLOCK = 256;

/**
 * Where the blocks of a stream begin, as far as the first one before which so many bytes come out, or all; null for one that is not as
 * it should be.
 */
function blocksUntil(packed: Buffer, enough: number): BlockStart[] | null {
  const starts: BlockStart[] = [];
  const literals = new Uint16Array(1 << LONGEST_CODE);
  const distances = new Uint16Array(1 << LONGEST_CODE);
  let at = 0;
  let held = 0;
  let count = 0;
  let out = 0;
  const bits = (many: number): number => {
    while (count < many) {
      held |= (packed[at++] ?? 0) << count;
      count += 8;
    }
    const value = held & ((1 << many) - 1);
    held >>>= many;
    count -= many;
    return value;
  };
  for (;;) {
    if (at - (count >> 3) > packed.length) return null;
    const bit = at * 8 - count;
    const isLast = bits(1);
    const kind = bits(2);
    starts.push({ bit, out });
    if (out >= enough) return starts;
    if (kind === 0) {
      at -= count >> 3;
      held = count = 0;
      const length = (packed[at] ?? 0) | ((packed[at + 1] ?? 0) << 8);
      at += 4 + length;
      out += length;
    } else if (kind === 3) return null;
    else {
      const masks = kind === 1 ? fixed(literals, distances) : dynamic(bits, literals, distances);
      if (!masks) return null;
      const { literals: forLiterals, distances: forDistances } = masks;
      // The longest part of all: names are taken out of the closure, and nothing is called.
      let [position, buffer, have, made] = [at, held, count, out];
      const end = packed.length + 8;
      for (;;) {
        while (have < LONGEST_CODE) {
          buffer |= packed[position++]! << have;
          have += 8;
        }
        const code = literals[buffer & forLiterals]!;
        const size = code & 15;
        if (size === 0 || position > end) return null;
        buffer >>>= size;
        have -= size;
        const symbol = code >> 4;
        if (symbol < END_OF_BLOCK) {
          made++;
          continue;
        }
        if (symbol === END_OF_BLOCK) break;
        const which = symbol - 257;
        if (which >= LENGTH_BASE.length) return null;
        const more = LENGTH_EXTRA[which]!;
        while (have < more) {
          buffer |= packed[position++]! << have;
          have += 8;
        }
        made += LENGTH_BASE[which]! + (buffer & ((1 << more) - 1));
        buffer >>>= more;
        have -= more;
        while (have < LONGEST_CODE) {
          buffer |= packed[position++]! << have;
          have += 8;
        }
        const distance = distances[buffer & forDistances]!;
        const wide = distance & 15;
        if (wide === 0) return null;
        buffer >>>= wide;
        have -= wide;
        const which2 = distance >> 4;
        // How far back does not matter here: two codes share a number of further bits.
        const extra = which2 < 2 ? 0 : (which2 >> 1) - 1;
        while (have < extra) {
          buffer |= packed[position++]! << have;
          have += 8;
        }
        buffer >>>= extra;
        have -= extra;
      }
      [at, held, count, out] = [position, buffer, have, made];
    }
    if (isLast) break;
  }
  return at - (count >> 3) > packed.length ? null : starts;
}

/**
 * Fills a table that gives, for the next bits, the symbol and how long its code is (3.2.2); gives which bits it looks at, 0 where the
 * codes are none. It is no larger than the longest code needs: short blocks have many tables.
 */
function fill(table: Uint16Array, lengths: ArrayLike<number>, many: number): number {
  let longest = 1;
  for (let symbol = 0; symbol < many; symbol++) longest = Math.max(longest, lengths[symbol]!);
  const mask = (1 << longest) - 1;
  table.fill(0, 0, mask + 1);
  const counts = new Uint16Array(LONGEST_CODE + 1);
  for (let symbol = 0; symbol < many; symbol++) counts[lengths[symbol]!]!++;
  counts[0] = 0;
  const next = new Uint32Array(LONGEST_CODE + 2);
  let code = 0;
  for (let size = 1; size <= LONGEST_CODE; size++) {
    code = (code + counts[size - 1]!) << 1;
    next[size] = code;
  }
  for (let symbol = 0; symbol < many; symbol++) {
    const size = lengths[symbol]!;
    if (size === 0) continue;
    const own = next[size]!++;
    if (own >= 1 << size) return 0;
    let turned = 0;
    for (let bit = 0; bit < size; bit++) turned |= ((own >> bit) & 1) << (size - 1 - bit);
    for (let place = turned; place <= mask; place += 1 << size) table[place] = (symbol << 4) | size;
  }
  return mask;
}

/** Which bits the tables of a block look at. */
interface Masks {
  literals: number;
  distances: number;
}

const masksOf = (literals: number, distances: number): Masks | null =>
  literals > 0 && distances > 0 ? { literals, distances } : null;

function fixed(literals: Uint16Array, distances: Uint16Array): Masks | null {
  const lengths = Uint8Array.from({ length: 288 }, (_, symbol) =>
    symbol < 144 ? 8 : symbol < 256 ? 9 : symbol < 280 ? 7 : 8,
  );
  return masksOf(fill(literals, lengths, 288), fill(distances, new Uint8Array(30).fill(5), 30));
}

function dynamic(
  bits: (many: number) => number,
  literals: Uint16Array,
  distances: Uint16Array,
): Masks | null {
  const [forLiterals, forDistances, forCodes] = [bits(5) + 257, bits(5) + 1, bits(4) + 4];
  if (forLiterals > 286 || forDistances > 30) return null;
  const own = new Uint8Array(19);
  for (let nth = 0; nth < forCodes; nth++) own[ORDER[nth]!] = bits(3);
  // Codes of codes have seven bits at most.
  const codes = new Uint16Array(128);
  const mask = fill(codes, own, 19);
  if (mask === 0) return null;
  const lengths = new Uint8Array(forLiterals + forDistances);
  for (let at = 0; at < lengths.length; ) {
    // Bit by bit, so that none behind is taken.
    let [code, size] = [0, 0];
    for (;;) {
      code |= bits(1) << size;
      size++;
      if (size > 7) return null;
      const found = codes[code & mask]!;
      if ((found & 15) === size) {
        const symbol = found >> 4;
        if (symbol < 16) lengths[at++] = symbol;
        else {
          if (symbol === 16 && at === 0) return null;
          const value = symbol === 16 ? lengths[at - 1]! : 0;
          const many = symbol === 16 ? 3 + bits(2) : symbol === 17 ? 3 + bits(3) : 11 + bits(7);
          if (at + many > lengths.length) return null;
          lengths.fill(value, at, at + many);
          at += many;
        }
        break;
      }
    }
  }
  return masksOf(
    fill(literals, lengths.subarray(0, forLiterals), forLiterals),
    fill(distances, lengths.subarray(forLiterals), forDistances),
  );
}

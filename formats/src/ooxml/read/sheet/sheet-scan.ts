/** What the scan meets in a sheet part that only a full XML parser may read: comments, CDATA, prefixes, odd encodings. */
export class OddSheet extends Error {}

/** What a sheet scan calls back, cell by cell in the order of the file. */
export interface SheetVisitor {
  /** First and last row that is wanted; rows before are jumped over, the scan ends behind. */
  top: number;
  bottom: number;
  /** What was seen so far does not count: the sheet is read anew from its beginning. */
  restart(): void;
  /** A row begins that says something about its height or hides; the values as written. */
  row?(row: number, height: string | undefined, hidden: string | undefined): void;
  /**
   * A cell: its place, style index, type as the file names it (`n` when it says nothing), its value as text (null when
   * it has none), its formula element's content (null without) and, where the formula is shared with other cells, the
   * number of that sharing (ECMA-376 Part 1, 18.3.1.40). Values are as written, entities resolved.
   */
  cell(
    row: number,
    column: number,
    style: number,
    type: string,
    value: string | number | null,
    formula: string | null,
    shared: number | null,
  ): void;
}

const LT = 0x3c;
const GT = 0x3e;
const SLASH = 0x2f;
const QUOTE = 0x22;
const APOSTROPHE = 0x27;
const BANG = 0x21;
const EQUALS = 0x3d;
const AMPERSAND = 0x26;
const ROW = Buffer.from('<row');
const END_OF_DATA = Buffer.from('</sheetData');
const END_OF_ROW = Buffer.from('</row>');
const DATA = Buffer.from('<sheetData');

/** How far in the part must the data begin: what stands before are views, formats and columns. */
const MAX_HEAD = 4 << 20;

/**
 * Scans a worksheet part byte by byte as its pieces arrive, without building a tree: some ten times faster than an
 * event parser. It reads what programs write; at anything else it throws `OddSheet`, and the part is then read with the
 * event parser, which is slower and takes everything that is legal.
 */
export class SheetScan {
  private rest: Buffer = Buffer.alloc(0);
  private phase: 'head' | 'rows' | 'tail' = 'head';
  private rowNumber = 0;
  /** An earlier scan has found nothing in these bytes that this one may not read. */
  private isLookedOver = false;
  /** Everything in front of the data, and behind it when the scan went that far. */
  head = '';
  private readonly tailPieces: Buffer[] = [];

  constructor(
    private readonly visitor: SheetVisitor,
    /** Go on behind the wanted rows until the part ends, for what stands behind the data. */
    private readonly withTail: boolean,
  ) {}

  /** Where in its piece the last row that was read or passed over ended, and its number: for going on from there. */
  passed = { row: 0, at: 0 };

  /** Begins behind a row that an earlier scan of the same bytes has passed. */
  static after(visitor: SheetVisitor, row: number): SheetScan {
    const scan = new SheetScan(visitor, false);
    scan.phase = 'rows';
    scan.rowNumber = row;
    scan.isLookedOver = true;
    return scan;
  }

  /** Whether the data were found and, where the scan went to its end, came to their end. */
  get isComplete(): boolean {
    return this.phase === 'tail' || (this.phase === 'rows' && !this.withTail);
  }

  /** What stands behind the data: merged cells, conditional formats and so on, with the root's end. */
  get tail(): string {
    return Buffer.concat(this.tailPieces).toString('utf8');
  }

  /** Takes the next piece; false when nothing more is needed. */
  take(piece: Buffer): boolean {
    if (!this.isLookedOver && piece.includes(0)) throw new OddSheet('NUL');
    if (this.phase === 'tail') {
      this.tailPieces.push(piece);
      return true;
    }
    const bytes = this.rest.length === 0 ? piece : Buffer.concat([this.rest, piece]);
    if (this.phase === 'head') {
      const begin = this.takeHead(bytes);
      if (begin < 0) {
        this.rest = bytes;
        return true;
      }
      return this.takeRows(bytes, begin);
    }
    return this.takeRows(bytes, 0);
  }

  private takeHead(bytes: Buffer): number {
    const at = bytes.indexOf(DATA);
    const close = at < 0 ? -1 : bytes.indexOf(GT, at);
    if (close < 0) {
      if (bytes.length > MAX_HEAD) throw new OddSheet('no data begins');
      return -1;
    }
    if (bytes[0] === 0xff || bytes[0] === 0xfe) throw new OddSheet('UTF-16');
    this.head = bytes.toString('utf8', bytes[0] === 0xef ? 3 : 0, at);
    if (!/<worksheet[\s>]/.test(this.head) || this.head.includes('<!')) throw new OddSheet('head');
    if (bytes[close - 1] === SLASH) {
      this.phase = 'tail';
      this.tailPieces.push(bytes.subarray(close + 1));
      return bytes.length;
    }
    this.phase = 'rows';
    return close + 1;
  }

  /** Reads whole rows from `at` on and keeps what is left for the next piece. */
  private takeRows(bytes: Buffer, at: number): boolean {
    if (this.phase === 'tail') return this.withTail;
    const { visitor } = this;
    // Up to here all rows are whole.
    const lastEnd = bytes.lastIndexOf(END_OF_ROW);
    for (;;) {
      // In most files each row follows right behind the one before.
      const start = bytes[at] === LT && isRowAt(bytes, at) ? at : bytes.indexOf(ROW, at);
      if (start < 0 || start + 5 > bytes.length)
        return this.keepFrom(bytes, start < 0 ? at : start);
      const after = bytes[start + 4]!;
      // `<rowBreaks` and the like stand behind the data.
      if (
        after !== 0x20 &&
        after !== GT &&
        after !== SLASH &&
        after !== 0x0a &&
        after !== 0x0d &&
        after !== 0x09
      ) {
        return this.keepFrom(bytes, at);
      }
      const close = endOfTag(bytes, start + 4);
      if (close < 0) return this.keepFrom(bytes, start);
      const isEmpty = bytes[close - 1] === SLASH;
      const row = rowNumber(bytes, start + 4, close) ?? this.rowNumber + 1;
      // Whoever reads row by row may have missed those that stand elsewhere in the file.
      if (row <= this.rowNumber) throw new OddSheet('rows out of order');
      if (row > visitor.bottom && !this.withTail) return false;
      if (row < visitor.top || row > visitor.bottom || isEmpty) {
        if (isEmpty && row >= visitor.top && row <= visitor.bottom) {
          this.tellRow(row, bytes, start + 4, close - 1);
        }
        this.rowNumber = row;
        at = close + 1;
        if (row > visitor.bottom) return this.keepFrom(bytes, at);
        continue;
      }
      if (close > lastEnd) return this.keepFrom(bytes, start);
      this.rowNumber = row;
      this.tellRow(row, bytes, start + 4, close);
      at = scanCells(bytes, close + 1, lastEnd + END_OF_ROW.length, row, visitor);
      this.passed = { row, at };
    }
  }

  private tellRow(row: number, bytes: Buffer, from: number, to: number): void {
    if (!this.visitor.row || !hasAttributeInH(bytes, from, to)) return;
    const attributes = bytes.toString('latin1', from, to);
    const height = /\sht=["']([^"']*)/.exec(attributes)?.[1];
    const hidden = /\shidden=["']([^"']*)/.exec(attributes)?.[1];
    if (height !== undefined || hidden !== undefined) this.visitor.row(row, height, hidden);
  }

  /** No whole row from `at` on: is the data at its end, or does more come? */
  private keepFrom(bytes: Buffer, at: number): boolean {
    const end = bytes.indexOf(END_OF_DATA, at);
    if (end >= 0) {
      const close = bytes.indexOf(GT, end);
      if (close < 0) {
        this.rest = bytes.subarray(end);
        return true;
      }
      this.phase = 'tail';
      this.tailPieces.push(bytes.subarray(close + 1));
      return this.withTail;
    }
    // Behind the wanted rows only the end of the data matters: a few bytes are enough to find it across pieces.
    const isBehind = this.rowNumber > this.visitor.bottom;
    this.rest = isBehind ? bytes.subarray(Math.max(at, bytes.length - 16)) : bytes.subarray(at);
    return true;
  }
}

/** Behind the `>` that is looked for from `from` on: nearly always it stands there, and nothing has to be searched. */
function behindTag(bytes: Buffer, from: number): number {
  return bytes[from] === GT ? from + 1 : bytes.indexOf(GT, from) + 1;
}

/** Where the tag that has begun ends (its `>`), quotes respected; -1 when it is cut. */
function endOfTag(bytes: Buffer, from: number): number {
  let quote = 0;
  for (let at = from; at < bytes.length; at++) {
    const byte = bytes[at]!;
    if (quote !== 0) {
      if (byte === quote) quote = 0;
    } else if (byte === GT) return at;
    else if (byte === QUOTE || byte === APOSTROPHE) quote = byte;
  }
  return -1;
}

/** The number in the attribute `r` of a row tag. */
function rowNumber(bytes: Buffer, from: number, to: number): number | null {
  for (let at = from; at < to - 3; at++) {
    // A lone `r`, not the end of another attribute's name.
    if (bytes[at] !== 0x72 || bytes[at + 1] !== EQUALS || bytes[at - 1]! > 0x20) continue;
    let number = 0;
    for (let digit = at + 3; digit < to; digit++) {
      const value = bytes[digit]! - 0x30;
      if (value < 0 || value > 9) return number;
      number = number * 10 + value;
    }
  }
  return null;
}

const TYPES = new Map<number, string>([
  [0x73, 's'],
  [0x6e, 'n'],
  [0x62, 'b'],
  [0x65, 'e'],
  [0x64, 'd'],
]);

/** Whether a tag has an attribute that begins with an h, as a row's height and hiding do. */
function hasAttributeInH(bytes: Buffer, from: number, to: number): boolean {
  for (let at = from + 1; at < to; at++) {
    if (bytes[at] === 0x68 && bytes[at - 1]! <= 0x20) return true;
  }
  return false;
}

/** Whether `row` follows behind the byte at `at`. */
function isRowAt(bytes: Buffer, at: number): boolean {
  return bytes[at + 1] === 0x72 && bytes[at + 2] === 0x6f && bytes[at + 3] === 0x77;
}

/** Reads the cells of one row, which begin at `from`, and gives where it ends; its end tag lies before `to`. */
// biome-ignore lint/complexity/noExcessiveLinesPerFunction: one pass over bytes, whose state lies in local variables for speed
function scanCells(
  bytes: Buffer,
  from: number,
  to: number,
  row: number,
  visitor: SheetVisitor,
): number {
  let column = 0;
  let at = from;
  while (at < to) {
    if (bytes[at] !== LT) {
      at++;
      continue;
    }
    const name = bytes[at + 1]!;
    const next = bytes[at + 2]!;
    if (name === BANG) throw new OddSheet('comment or CDATA');
    if (name === SLASH && isRowAt(bytes, at + 1) && bytes[at + 5] === GT) {
      return at + END_OF_ROW.length;
    }
    if (name !== 0x63 || (next > 0x20 && next !== GT && next !== SLASH)) {
      // An extension between cells, or an element with a prefix.
      throw new OddSheet('something between cells');
    }
    // <c r="A1" s="1" t="s">
    let style = 0;
    let type = 'n';
    let given = 0;
    at += 2;
    for (;;) {
      let byte = bytes[at]!;
      while (byte <= 0x20) byte = bytes[++at]!;
      if (byte === GT || byte === SLASH || at >= to) break;
      const nameStart = at;
      while (byte !== EQUALS && at < to) byte = bytes[++at]!;
      const nameLength = at - nameStart;
      const quote = bytes[++at]!;
      if (quote !== QUOTE && quote !== APOSTROPHE) throw new OddSheet('attribute');
      const valueStart = ++at;
      while (bytes[at] !== quote && at < to) at++;
      if (nameLength === 1) {
        const letter = bytes[nameStart]!;
        if (letter === 0x72) {
          for (let place = valueStart; place < at; place++) {
            const code = bytes[place]! & 0xdf;
            if (code < 0x41 || code > 0x5a) break;
            given = given * 26 + code - 0x40;
          }
        } else if (letter === 0x73) {
          for (let place = valueStart; place < at; place++)
            style = style * 10 + bytes[place]! - 0x30;
        } else if (letter === 0x74) {
          type =
            (at - valueStart === 1 ? TYPES.get(bytes[valueStart]!) : undefined) ??
            bytes.toString('latin1', valueStart, at);
        }
      }
      at++;
    }
    column = given > 0 ? given : column + 1;
    if (bytes[at] === SLASH) {
      visitor.cell(row, column, style, type, null, null, null);
      at += 2;
      continue;
    }
    at++;
    let value: string | number | null = null;
    let formula: string | null = null;
    let shared: number | null = null;
    for (;;) {
      while (bytes[at] !== LT && at < to) at++;
      if (at >= to) break;
      const first = bytes[at + 1]!;
      const second = bytes[at + 2]!;
      if (first === SLASH && second === 0x63) {
        at = behindTag(bytes, at + 3);
        break;
      }
      if (first === 0x76 && (second === GT || second <= 0x20 || second === SLASH)) {
        const start = behindTag(bytes, at + 2);
        if (bytes[start - 2] === SLASH) {
          at = start;
          continue;
        }
        let end = start;
        while (bytes[end] !== LT && end < to) end++;
        if (bytes[end + 1] === BANG) throw new OddSheet('CDATA');
        value =
          type === 'n' || type === 's'
            ? readNumber(bytes, start, end)
            : readText(bytes, start, end);
        at = behindTag(bytes, end + 3);
      } else if (first === 0x66 && (second === GT || second <= 0x20 || second === SLASH)) {
        const start = endOfTag(bytes, at) + 1;
        if (second <= 0x20) shared = sharing(bytes.toString('latin1', at, start));
        if (bytes[start - 2] === SLASH) {
          at = start;
          continue;
        }
        const end = bytes.indexOf(LT, start);
        if (bytes[end + 1] === BANG) throw new OddSheet('CDATA');
        formula = readText(bytes, start, end);
        at = bytes.indexOf(GT, end) + 1;
      } else if (first === 0x69 && second === 0x73) {
        const start = bytes.indexOf(GT, at) + 1;
        const end = bytes.indexOf('</is>', start);
        if (bytes[start - 2] === SLASH || end < 0) throw new OddSheet('inline string');
        value = plainText(bytes.toString('utf8', start, end));
        at = end + 5;
      } else throw new OddSheet('something inside a cell');
    }
    visitor.cell(row, column, style, type, value, formula, shared);
  }
  throw new OddSheet('a row that does not end');
}

/** The number by which a formula's tag says that it is shared. */
function sharing(tag: string): number | null {
  if (!/\st=["']shared["']/.test(tag)) return null;
  const index = /\ssi=["'](\d+)["']/.exec(tag)?.[1];
  return index === undefined ? null : Number(index);
}

/** A number as written; plain decimals by hand, since most are, everything else by the platform's rule. */
function readNumber(bytes: Buffer, start: number, end: number): number | string {
  let at = start;
  const isNegative = bytes[at] === 0x2d;
  if (isNegative) at++;
  let mantissa = 0;
  let digits = 0;
  let decimals = -1;
  for (; at < end; at++) {
    const byte = bytes[at]!;
    const digit = byte - 0x30;
    if (digit >= 0 && digit <= 9) {
      mantissa = mantissa * 10 + digit;
      digits++;
      if (decimals >= 0) decimals++;
    } else if (byte === 0x2e && decimals < 0) decimals = 0;
    else break;
  }
  // Up to 15 digits and 22 decimals the quotient of two exact numbers is the nearest number there is.
  if (at === end && digits > 0 && digits <= 15 && decimals <= 22) {
    const size = decimals > 0 ? mantissa / POWERS[decimals]! : mantissa;
    return isNegative ? -size : size;
  }
  const text = bytes.toString('latin1', start, end).trim();
  const number = Number(text);
  // A number too large for any (over 1.8E+308) stays as it is written.
  return text === '' || !Number.isFinite(number) ? text : number;
}

const POWERS = Array.from({ length: 23 }, (_, power) => Number(`1e${power}`));

function readText(bytes: Buffer, start: number, end: number): string {
  const text = bytes.toString('utf8', start, end);
  for (let at = start; at < end; at++) if (bytes[at] === AMPERSAND) return resolveEntities(text);
  return text;
}

const NAMED: Record<string, string> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" };

/** Resolves the five entities of XML and character references. */
function resolveEntities(text: string): string {
  if (!text.includes('&')) return text;
  return text.replace(/&(#x[0-9a-fA-F]+|#[0-9]+|\w+);/g, (whole, name: string) => {
    if (name.startsWith('#')) {
      const code = name[1] === 'x' ? Number.parseInt(name.slice(2), 16) : Number(name.slice(1));
      const isHalf = code >= 0xd800 && code <= 0xdfff;
      if (code === 0 || isHalf || code > 0x10ffff) throw new OddSheet('character reference');
      return String.fromCodePoint(code);
    }
    const character = NAMED[name];
    if (character === undefined) throw new OddSheet(`entity ${whole}`);
    return character;
  });
}

/** The text of an inline or shared string's content: all `t` elements joined, phonetic hints left out. */
export function plainText(xml: string): string {
  // Nearly all strings are one plain element.
  if (xml.startsWith('<t>') && xml.indexOf('<', 3) === xml.length - 4 && xml.endsWith('</t>')) {
    return resolveEntities(xml.slice(3, -4));
  }
  if (xml.includes('<!')) throw new OddSheet('CDATA in a string');
  const bare = xml.includes('<rPh') ? xml.replace(/<rPh[\s>].*?<\/rPh>/gs, '') : xml;
  let text = '';
  for (const match of bare.matchAll(/<t(?:\s[^>]*)?>([^<]*)<\/t>/g)) text += match[1];
  if (/<\w+:t[\s>]/.test(bare)) throw new OddSheet('prefix in a string');
  return resolveEntities(text);
}

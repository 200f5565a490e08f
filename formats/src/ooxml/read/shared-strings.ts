import { ok, type Result } from '@tether/core';
import type { PackageFile } from '../../package/package-file.ts';
import { OddSheet, plainText } from './sheet/sheet-scan.ts';
import { parseSharedStrings, unescapeText } from './text.ts';

const OPEN = Buffer.from('<si');
const CLOSE = Buffer.from('</si>');
const LT = 0x3c;
const GT = 0x3e;
const SLASH = 0x2f;

/** A part up to this size stays unpacked when strings are asked for again. */
const KEPT_TO = 32 << 20;
/** So many strings lie between two places that are noted for going on from there. */
const STRIDE = 1_024;

/**
 * The shared strings of a workbook: only those asked for are resolved, in one pass that ends behind the last of them.
 * Whoever asks again, for further rows of a sheet, goes on from a place near those that are missing.
 */
export class SharedStrings {
  /** Those resolved so far. */
  readonly known = new Map<number, string>();
  /** The content of those that have parts with letters of their own, as XML without prefixes. */
  readonly rich = new Map<number, string>();
  private isWhole = false;
  private isAskedAgain = false;
  private unpacked: Buffer | null = null;
  /** Where every `STRIDE`th string begins, as far as they were passed. */
  private readonly starts: number[] = [];

  constructor(
    private readonly file: PackageFile,
    private readonly part: string | null,
  ) {}

  /** The strings with these indexes; an index that the part does not have gives the empty text. */
  async resolve(indexes: ReadonlySet<number>): Promise<Result<ReadonlyMap<number, string>>> {
    const missing = [...indexes].filter((index) => !this.known.has(index));
    if (this.part === null || this.isWhole || missing.length === 0) return ok(this.known);
    const last = missing.reduce((most, index) => Math.max(most, index), 0);
    const scan = new StringScan(new Set(missing), last, this.known, this.rich, this.starts);
    try {
      const scanned = await this.scan(scan, missing);
      if (!scanned.ok) return scanned;
      if (scan.isPlain) return ok(this.known);
    } catch (error) {
      if (!(error instanceof OddSheet)) throw error;
    }
    const bytes = await this.file.read(this.part);
    if (!bytes.ok) return bytes;
    for (const [index, text] of parseSharedStrings(bytes.value).entries())
      this.known.set(index, text);
    this.isWhole = true;
    return ok(this.known);
  }

  private async scan(scan: StringScan, missing: readonly number[]): Promise<Result<null>> {
    const part = this.part!;
    if (this.isAskedAgain && !this.unpacked && this.file.sizeOf(part) <= KEPT_TO) {
      const bytes = await this.file.read(part);
      if (!bytes.ok) return bytes;
      // Who goes on somewhere in the middle does not look over what lies elsewhere.
      if (bytes.value.includes(0)) throw new OddSheet('NUL');
      this.unpacked = bytes.value;
    }
    this.isAskedAgain = true;
    if (!this.unpacked) return this.file.scan(part, (piece) => scan.take(piece));
    const first = missing.reduce((least, index) => Math.min(least, index), Number.MAX_SAFE_INTEGER);
    const near = Math.min(Math.floor(first / STRIDE), this.starts.length - 1);
    if (near > 0) scan.goOn(this.unpacked, near * STRIDE, this.starts[near]!);
    else scan.take(this.unpacked);
    return ok(null);
  }
}

class StringScan {
  private rest: Buffer = Buffer.alloc(0);
  /** Bytes of the part in front of those at hand. */
  private passed = 0;
  private next = 0;
  private isBegun = false;
  private isEnded = false;

  constructor(
    private readonly wanted: ReadonlySet<number>,
    private readonly last: number,
    private readonly found: Map<number, string>,
    private readonly rich: Map<number, string>,
    private readonly starts: number[],
  ) {}

  /** Goes on in a part that was read before, at a string that begins at `at`. */
  goOn(bytes: Buffer, index: number, at: number): void {
    this.isBegun = true;
    this.next = index;
    this.takeStrings(bytes, at);
  }

  /** Whether the part was one that this scan can read. */
  get isPlain(): boolean {
    return this.isBegun || this.isEnded;
  }

  take(piece: Buffer): boolean {
    if (piece.includes(0)) throw new OddSheet('NUL');
    const bytes = this.rest.length === 0 ? piece : Buffer.concat([this.rest, piece]);
    if (!this.isBegun && !this.begin(bytes)) return true;
    return this.takeStrings(bytes, 0);
  }

  private takeStrings(bytes: Buffer, from: number): boolean {
    let at = from;
    for (;;) {
      const start = isStringAt(bytes, at) ? at : bytes.indexOf(OPEN, at);
      if (start < 0) {
        this.letGo(bytes, Math.max(at, bytes.length - OPEN.length));
        if (bytes.includes('</sst')) this.isEnded = true;
        return true;
      }
      const close = bytes[start + 3] === GT ? start + 3 : bytes.indexOf(GT, start);
      const isEmpty = close > 0 && bytes[close - 1] === SLASH;
      const end = isEmpty ? close + 1 - CLOSE.length : bytes.indexOf(CLOSE, start);
      if (close < 0 || end < 0) {
        this.letGo(bytes, start);
        return true;
      }
      if (this.next % STRIDE === 0) this.starts[this.next / STRIDE] = this.passed + start;
      if (this.wanted.has(this.next)) {
        const inner = isEmpty ? '' : bytes.toString('utf8', close + 1, end);
        this.found.set(this.next, unescapeText(plainText(inner)));
        if (/<r[\s>]/.test(inner)) this.rich.set(this.next, inner);
      }
      at = end + CLOSE.length;
      if (++this.next > this.last) return false;
    }
  }

  /** Keeps what a further piece may go on with. */
  private letGo(bytes: Buffer, from: number): void {
    this.rest = bytes.subarray(from);
    this.passed += from;
  }

  private begin(bytes: Buffer): boolean {
    const head = bytes.toString('latin1', 0, Math.min(bytes.length, 4096));
    if (/<!/.test(head) || head.charCodeAt(0) > 0xf0) throw new OddSheet('head');
    if (/<sst[\s>/]/.test(head)) {
      this.isBegun = true;
      return true;
    }
    if (bytes.length > 4096) throw new OddSheet('no strings begin');
    this.rest = bytes;
    return false;
  }
}

/** Whether the next string begins right at `at`, as it does in most files. */
function isStringAt(bytes: Buffer, at: number): boolean {
  return bytes[at] === LT && bytes[at + 1] === 0x73 && bytes[at + 2] === 0x69;
}

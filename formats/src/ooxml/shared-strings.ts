import { ok, type Result } from '@tether/core';
import type { PackageFile } from '../package-file.ts';
import { OddSheet, plainText } from './sheet-scan.ts';
import { parseSharedStrings, unescapeText } from './text.ts';

const OPEN = Buffer.from('<si');
const CLOSE = Buffer.from('</si>');
const GT = 0x3e;
const SLASH = 0x2f;

/** The shared strings of a workbook: only those asked for are resolved, in one pass that ends behind the last of them. */
export class SharedStrings {
  /** Those resolved so far. */
  readonly known = new Map<number, string>();
  /** The content of those that have parts with letters of their own, as XML without prefixes. */
  readonly rich = new Map<number, string>();
  private isWhole = false;

  constructor(
    private readonly file: PackageFile,
    private readonly part: string | null,
  ) {}

  /** The strings with these indexes; an index that the part does not have gives the empty text. */
  async resolve(indexes: ReadonlySet<number>): Promise<Result<ReadonlyMap<number, string>>> {
    const missing = [...indexes].filter((index) => !this.known.has(index));
    if (this.part === null || this.isWhole || missing.length === 0) return ok(this.known);
    const last = missing.reduce((most, index) => Math.max(most, index), 0);
    const scan = new StringScan(new Set(missing), last, this.known, this.rich);
    try {
      const scanned = await this.file.scan(this.part, (piece) => scan.take(piece));
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
}

class StringScan {
  private rest: Buffer = Buffer.alloc(0);
  private next = 0;
  private isBegun = false;
  private isEnded = false;

  constructor(
    private readonly wanted: ReadonlySet<number>,
    private readonly last: number,
    private readonly found: Map<number, string>,
    private readonly rich: Map<number, string>,
  ) {}

  /** Whether the part was one that this scan can read. */
  get isPlain(): boolean {
    return this.isBegun || this.isEnded;
  }

  take(piece: Buffer): boolean {
    if (piece.includes(0)) throw new OddSheet('NUL');
    const bytes = this.rest.length === 0 ? piece : Buffer.concat([this.rest, piece]);
    if (!this.isBegun && !this.begin(bytes)) return true;
    let at = 0;
    for (;;) {
      const start = bytes.indexOf(OPEN, at);
      if (start < 0) {
        this.rest = bytes.subarray(Math.max(at, bytes.length - OPEN.length));
        if (bytes.includes('</sst')) this.isEnded = true;
        return true;
      }
      const close = bytes.indexOf(GT, start);
      const isEmpty = close > 0 && bytes[close - 1] === SLASH;
      const end = isEmpty ? close + 1 - CLOSE.length : bytes.indexOf(CLOSE, start);
      if (close < 0 || end < 0) {
        this.rest = bytes.subarray(start);
        return true;
      }
      if (this.wanted.has(this.next)) {
        const inner = isEmpty ? '' : bytes.toString('utf8', close + 1, end);
        this.found.set(this.next, unescapeText(plainText(inner)));
        if (/<r[\s>]/.test(inner)) this.rich.set(this.next, inner);
      }
      at = end + CLOSE.length;
      if (++this.next > this.last) return false;
    }
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

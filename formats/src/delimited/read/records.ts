import { DELIMITERS, type DelimitedReading, type Delimiter } from '@tether/core';

type Marks = Pick<DelimitedReading, 'delimiter' | 'quote'>;

const LF = 10;
const CR = 13;
const LINE_END = /[\n\r]/;
/** So many strays are told. */
const MOST_STRAYS = 100;

/**
 * The records of a delimited text (RFC 4180, section 2, and its everyday cousins: any line end, any delimiter, text
 * behind a closing quote kept). Only where each record begins is kept, four bytes for each; fields are made of the
 * records that are asked for.
 */
export class Records {
  private starts: Uint32Array;
  /** How many records there are, at most as many as were allowed. */
  readonly count: number;
  private readonly delimiter: number;
  private readonly quote: number;

  /** The first records with a quote that begins a field and is never rightly closed, counted from 0. */
  readonly strays: number[] = [];
  /** Whether the text goes on behind the last record that was allowed. */
  goesOn = false;
  private lastQuote: number | null = null;

  constructor(
    private readonly text: string,
    { delimiter, quote }: Marks,
    limit = Number.POSITIVE_INFINITY,
    /** Where the first record begins. */
    private readonly from = 0,
  ) {
    this.delimiter = delimiter.charCodeAt(0);
    this.quote = quote === 'none' ? -1 : quote.charCodeAt(0);
    this.starts = new Uint32Array(1024);
    this.count = this.findStarts(limit);
  }

  /** The fields of a record, counted from 0. */
  record(index: number): string[] {
    const fields: string[] = [];
    this.walk(index, (from, to, closed) => {
      if (closed < 0) fields.push(this.text.slice(from, to));
      else {
        const [field, end] = this.quoted(from + 1, closed);
        // What stands between the closing quote and the delimiter belongs to the field.
        fields.push(to === end ? field : field + this.text.slice(end, to));
      }
    });
    return fields;
  }

  /** Where the fields of a record stand in the text, with the quotes around them. */
  places(index: number): { from: number; to: number; isQuoted: boolean }[] {
    const places: { from: number; to: number; isQuoted: boolean }[] = [];
    this.walk(index, (from, to, closed) => places.push({ from, to, isQuoted: closed >= 0 }));
    return places;
  }

  /** Tells each field of a record: where it begins and ends, and where its closing quote ends, -1 without one. */
  private walk(index: number, tell: (from: number, to: number, closed: number) => void): void {
    const { text, delimiter, quote } = this;
    let at = this.starts[index]!;
    for (;;) {
      const closed = text.charCodeAt(at) === quote ? this.closing(at + 1) : -1;
      const to = this.fieldEnd(closed >= 0 ? closed : at);
      tell(at, to, closed);
      if (text.charCodeAt(to) !== delimiter) return;
      at = to + 1;
    }
  }

  /** Whether a record has more fields than that. */
  isWiderThan(index: number, fields: number): boolean {
    const end = index + 1 < this.count ? this.starts[index + 1]! : this.text.length;
    // Each field but the last takes a delimiter at least.
    return end - this.starts[index]! >= fields && this.record(index).length > fields;
  }

  private findStarts(limit: number): number {
    const { text } = this;
    const mark = this.quote < 0 ? '' : String.fromCharCode(this.quote);
    let count = 0;
    let at = this.from;
    while (at < text.length && count < limit) {
      this.add(count, at);
      at = this.recordEnd(at, mark, count++);
      at += text.charCodeAt(at) === CR && text.charCodeAt(at + 1) === LF ? 2 : 1;
    }
    this.goesOn = at < text.length;
    return count;
  }

  /** Where the record that begins at `from` ends: at its line end, or the end of the text. */
  private recordEnd(from: number, mark: string, index: number): number {
    const { text, delimiter, quote } = this;
    let at = from;
    let isFieldStart = true;
    for (;;) {
      if (isFieldStart && mark !== '' && text.charCodeAt(at) === quote) {
        const closed = this.closing(at + 1);
        if (closed < 0 && this.strays.length < MOST_STRAYS) this.strays.push(index);
        at = closed < 0 ? at + 1 : closed;
        isFieldStart = false;
        continue;
      }
      if (at >= text.length) return text.length;
      const code = text.charCodeAt(at);
      if (code === LF || code === CR) return at;
      isFieldStart = code === delimiter;
      at++;
    }
  }

  /**
   * Behind the quote that closes the field whose content begins at `from`; -1 where none does: the text ends first, or the
   * next quote is lines away and no end of a field. Then the opening one is a letter, and does not swallow what follows.
   */
  private closing(from: number): number {
    const { text, quote, delimiter } = this;
    const mark = String.fromCharCode(quote);
    this.lastQuote ??= text.lastIndexOf(mark);
    let at = from;
    for (;;) {
      const found = at > this.lastQuote ? -1 : text.indexOf(mark, at);
      if (found < 0) return -1;
      const next = text.charCodeAt(found + 1);
      if (next === quote) {
        at = found + 2;
        continue;
      }
      const isEnd = next === delimiter || next === LF || next === CR || found + 1 === text.length;
      return isEnd || !LINE_END.test(text.slice(from, found)) ? found + 1 : -1;
    }
  }

  /** A quoted field's content and where it ends, doubled quotes made one. */
  private quoted(from: number, end: number): [string, number] {
    const mark = String.fromCharCode(this.quote);
    const content = this.text.slice(from, end - 1);
    return [content.includes(mark) ? content.replaceAll(mark + mark, mark) : content, end];
  }

  private fieldEnd(from: number): number {
    const { text, delimiter } = this;
    for (let at = from; at < text.length; at++) {
      const code = text.charCodeAt(at);
      if (code === delimiter || code === LF || code === CR) return at;
    }
    return text.length;
  }

  private add(index: number, start: number): void {
    if (index === this.starts.length) {
      const larger = new Uint32Array(this.starts.length * 2);
      larger.set(this.starts);
      this.starts = larger;
    }
    this.starts[index] = start;
  }
}

/**
 * The line `sep=;` with which some programs begin a text to say what ends its fields (common practice): the delimiter, and
 * where the text itself begins. Null where there is no such line.
 */
export function toldDelimiter(text: string): { delimiter: Delimiter; from: number } | null {
  const told = /^"?sep=(.)"?(?:\r\n|\n|\r)/i.exec(text);
  const delimiter = DELIMITERS.find((each) => each === told?.[1]);
  return told && delimiter ? { delimiter, from: told[0].length } : null;
}

/** All records of a text. */
export function splitRecords(text: string, marks: Marks, limit?: number): string[][] {
  const records = new Records(text, marks, limit);
  return Array.from({ length: records.count }, (_, index) => records.record(index));
}

const LOOKED_AT = 60;

/** The delimiter of a text, found by looking: the one that splits the first records most evenly into most fields. */
export function guessDelimiter(text: string, quote: Marks['quote'] = '"'): Delimiter {
  let best: { delimiter: Delimiter; score: number } = { delimiter: ',', score: 0 };
  for (const delimiter of DELIMITERS) {
    const records = splitRecords(text, { delimiter, quote }, LOOKED_AT).filter(
      (fields) => fields.length > 1 || fields[0] !== '',
    );
    if (records.length === 0) continue;
    const counts = new Map<number, number>();
    for (const { length } of records) counts.set(length, (counts.get(length) ?? 0) + 1);
    const [fields, times] = [...counts].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0]!;
    const score = fields === 1 ? 0 : (times / records.length) * (1 + Math.log2(fields));
    if (score > best.score) best = { delimiter, score };
  }
  return best.delimiter;
}

/** The quote of a text: single where fields begin and end with it and none with the double one. */
export function guessQuote(text: string): Marks['quote'] {
  const head = text.slice(0, 64 << 10);
  const around = (mark: string) =>
    head.match(
      new RegExp(`(^|[,;\\t|\\n\\r])${mark}[^${mark}\\n\\r]*${mark}(?=[,;\\t|\\n\\r]|$)`, 'g'),
    )?.length ?? 0;
  return around('"') === 0 && around("'") > 2 ? "'" : '"';
}

import { type DelimitedReading, fail, ok, type Result } from '@tether/core';
import { decodeWhole } from '../read/decode.ts';
import { Records, toldDelimiter } from '../read/records.ts';
import { encodeText } from './encode.ts';

/** A field to be written, by its row and column, counted from 1. */
export interface FieldPatch {
  row: number;
  column: number;
  /** As it is to stand in the text, before quotes are put around it. */
  text: string;
}

/**
 * A delimited text with other words in some of its fields (RFC 4180): all other bytes stay as they are, with their quotes,
 * line ends, encoding and mark. A field has quotes around it where it had some or needs them. Rows behind the last one
 * and fields behind the last one of a row are put in. Faults: `write-not-encodable` for a sign that the encoding has not
 * got, `write-not-possible` for bytes that the encoding does not explain, or a field that needs quotes where there are none.
 */
export function writeDelimited(
  bytes: Buffer,
  reading: Pick<DelimitedReading, 'encoding' | 'delimiter' | 'quote'>,
  patches: readonly FieldPatch[],
): Result<Buffer> {
  const { delimiter, quote } = reading;
  const known = readText(bytes, reading);
  if (!known.ok) return known;
  const { text, records } = known.value;
  const lineEnd = /\r\n|\n|\r/.exec(text)?.[0] ?? '\r\n';
  const pieces: Piece[] = [];
  const written = (words: string, isQuoted: boolean): string | null => {
    const needs =
      words.includes(delimiter) ||
      /[\r\n]/.test(words) ||
      (quote !== 'none' && words.includes(quote)) ||
      (isQuoted && quote !== 'none');
    if (!needs) return words;
    if (quote === 'none') return null;
    return `${quote}${words.replaceAll(quote, quote + quote)}${quote}`;
  };
  const beyond = new Map<number, Map<number, string>>();
  for (const [row, fields] of byRow(patches)) {
    if (row > records.count) {
      beyond.set(row, fields);
      continue;
    }
    const places = records.places(row - 1);
    const last = places.at(-1)!;
    let added = '';
    for (let column = 1; column <= Math.max(...fields.keys()); column++) {
      const words = fields.get(column);
      const place = places[column - 1];
      if (words === undefined) {
        if (!place) added += delimiter;
        continue;
      }
      const field = written(words, place?.isQuoted ?? false);
      if (field === null) return noQuotes();
      if (place) pieces.push({ from: place.from, to: place.to, text: field });
      else added += delimiter + field;
    }
    if (added !== '') pieces.push({ from: last.to, to: last.to, text: added });
  }
  if (beyond.size > 0) {
    const rows: string[] = [];
    for (let row = records.count + 1; row <= Math.max(...beyond.keys()); row++) {
      const fields = beyond.get(row) ?? new Map<number, string>();
      const line: string[] = [];
      for (let column = 1; column <= Math.max(0, ...fields.keys()); column++) {
        const field = written(fields.get(column) ?? '', false);
        if (field === null) return noQuotes();
        line.push(field);
      }
      rows.push(line.join(delimiter));
    }
    const isOpen = text !== '' && !/[\r\n]$/.test(text);
    const end = isOpen ? lineEnd + rows.join(lineEnd) : rows.join(lineEnd) + lineEnd;
    pieces.push({ from: text.length, to: text.length, text: end });
  }
  return withPieces(known.value, pieces);
}

/** A text as it is read, to be written anew in parts. */
export interface ReadText {
  mark: Buffer;
  text: string;
  records: Records;
  encoding: DelimitedReading['encoding'];
}

/** Words that come in place of others. */
export interface Piece {
  from: number;
  to: number;
  text: string;
}

/** Reads a text so that what is not changed can be written back as it is. Fault: `write-not-possible`. */
export function readText(
  bytes: Buffer,
  { encoding, delimiter, quote }: Pick<DelimitedReading, 'encoding' | 'delimiter' | 'quote'>,
): Result<ReadText> {
  // A mark is told by the decoder and left out of the text.
  const mark = markOf(bytes, encoding);
  const text = decodeWhole(bytes.subarray(mark.length), encoding);
  const back = encodeText(text, encoding);
  if (!back || !back.equals(bytes.subarray(mark.length))) {
    return fail('write-not-possible', { why: `some of its bytes are not ${encoding}` });
  }
  const records = new Records(text, { delimiter, quote }, undefined, toldDelimiter(text)?.from);
  return ok({ mark, text, records, encoding });
}

/** The bytes of a text with other pieces in it. Fault: `write-not-encodable`. */
export function withPieces(
  { mark, text, encoding }: ReadText,
  pieces: readonly Piece[],
): Result<Buffer> {
  let made = '';
  let at = 0;
  for (const piece of [...pieces].sort((a, b) => a.from - b.from)) {
    made += text.slice(at, piece.from) + piece.text;
    at = piece.to;
  }
  made += text.slice(at);
  let lost = '';
  const done = encodeText(made, encoding, (sign) => {
    lost = sign;
  });
  return done
    ? ok(Buffer.concat([mark, done]))
    : fail('write-not-encodable', { sign: lost, encoding });
}

function byRow(patches: readonly FieldPatch[]): Map<number, Map<number, string>> {
  const rows = new Map<number, Map<number, string>>();
  for (const { row, column, text } of patches) {
    const fields = rows.get(row) ?? new Map<number, string>();
    rows.set(row, fields.set(column, text));
  }
  return rows;
}

function markOf(bytes: Buffer, encoding: DelimitedReading['encoding']): Buffer {
  const marks: Partial<Record<DelimitedReading['encoding'], number[]>> = {
    'utf-8': [0xef, 0xbb, 0xbf],
    'utf-16le': [0xff, 0xfe],
    'utf-16be': [0xfe, 0xff],
  };
  const mark = Buffer.from(marks[encoding] ?? []);
  return bytes.subarray(0, mark.length).equals(mark) ? mark : Buffer.alloc(0);
}

function noQuotes() {
  return fail('write-not-possible', {
    why: 'a text that holds what ends a field needs quotes, and this file has none',
  });
}

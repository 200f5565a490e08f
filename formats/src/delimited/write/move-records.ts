import { type DelimitedReading, type LineChange, ok, type Result } from '@tether/core';
import { type Piece, readText, withPieces } from './write-delimited.ts';

/**
 * A delimited text (RFC 4180) with records or fields put in or taken out; all other bytes stay as they are. A record that is put in
 * has as many fields as the one before it. Faults: those of `writeDelimited`.
 */
export function moveRecords(
  bytes: Buffer,
  reading: Pick<DelimitedReading, 'encoding' | 'delimiter' | 'quote'>,
  change: LineChange,
): Result<Buffer> {
  const known = readText(bytes, reading);
  if (!known.ok) return known;
  const { text, records } = known.value;
  const { delimiter } = reading;
  const { axis, kind, at, count } = change;
  const pieces: Piece[] = [];
  const startOf = (record: number) =>
    record < records.count ? records.places(record)[0]!.from : text.length;
  if (axis === 'rows') {
    const from = at - 1;
    if (from >= records.count) return ok(bytes);
    if (kind === 'put in') {
      const before = records.places(Math.max(0, from - 1));
      const line = delimiter.repeat(before.length - 1) + (/\r\n|\n|\r/.exec(text)?.[0] ?? '\r\n');
      const place = startOf(from);
      pieces.push({ from: place, to: place, text: line.repeat(count) });
    } else {
      const to = Math.min(records.count, from + count);
      // The last record may stand without a line end: then the one before it does.
      const isOpen = to === records.count && !/[\r\n]$/.test(text);
      const start = isOpen && from > 0 ? records.places(from - 1).at(-1)!.to : startOf(from);
      pieces.push({ from: start, to: startOf(to), text: '' });
    }
    return withPieces(known.value, pieces);
  }
  for (let record = 0; record < records.count; record++) {
    const places = records.places(record);
    const place = places[at - 1];
    if (!place) continue;
    if (kind === 'put in') {
      pieces.push({ from: place.from, to: place.from, text: delimiter.repeat(count) });
      continue;
    }
    const next = places[at - 1 + count];
    const before = places[at - 2];
    // With a field goes the delimiter behind it, with the last ones that before them.
    pieces.push(
      next
        ? { from: place.from, to: next.from, text: '' }
        : { from: before ? before.to : place.from, to: places.at(-1)!.to, text: '' },
    );
  }
  return withPieces(known.value, pieces);
}

/**
 * Splits delimited text into records and fields (RFC 4180): quotes around a field hold delimiters, line ends and doubled
 * quotes; lines end with CRLF, LF or CR; a last line end is no record. A quote inside an unquoted field stands for itself,
 * and a quote that is never closed takes the rest, as common readers do.
 */
export function splitRecords(
  text: string,
  delimiter: string,
  limit = Number.POSITIVE_INFINITY,
): string[][] {
  const records: string[][] = [];
  let record: string[] = [];
  let at = 0;
  const endRecord = () => {
    records.push(record);
    record = [];
  };
  while (at < text.length && records.length < limit) {
    if (text[at] === '"') {
      let field = '';
      at++;
      for (;;) {
        const quote = text.indexOf('"', at);
        if (quote < 0) {
          field += text.slice(at);
          at = text.length;
          break;
        }
        field += text.slice(at, quote);
        at = quote + 1;
        if (text[at] !== '"') break;
        field += '"';
        at++;
      }
      // What stands between the closing quote and the delimiter belongs to the field.
      const end = fieldEnd(text, at, delimiter);
      record.push(field + text.slice(at, end));
      at = end;
    } else {
      const end = fieldEnd(text, at, delimiter);
      record.push(text.slice(at, end));
      at = end;
    }
    if (at >= text.length) break;
    if (text[at] === delimiter) {
      at++;
      if (at >= text.length) record.push('');
      continue;
    }
    at += text[at] === '\r' && text[at + 1] === '\n' ? 2 : 1;
    endRecord();
  }
  if (record.length > 0 && records.length < limit) endRecord();
  return records;
}

function fieldEnd(text: string, from: number, delimiter: string): number {
  const code = delimiter.charCodeAt(0);
  for (let at = from; at < text.length; at++) {
    const here = text.charCodeAt(at);
    if (here === code || here === 10 || here === 13) return at;
  }
  return text.length;
}

const DELIMITERS = [',', ';', '\t', '|'];
const LOOKED_AT = 60;

/** The delimiter of a text, found by looking: the one that splits the first records most evenly into most fields. */
export function guessDelimiter(text: string): string {
  let best = { delimiter: ',', score: 0 };
  for (const delimiter of DELIMITERS) {
    const records = splitRecords(text, delimiter, LOOKED_AT).filter(
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

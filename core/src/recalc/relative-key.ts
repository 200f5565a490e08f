/** A cell's name outside of quotes, brackets and longer words; no function. */
const CELL = /(?<![\p{L}\p{N}_.$\\])(\$?)([A-Za-z]{1,3})(\$?)(\d{1,7})(?![\p{L}\p{N}_.(!])/gu;
/** What is left alone: texts, quoted sheets, parts of tables. */
const ASIDE = /"(?:[^"]|"")*"|'(?:[^']|'')*'|\[[^\]]*\]/g;
/** Whole rows and columns: their sides move along, and they are not looked for here. */
const LINES =
  /(?<![\p{L}\p{N}_.])\$?(?:[A-Za-z]{1,3}:\$?[A-Za-z]{1,3}|\d+:\$?\d+)(?![\p{L}\p{N}_.(])/u;

/**
 * A formula as it would be written for any cell: copies of one formula have the same. Null where that cannot be said for
 * sure.
 */
export function relativeKey(text: string, row: number, column: number): string | null {
  if (text.includes('[') || LINES.test(text)) return null;
  const parts = /["']/.test(text) ? text.split(ASIDE) : [text];
  const asides = parts.length > 1 ? text.match(ASIDE)! : [];
  let key = '';
  for (const [at, part] of parts.entries()) {
    key += part.replace(CELL, (_, fixedColumn, letters: string, fixedRow, digits: string) => {
      const c = fixedColumn ? `$${letters.toUpperCase()}` : columnOf(letters) - column;
      return `\u0001${c},${fixedRow ? `$${digits}` : Number(digits) - row}`;
    });
    key += asides[at] ?? '';
  }
  return key;
}

function columnOf(letters: string): number {
  let number = 0;
  for (let at = 0; at < letters.length; at++) {
    number = number * 26 + (letters.charCodeAt(at) & 0xdf) - 64;
  }
  return number;
}

/** Levels of JSON that is taken: a text nests less than 60 nodes, each of them two levels and its attributes some more. */
const DEEPEST = 200;
/** Values of JSON that is taken: several times the longest report. */
const MOST_VALUES = 2_000_000;

const [QUOTE, BACKSLASH, OPEN, CLOSE, OPEN_LIST, CLOSE_LIST, COMMA, U, ZERO] = [
  ...Buffer.from('"\\{}[],u0'),
] as [number, number, number, number, number, number, number, number, number];

/**
 * Counts levels and values of JSON in its bytes (RFC 8259), and looks for the one character that the database cannot keep.
 * Gives what is wrong with it, null for nothing.
 */
export function boundsFault(bytes: Uint8Array): string | null {
  let depth = 0;
  let values = 0;
  let isInText = false;
  for (let at = 0; at < bytes.length; at++) {
    const byte = bytes[at]!;
    if (isInText) {
      if (byte === QUOTE) isInText = false;
      else if (byte === BACKSLASH) {
        const isNul =
          bytes[at + 1] === U &&
          bytes[at + 2] === ZERO &&
          bytes[at + 3] === ZERO &&
          bytes[at + 4] === ZERO &&
          bytes[at + 5] === ZERO;
        if (isNul) return 'it holds a character without a meaning (U+0000)';
        at++;
      }
    } else if (byte === QUOTE) isInText = true;
    else if (byte === OPEN || byte === OPEN_LIST) {
      values++;
      if (++depth > DEEPEST) return 'it is nested too deeply';
    } else if (byte === CLOSE || byte === CLOSE_LIST) depth--;
    else if (byte === COMMA) values++;
    if (values > MOST_VALUES) return 'it holds too many values';
  }
  return null;
}

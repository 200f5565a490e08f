import type { Encoding } from '@tether/core';

/**
 * The encoding of the bytes: by their byte order mark; without one UTF-8 where they are that, else Windows-1252, which is
 * what office programs of the western world write (common practice). Null for bytes that are no text.
 */
export function guessEncoding(bytes: Buffer): Encoding | null {
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return 'utf-8';
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  if (bytes.subarray(0, 64 << 10).includes(0)) return null;
  return isUtf8(bytes) ? 'utf-8' : 'windows-1252';
}

/** The text of the bytes; what the encoding does not know, and NUL, becomes the replacement character. */
export function decodeText(bytes: Buffer, encoding: Encoding): string {
  return new TextDecoder(encoding).decode(bytes).replaceAll('\0', '\uFFFD');
}

function isUtf8(bytes: Buffer): boolean {
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return true;
  } catch {
    return false;
  }
}

/** The encodings that delimited text comes in. */
export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';

/**
 * The text of the bytes: by its byte order mark; without one as UTF-8 where it is that, else as Windows-1252, which is
 * what office programs of the western world write (common practice). Null for bytes that are no text.
 */
export function decodeText(bytes: Buffer): { text: string; encoding: Encoding } | null {
  const encoding = markedEncoding(bytes);
  if (encoding) return { text: new TextDecoder(encoding).decode(bytes), encoding };
  if (bytes.subarray(0, 64 << 10).includes(0)) return null;
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), encoding: 'utf-8' };
  } catch {
    return { text: new TextDecoder('windows-1252').decode(bytes), encoding: 'windows-1252' };
  }
}

function markedEncoding(bytes: Buffer): Encoding | null {
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return 'utf-8';
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  return null;
}

import { TextDecoder as StandardDecoder } from '@exodus/bytes/encoding.js';
import type { Encoding } from '@tether/core';
import { analyse } from 'chardet';

/** So many bytes tell in which encoding a text is. */
const LOOKED_AT = 64 << 10;
/** The least that is known of a text before it is taken for one of another part of the world (per cent, of `chardet`). */
const SURE_ENOUGH = 20;
/** With fewer letters beyond ASCII any guess is chance. */
const FEWEST_LETTERS = 4;

/**
 * The encoding of the bytes: by their byte order mark; without one UTF-16 where every other byte of plain letters is zero,
 * UTF-8 where they are that, else the likeliest by the letters that follow each other (package `chardet`), in doubt
 * Windows-1252, which is what office programs of the western world write (common practice). Null for bytes that are no text.
 */
export function guessEncoding(bytes: Buffer): Encoding | null {
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return 'utf-8';
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  const head = bytes.subarray(0, LOOKED_AT);
  if (head.includes(0)) return guessWide(head);
  return isUtf8(bytes) ? 'utf-8' : guessLocal(bytes);
}

/** The text of the bytes; what the encoding does not know, and NUL, becomes the replacement character. */
export function decodeText(bytes: Buffer, encoding: Encoding): string {
  return decodeWhole(bytes, encoding).replaceAll('\0', '\uFFFD');
}

/** The same with NUL as it is. */
export function decodeWhole(bytes: Uint8Array, encoding: Encoding): string {
  // The platform is quicker where it is right; its Windows-1252 is Latin-1.
  const Decoder = encoding.startsWith('utf') ? TextDecoder : StandardDecoder;
  return new Decoder(encoding).decode(bytes);
}

function isUtf8(bytes: Buffer): boolean {
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return true;
  } catch {
    return false;
  }
}

/** UTF-16 without a mark: line ends and marks between fields have their zero on one side alone. */
function guessWide(head: Buffer): Encoding | null {
  let [even, odd] = [0, 0];
  for (let at = 0; at < head.length; at++) {
    if (head[at] !== 0) continue;
    if (at % 2 === 0) even++;
    else odd++;
  }
  const encoding = even === 0 ? 'utf-16le' : odd === 0 ? 'utf-16be' : null;
  if (!encoding || head.length < 4) return null;
  const text = new TextDecoder(encoding).decode(head.subarray(0, head.length & ~1));
  // biome-ignore lint/suspicious/noControlCharactersInRegex: these tell that it is no text
  return /[\n\r\t,;|]/.test(text) && !/[\u0000-\u0008\u000e-\u001f\ufffe]/.test(text)
    ? encoding
    : null;
}

/** What an encoding found by the letters is read as: the Windows cousin has the same letters and more. */
const READ_AS: Record<string, Encoding> = {
  'ISO-8859-1': 'windows-1252',
  'ISO-8859-2': 'iso-8859-2',
  'ISO-8859-7': 'windows-1253',
  'ISO-8859-8': 'windows-1255',
  'ISO-8859-9': 'windows-1254',
  'windows-1250': 'windows-1250',
  'windows-1251': 'windows-1251',
  'windows-1252': 'windows-1252',
  'windows-1253': 'windows-1253',
  'windows-1254': 'windows-1254',
  'windows-1255': 'windows-1255',
  'windows-1256': 'windows-1256',
  'windows-1257': 'windows-1257',
  'KOI8-R': 'koi8-r',
  Shift_JIS: 'shift_jis',
  'EUC-JP': 'euc-jp',
  GB18030: 'gb18030',
  Big5: 'big5',
  'EUC-KR': 'euc-kr',
};

/** Encodings whose letters are mostly those of Windows-1252: they must be clearly likelier (per cent). */
const LATIN: ReadonlySet<Encoding> = new Set([
  'windows-1250',
  'iso-8859-2',
  'windows-1254',
  'windows-1257',
]);
const CLEARLY = 10;

/** Whether the second bytes of all pairs are high ones, as in GB 2312; those of Big5 are low as often. */
function hasHighTrails(bytes: Buffer): boolean {
  for (let at = 0; at + 1 < bytes.length; at++) {
    if (bytes[at]! <= 0x80) continue;
    at++;
    if (bytes[at]! < 0xa1) return false;
  }
  return true;
}

/** An encoding of one part of the world. */
function guessLocal(bytes: Buffer): Encoding {
  const sample = letterLines(bytes);
  const letters = sample.reduce((count, byte) => count + (byte > 0x7f ? 1 : 0), 0);
  if (letters < FEWEST_LETTERS) return 'windows-1252';
  if (isMac(sample)) return 'macintosh';
  const found = analyse(sample).flatMap(({ name, confidence }) => {
    const encoding = READ_AS[name];
    return encoding && confidence >= SURE_ENOUGH ? [{ encoding, confidence }] : [];
  });
  const usual = found.find(({ encoding }) => encoding === 'windows-1252')?.confidence ?? 0;
  for (const { encoding: likely, confidence } of found) {
    const encoding = likely === 'big5' && hasHighTrails(sample) ? 'gb18030' : likely;
    if (LATIN.has(encoding) && confidence < usual + CLEARLY) continue;
    // Half a character may be left at the end of what was looked at.
    const text = decodeText(sample, encoding).slice(0, -1);
    if (!/[\ufffd\u0080-\u009f]/.test(text)) return encoding;
  }
  return 'windows-1252';
}

/** The lines with letters beyond ASCII, as many as are looked at. */
function letterLines(bytes: Buffer): Buffer {
  const lines: Buffer[] = [];
  let length = 0;
  for (let at = 0; at < bytes.length && length < LOOKED_AT; ) {
    const found = bytes.indexOf(0x0a, at);
    const end = Math.min(found < 0 ? bytes.length : found + 1, at + LOOKED_AT);
    const line = bytes.subarray(at, end);
    if (line.some((byte) => byte > 0x7f)) {
      lines.push(line);
      length += line.length;
    }
    at = end;
  }
  return Buffer.concat(lines);
}

/** Curved apostrophes and dashes, which stand within words in Windows-1252 too. */
const IN_WORDS = new Set([0x91, 0x92, 0x96, 0x97]);

/** Mac Roman has its letters with accents where the Windows encodings have quotation marks and the like. */
function isMac(bytes: Buffer): boolean {
  const isLetter = (byte: number | undefined) =>
    byte !== undefined && ((byte >= 0x41 && byte <= 0x5a) || (byte >= 0x61 && byte <= 0x7a));
  let inside = 0;
  for (let at = 0; at < bytes.length; at++) {
    const byte = bytes[at]!;
    if (byte <= 0x9f ? byte <= 0x7f || IN_WORDS.has(byte) : byte < 0xc0) continue;
    if (!isLetter(bytes[at - 1]) || !isLetter(bytes[at + 1])) continue;
    if (byte >= 0xc0) return false;
    inside++;
  }
  return inside >= 2;
}

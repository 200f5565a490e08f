import type { Letters } from '../../sheet/sheet.ts';
import { ADVANCES } from './advances.ts';

/** CSS pixels in a point. */
export const PIXELS_PER_POINT = 96 / 72;

/**
 * The family that ships with the application and stands in for one that a source names: of the same widths for the
 * families that workbooks most often name, of the same kind for others. Everything is set in shipped families, so that
 * a page is the same on every screen and in print.
 */
export function shippedFamily(family: string): string {
  const name = family.toLowerCase();
  const known = STAND_INS[name];
  if (known) return known;
  if (/serif|roman|georgia|garamond|cambria|book|palatino|minion|century|didot/.test(name)) {
    return /sans/.test(name) ? 'Carlito' : 'Source Serif 4';
  }
  return 'Carlito';
}

const STAND_INS: Record<string, string> = {
  calibri: 'Carlito',
  carlito: 'Carlito',
  arial: 'Arimo',
  arimo: 'Arimo',
  helvetica: 'Arimo',
  'liberation sans': 'Arimo',
  'source serif 4': 'Source Serif 4',
  'source sans 3': 'Source Sans 3',
};

interface Face {
  /** Shares of the letter size. */
  ascent: number;
  descent: number;
  /** By code point; characters without a width of their own are not in it. */
  widths: Float64Array;
}

/** Code points that are measured lie below. */
const MEASURED = 0x2600;

const faces = new Map<string, Face>();
const known = new WeakMap<Letters, Face>();

function faceOf(letters: Letters): Face {
  let face = known.get(letters);
  if (!face) {
    face = findFace(letters);
    known.set(letters, face);
  }
  return face;
}

function findFace({ family, bold, italic }: Letters): Face {
  const key = `${shippedFamily(family)}|${bold ? 'b' : ''}${italic ? 'i' : ''}`;
  let face = faces.get(key);
  if (!face) {
    const [ascent, descent, text] = ADVANCES[key]!;
    const widths = new Float64Array(MEASURED).fill(Number.NaN);
    for (const run of text.split(';')) {
      const [first, list] = run.split(':') as [string, string];
      let code = Number.parseInt(first, 36);
      for (const width of list.split(',')) widths[code++] = Number.parseInt(width, 36) / 1000;
    }
    face = { ascent: ascent / 1000, descent: descent / 1000, widths };
    faces.set(key, face);
  }
  return face;
}

/** What a character without a width of its own takes: a whole letter size in the scripts of East Asia, else half. */
function unknownWidth(code: number): number {
  return code >= 0x1100 ? 1 : 0.55;
}

/** Pixels that a line of text takes in these letters: the sum of its advances, without kerning. */
export function textWidth(text: string, letters: Letters): number {
  const { widths } = faceOf(letters);
  let sum = 0;
  for (let at = 0; at < text.length; at++) {
    const code = text.codePointAt(at)!;
    if (code > 0xffff) at++;
    // Marks that are set over the letter before them take no room.
    if (code >= 0x300 && code <= 0x36f) continue;
    const width = widths[code];
    sum += width === undefined || Number.isNaN(width) ? unknownWidth(code) : width;
  }
  return sum * letters.size * PIXELS_PER_POINT;
}

/**
 * The parts that a line is broken between: behind spaces, and behind hyphens unless a digit follows (UAX 14, LB21 and LB25
 * for the texts that tables hold): `SC-04` is one word.
 */
const PARTS = /(?:[^\s-]|-(?=-*\d))*(?:-+|[ \t]+|$)/g;

/** The words of a text: what a line is never broken within while it fits. */
export function wordsOf(text: string): string[] {
  return text.split(/\s+|(?<=-)(?![\d-])/);
}

/**
 * The lines that a text breaks into within `width` pixels, as a browser breaks it with `white-space: pre-wrap` and
 * `overflow-wrap: anywhere`: behind spaces and hyphens, a word too long for a line anywhere. Never empty.
 */
export function wrapText(text: string, letters: Letters, width: number): string[] {
  const isOneLine = !text.includes('\n') && !text.includes('\r');
  if (isOneLine && textWidth(text, letters) <= width + SLACK) return [text];
  const lines: string[] = [];
  for (const paragraph of text.split(/\r\n|\r|\n/)) {
    let line = '';
    let used = 0;
    for (const [part] of paragraph.matchAll(PARTS)) {
      if (part === '') continue;
      // Spaces at the end of a line hang over it.
      const bare = textWidth(part.trimEnd(), letters);
      const whole = textWidth(part, letters);
      if (line !== '' && used + bare > width + SLACK) {
        lines.push(line);
        line = '';
        used = 0;
      }
      if (bare > width + SLACK) {
        const pieces = chop(part, letters, width);
        lines.push(...pieces.slice(0, -1));
        line = pieces.at(-1)!;
        used = textWidth(line, letters);
        continue;
      }
      line += part;
      used += whole;
    }
    lines.push(line);
  }
  return lines;
}

/** Rounding of the widths to thousandths of the letter size must not break a line that fits. */
const SLACK = 0.05;

function chop(word: string, letters: Letters, width: number): string[] {
  const pieces: string[] = [];
  let piece = '';
  for (const character of word) {
    if (piece !== '' && textWidth(piece + character, letters) > width) {
      pieces.push(piece);
      piece = '';
    }
    piece += character;
  }
  return [...pieces, piece];
}

/** Pixels from the top of a line's letters to their baseline. */
export function ascentOf(letters: Letters): number {
  return faceOf(letters).ascent * letters.size * PIXELS_PER_POINT;
}

/** Pixels from the baseline to the foot of the letters. */
export function descentOf(letters: Letters): number {
  return faceOf(letters).descent * letters.size * PIXELS_PER_POINT;
}

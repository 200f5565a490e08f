import { format, formatColor, getFormatInfo, isValidFormat } from 'numfmt';
import { type DateSystem, SYSTEMS_APART, serialToIso } from './date.ts';

/** Number formats that files name by number alone (ECMA-376 Part 1, 18.8.30), the ones equal in every language. */
const BUILT_IN: Record<number, string> = {
  0: 'General',
  1: '0',
  2: '0.00',
  3: '#,##0',
  4: '#,##0.00',
  9: '0%',
  10: '0.00%',
  11: '0.00E+00',
  12: '# ?/?',
  13: '# ??/??',
  14: 'mm-dd-yy',
  15: 'd-mmm-yy',
  16: 'd-mmm',
  17: 'mmm-yy',
  18: 'h:mm AM/PM',
  19: 'h:mm:ss AM/PM',
  20: 'h:mm',
  21: 'h:mm:ss',
  22: 'm/d/yy h:mm',
  37: '#,##0 ;(#,##0)',
  38: '#,##0 ;[Red](#,##0)',
  39: '#,##0.00;(#,##0.00)',
  40: '#,##0.00;[Red](#,##0.00)',
  45: 'mm:ss',
  46: '[h]:mm:ss',
  47: 'mmss.0',
  48: '##0.0E+0',
  49: '@',
};

/** Built-in formats of East Asia: each language has its own for a number, and all but two are dates (18.8.30). */
const EASTERN = (id: number) => (id >= 27 && id <= 36) || (id >= 50 && id <= 58);
const EASTERN_TIMES: Record<number, string> = { 32: 'h:mm', 33: 'h:mm:ss' };

/**
 * The format code of a built-in format; `General` for numbers that name none. Which language those of East Asia mean the
 * file does not say: their dates are shown as year, month and day in figures.
 */
export function builtInFormat(id: number): string {
  if (EASTERN(id)) return EASTERN_TIMES[id] ?? 'yyyy-mm-dd';
  return BUILT_IN[id] ?? 'General';
}

/**
 * The longest format code that is understood, as spreadsheet programs have it (common practice). A longer one makes no
 * sense, and those that are made to take long are longer.
 */
const LONGEST_CODE = 255;
/** The longest text that a format may make of a text: what one cell can hold (common practice: 32,767 characters). */
const LONGEST_TEXT = 32_767;

/** Whether the format shows a point in time. Elapsed times (`[h]:mm`) are amounts, not dates. */
export function showsDate(code: string): boolean {
  if (code === 'General' || code.length > LONGEST_CODE || !isValidFormat(code)) return false;
  if (/\[(h+|m+|s+)\]/i.test(code)) return false;
  return getFormatInfo(code).isDate;
}

/** The value made whole where its fraction rounds up to one, which the library shows as `1 1/1`. */
function wholeFraction(value: number, code: string): number {
  const match = /\?\/(\?+|\d+)/.exec(code);
  if (!match || !/[#0]/.test(code)) return value;
  const largest = match[1]!.startsWith('?') ? 10 ** match[1]!.length - 1 : Number(match[1]);
  const size = Math.abs(value);
  return size % 1 >= 1 - 1 / (2 * largest) ? Math.sign(value) * Math.round(size) : value;
}

const POWERS = [1, 10, 100, 1e3, 1e4, 1e5, 1e6];
const PLAIN = /^(#,##)?0(?:\.(0{1,6}))?(%?)$/;
const plainCodes = new Map<
  string,
  { hasThousands: boolean; decimals: number; isShare: boolean } | null
>();

/**
 * The text under the codes that most cells have (`0`, `0.00`, `#,##0.00`, `0%`), several times faster than through the
 * library; null for other codes and for values too large to be rounded exactly.
 */
export function showPlain(value: number, code: string): string | null {
  let plain = plainCodes.get(code);
  if (plain === undefined) {
    const match = PLAIN.exec(code);
    plain = match && {
      hasThousands: match[1] !== undefined,
      decimals: match[2]?.length ?? 0,
      isShare: match[3] === '%',
    };
    plainCodes.set(code, plain);
  }
  if (!plain || !(Math.abs(value) < 1e9)) return null;
  const { hasThousands, decimals, isShare } = plain;
  // As written, 1.005 is rounded to 1.01 although the nearest binary number lies below it.
  const scaled = Math.abs(value) * (isShare ? 100 : 1) * POWERS[decimals]!;
  let whole = Math.round(scaled);
  // Only near the middle between two does it matter how the number was written.
  if (Math.abs(Math.abs(scaled - whole) - 0.5) < 1e-3)
    whole = Math.round(Number(scaled.toPrecision(15)));
  let text: string;
  if (whole <= Number.MAX_SAFE_INTEGER) {
    const before = Math.floor(whole / POWERS[decimals]!);
    text = hasThousands ? inThousands(before) : String(before);
    if (decimals > 0) text += `.${padded(whole - before * POWERS[decimals]!, decimals)}`;
  } else {
    const digits = String(whole);
    const point = digits.length - decimals;
    text = hasThousands ? inThousands(Number(digits.slice(0, point))) : digits.slice(0, point);
    if (decimals > 0) text += `.${digits.slice(point)}`;
  }
  if (isShare) text += '%';
  return value < 0 && whole > 0 ? `-${text}` : text;
}

const THREE_DIGITS = Array.from({ length: 1_000 }, (_, n) => String(n).padStart(3, '0'));
const TWO_DIGITS = THREE_DIGITS.slice(0, 100).map((digits) => digits.slice(1));

/** A whole number below 10 to the 12th with commas between its thousands. */
function inThousands(whole: number): string {
  if (whole < 1e3) return String(whole);
  const above = Math.floor(whole / 1e3);
  return `${inThousands(above)},${THREE_DIGITS[whole - above * 1e3]}`;
}

function padded(digits: number, length: number): string {
  return length === 2 ? TWO_DIGITS[digits]! : String(digits).padStart(length, '0');
}

/** What a day before the first one shows. */
const NO_DAY = '######';

/**
 * A currency or language in brackets (`[$€-407]`) names a sign and the language of the names of months; the separators of
 * numbers are those of the workbook, not of that language (common practice).
 */
function withoutLanguages(code: string): string {
  return code.replace(/\[\$([^\]-]*)(?:-[^\]]*)?\]/g, (_, sign: string) =>
    sign === '' ? '' : `"${sign.replaceAll('"', '')}"`,
  );
}

/** The Japanese eras by their first day: letter, first character, name. */
const ERAS: [from: string, letter: string, short: string, name: string][] = [
  ['2019-05-01', 'R', '令', '令和'],
  ['1989-01-08', 'H', '平', '平成'],
  ['1926-12-25', 'S', '昭', '昭和'],
  ['1912-07-30', 'T', '大', '大正'],
  ['1868-01-25', 'M', '明', '明治'],
];
/** What stands in a code: quoted, escaped and bracketed parts, and the letters of eras and their years. */
const CODE_PARTS = /"[^"]*"|\\.|\[[^\]]*\]|g{1,3}|e{1,4}/gi;

/** Whether a date's code counts its years by Japanese eras (18.8.31: `g` is the era, `e` its year). */
function isEra(code: string): boolean {
  return (
    /\[\$-(?:[0-9A-F]*0?411|ja-JP)/i.test(code) &&
    /[ge]/i.test(code.replace(/"[^"]*"|\\.|\[[^\]]*\]/g, ''))
  );
}

/** The code with the era and its year of one day written out; before the first era the years are those of the calendar. */
function withEra(code: string, serial: number): string {
  const day = serialToIso(serial, '1900')?.slice(0, 10) ?? '';
  const era = ERAS.find(([from]) => day >= from);
  return code.replace(CODE_PARTS, (part) => {
    const letter = part[0]!.toLowerCase();
    if (letter === '[') return '';
    if (letter !== 'g' && letter !== 'e') return part;
    if (!era) return letter === 'g' ? '' : 'yyyy';
    const [from, ...names] = era;
    if (letter === 'g') return `"${names[part.length - 1]}"`;
    const year = Number(day.slice(0, 4)) - Number(from.slice(0, 4)) + 1;
    return `"${String(year).padStart(Math.min(2, part.length), '0')}"`;
  });
}

/** The text that `value` shows under the format `code`. A code that makes no sense shows the value as it is. */
export function showNumber(value: number, code: string, system: DateSystem = '1900'): string {
  const plain = showPlain(value, code);
  if (plain !== null) return plain;
  if (code.length > LONGEST_CODE) return showNumber(value, 'General');
  const isDate = showsDate(code);
  if (isDate && value < 0) {
    // There is no day before the first one: signs as for what does not fit. Counted from 1904, days go backwards with a
    // sign (both common practice).
    return system === '1904' ? `-${showNumber(-value, code, system)}` : NO_DAY;
  }
  const serial = isDate && system === '1904' ? value + SYSTEMS_APART : value;
  if (isDate && isEra(code)) return showNumber(serial, withEra(code, serial));
  if (!isDate && code.includes('[$')) return showNumber(value, withoutLanguages(code));
  try {
    if (value === 0 && code.includes('E')) return format(code.replace(/#+(?=0[.0]*E)/g, ''), 0);
    if (code.includes('/') && code.includes('?')) return format(code, wholeFraction(value, code));
    return format(code, serial);
  } catch {
    return String(value);
  }
}

/** The text that a text value shows under the format `code` (its fourth section, such as `;;;"n/a: "@`). */
export function showText(value: string, code: string): string {
  if (code === 'General' || code === '@' || code.length > LONGEST_CODE) return value;
  // A code may name the text more than once.
  if (value.length * (code.split('@').length - 1) > LONGEST_TEXT) return value;
  try {
    return format(code, value);
  } catch {
    return value;
  }
}

/** The colours a format code can name (ECMA-376 Part 1, 18.8.31), as the palette of the standard has them. */
const INKS: Record<string, string> = {
  black: '#000000',
  blue: '#0000FF',
  cyan: '#00FFFF',
  green: '#00FF00',
  magenta: '#FF00FF',
  red: '#FF0000',
  white: '#FFFFFF',
  yellow: '#FFFF00',
};

/** The letter colour that the format gives to `value`, `#RRGGBB`, or undefined. */
export function inkOf(value: number | string, code: string): string | undefined {
  if (!code.includes('[') || code.length > LONGEST_CODE) return undefined;
  try {
    const colour = formatColor(code, value);
    return typeof colour === 'string' ? INKS[colour.toLowerCase()] : undefined;
  } catch {
    return undefined;
  }
}

/**
 * A difference with its sign, as the two values it lies between are shown: `+12`, `−0.25`, and `+3.9 pts` (percentage
 * points) between shares. A difference too small for the format is shown in full instead of as zero.
 */
export function showDifference(difference: number, code = 'General'): string {
  const sign = difference > 0 ? '+' : difference < 0 ? '−' : '±';
  const plain = showsDate(code) ? 'General' : code;
  // Rounded to 12 significant digits, so that 0.3 - 0.1 does not read as 0.19999999999999998.
  const size = Number(Math.abs(difference).toPrecision(12));
  if (plain.includes('%')) {
    const points = size * 100;
    return `${sign}${Number(points.toFixed(points < 0.1 ? 4 : 1))} pts`;
  }
  // The first section alone: the sign is ours, and a format may put negatives in brackets or red.
  const shown = showNumber(size, splitSections(plain)[0] ?? 'General').trim();
  return sign + (/[1-9]/.test(shown) || size === 0 ? shown : showNumber(size, 'General'));
}

function splitSections(code: string): string[] {
  return code.match(/(?:"[^"]*"|\\.|[^;"\\])+/g) ?? [code];
}

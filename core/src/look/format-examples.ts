import { isValidFormat } from 'numfmt';
import { showNumber, showsDate } from '../sheet/number-format.ts';
import type { Cell } from '../sheet/sheet.ts';
import { scalarOf } from './conditional.ts';

/** A number format that can be chosen by what it shows. */
export interface FormatExample {
  code: string;
  words: string;
  /** A figure of one's own under it. */
  shown: string;
}

const NUMBERS: readonly [code: string, words: string][] = [
  ['0', 'whole'],
  ['0.0', 'one decimal'],
  ['0.00', 'two decimals'],
  ['#,##0', 'whole, with thousands'],
  ['#,##0.0', 'one decimal, with thousands'],
  ['#,##0.00', 'two decimals, with thousands'],
  ['0%', 'per cent'],
  ['0.0%', 'per cent, one decimal'],
  ['+0;-0;0', 'with its sign'],
  ['0.00E+00', 'power of ten'],
  ['General', 'as it is'],
];
const DATES: readonly [code: string, words: string][] = [
  ['yyyy-mm-dd', 'year first (ISO 8601)'],
  ['d mmmm yyyy', 'month in full'],
  ['d mmm yyyy', 'short month'],
  ['dd.mm.yyyy', 'day first, with points'],
  ['dd/mm/yyyy', 'day first, with strokes'],
  ['mm/dd/yyyy', 'month first'],
  ['ddd d mmm', 'with the day of the week'],
  ['mmm yyyy', 'month and year'],
  ['yyyy', 'year alone'],
  ['hh:mm', 'time alone'],
  ['yyyy-mm-dd hh:mm', 'with the time'],
];

/** A figure to show formats with: what it is under `General`, and whether it is a date. */
export interface Sample {
  value: number;
  isDate: boolean;
}

/** The first figure among cells, to show formats with. */
export function sampleOf(cells: Iterable<Cell | undefined>): Sample | null {
  for (const cell of cells) {
    if (cell?.type !== 'number' && cell?.type !== 'date') continue;
    const value = scalarOf(cell);
    if (typeof value === 'number') return { value, isDate: cell.type === 'date' };
  }
  return null;
}

/** Formats to choose from, each with what it makes of the sample; of numbers where there is none. */
export function formatExamples(sample: Sample | null): FormatExample[] {
  const { value, isDate } = sample ?? { value: 1234.5, isDate: false };
  return (isDate ? DATES : NUMBERS).map(([code, words]) => ({
    code,
    words,
    shown: showNumber(value, code),
  }));
}

/** Why a format code that somebody typed cannot be used, or null. A date needs a code of dates and a number one of numbers. */
export function formatFault(code: string, sample: Sample | null): string | null {
  if (!isValidFormat(code)) return 'This code is not understood.';
  if (sample && code !== 'General' && showsDate(code) !== sample.isDate) {
    return sample.isDate
      ? 'This code is for numbers, these are dates.'
      : 'This code is for dates, these are numbers.';
  }
  return null;
}

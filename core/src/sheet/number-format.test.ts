import { describe, expect, test } from '@jest/globals';
import { isoToSerial } from './date.ts';
import {
  builtInFormat,
  inkOf,
  showDifference,
  showNumber,
  showsDate,
  showText,
} from './number-format.ts';

describe('shown text', () => {
  // Codes and results as the tables of ECMA-376 Part 1, 18.8.31 (numFmts) describe the placeholders.
  test.each([
    [1234.5, '#,##0.00', '1,234.50'],
    [0.256, '0%', '26%'],
    [-3, '0.0;[Red](0.0)', '(3.0)'],
    [0, '0;-0;"none"', 'none'],
    [5.25, '# ?/?', '5 1/4'],
    [39448, 'yyyy-mm-dd', '2008-01-01'],
    [1.5, '[h]:mm', '36:00'],
    [12345, '0.00E+00', '1.23E+04'],
    // The language of a code (ECMA-376 Part 1, 18.8.31; the numbers are those of MS-LCID, from memory).
    [46300, '[$-407]d. mmmm yyyy', '5. Oktober 2026'],
    [46300, '[$-40C]dddd d mmmm yyyy', 'lundi 5 octobre 2026'],
  ])('%d under %s shows %s', (value, code, text) => {
    expect(showNumber(value, code)).toBe(text);
  });

  test('a date of the 1904 system shows the day it means there', () => {
    expect(showNumber(0, 'yyyy-mm-dd', '1904')).toBe('1904-01-01');
    expect(showNumber(0, '0.0', '1904')).toBe('0.0');
  });

  test('a code that makes no sense shows the value as it is', () => {
    expect(showNumber(3, '[[[')).toBe('3');
  });

  test('a text follows the fourth section', () => {
    expect(showText('late', '0;0;0;"note: "@')).toBe('note: late');
    expect(showText('late', 'General')).toBe('late');
  });

  test('built-in formats go by their number (ECMA-376 Part 1, 18.8.30)', () => {
    expect(builtInFormat(4)).toBe('#,##0.00');
    expect(builtInFormat(14)).toBe('mm-dd-yy');
    expect(builtInFormat(46)).toBe('[h]:mm:ss');
    expect(builtInFormat(163)).toBe('General');
  });

  test('points in time are dates, elapsed times are amounts', () => {
    expect(showsDate('d mmm yyyy')).toBe(true);
    expect(showsDate('h:mm')).toBe(true);
    expect(showsDate('[h]:mm')).toBe(false);
    expect(showsDate('0.00')).toBe(false);
    expect(showsDate('"day" 0')).toBe(false);
  });

  test('a format can set the colour of its letters', () => {
    expect(inkOf(-1, '0;[Red]-0')).toBe('#FF0000');
    expect(inkOf(1, '0;[Red]-0')).toBeUndefined();
  });
});

describe('codes that are made to take long', () => {
  test.each(['0'.repeat(20_000), '"a'.repeat(20_000), '['.repeat(20_000), '?/?'.repeat(5_000)])(
    '%#: longer than any program writes, they count as none',
    (code) => {
      expect(showNumber(0.5, code)).toBe('0.5');
      expect(showText('a', code)).toBe('a');
      expect(showsDate(code)).toBe(false);
      expect(inkOf(1, code)).toBeUndefined();
    },
  );

  test('a text that is named many times does not grow beyond what a cell holds', () => {
    expect(showText('ab', '@@@')).toBe('ababab');
    const long = 'x'.repeat(30_000);
    expect(showText(long, '@'.repeat(255))).toBe(long);
  });
});

describe('formats of other parts of the world', () => {
  // Common practice: the separators of a number are the workbook's, whatever language its currency names.
  test.each([
    ['[$€-407] #,##0.00', 1234.5, '€ 1,234.50'],
    ['#,##0.00\\ [$zł-415]', 1234567.5, '1,234,567.50 zł'],
    ['[$-409]#,##0.0', 1234.5, '1,234.5'],
    ['[$$-409]#,##0.00;[Red]-[$$-409]#,##0.00', -2, '-$2.00'],
  ])('%s keeps the workbook’s separators', (code, value, text) => {
    expect(showNumber(value, code)).toBe(text);
  });

  test('months are in the language that a date names', () => {
    expect(showNumber(46_300, '[$-407]d. mmmm yyyy')).toBe('5. Oktober 2026');
  });

  // First days of the eras: Japan's era names law and the cabinet orders under it; the codes of 18.8.31.
  test.each([
    ['2019-05-01', '令和1年'],
    ['2019-04-30', '平成31年'],
    ['1989-01-08', '平成1年'],
    ['1989-01-07', '昭和64年'],
    ['1926-12-25', '昭和1年'],
    ['1926-12-24', '大正15年'],
    ['1912-07-30', '大正1年'],
    ['1912-07-29', '明治45年'],
  ])('%s is in the year %s', (day, year) => {
    expect(showNumber(isoToSerial(day, '1900'), '[$-411]ggge"年"')).toBe(year);
  });

  test('eras by letter and with two digits, and as plain codes elsewhere', () => {
    const day = isoToSerial('2026-10-05', '1900');
    expect(showNumber(day, '[$-411]ge.m.d;@')).toBe('R8.10.5');
    expect(showNumber(day, '[$-ja-JP-x-gannen]ggee"年"m"月"d"日"')).toBe('令08年10月5日');
    expect(showNumber(day, '"gegen" d.m.yyyy')).toBe('gegen 5.10.2026');
  });

  test('the built-in dates of East Asia are dates in figures, not numbers of days', () => {
    expect(showNumber(46_300, builtInFormat(31))).toBe('2026-10-05');
    expect(showNumber(0.75, builtInFormat(32))).toBe('18:00');
  });

  // Common practice: signs instead of a day before the first; counted from 1904 with a sign.
  test('there is no day before the first', () => {
    expect(showNumber(-5, 'd mmm yyyy')).toBe('######');
    expect(showNumber(-1, 'yyyy-mm-dd', '1904')).toBe('-1904-01-02');
    expect(showNumber(-0.5, '[h]:mm')).toBe('-12:00');
  });
});

describe('differences', () => {
  test.each([
    [7, '#,##0', '+7'],
    [-1200, '#,##0', '−1,200'],
    [0.1 + 0.2, 'General', '+0.3'],
    [-0.04, '0.00;(0.00)', '−0.04'],
    [0.0388888, '0%', '+3.9 pts'],
    [0.3, '0', '+0.3'],
  ])('%d under %s is written %s', (difference, code, text) => {
    expect(showDifference(difference, code)).toBe(text);
  });
});

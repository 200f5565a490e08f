import { describe, expect, test } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import { format } from 'numfmt';
import * as xlsx from 'xlsx';
import { builtInFormat, showNumber } from './number-format.ts';

/** Every built-in code that is the same in all languages (ECMA-376 Part 1, 18.8.30). */
const BUILT_IN = [
  0, 1, 2, 3, 4, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22, 37, 38, 39, 40, 45, 46, 47,
  48, 49,
];
const CUSTOM = [
  '0.000',
  '#,##0',
  '#,##0.0',
  '0.0%',
  '$#,##0.00',
  '"EUR" 0.00',
  '0.00" m"',
  '#,##0;[Red]-#,##0',
  '#,##0.00;(#,##0.00);"-"',
  'yyyy-mm-dd',
  'd mmm yyyy',
  'dddd d mmmm yyyy',
  'mmm yy',
  'hh:mm',
  'h:mm AM/PM',
  '[h]:mm:ss',
  '[mm]:ss',
  'yyyy-mm-dd hh:mm',
  '0.00E+00',
  '# ??/??',
  '000',
  '00000',
  '0,',
  '0.0,,',
  '#',
  '#.##',
  '_(#,##0_);(#,##0)',
  '0;-0;;@',
  '"a"0"b"',
  '0\\x',
  'ss.00',
  'm/d/yyyy',
  'mm/dd/yy',
  'ddd',
  'mmmmm',
  '#,##0.00_-',
  '0.###',
  '+0;-0;0',
  '[<0]"minus";0',
];
const VALUES = [
  0, 1, 0.5, 1234.567, 12, 0.005, 46_300, 46_300.75, 0.999, 1e6, 1e-7, 0.3, 99.9999, -12.25, -1,
];

// Reference library: the formatter of xlsx 0.18.5. Left out: negative values under date codes (there is no such date;
// the reference shows nothing) and the one value below where it drops a zero (`100.E+0`).
describe('format codes show what a reference library shows', () => {
  test.each([...BUILT_IN.map(builtInFormat), ...CUSTOM])('%s', (code) => {
    const isTime = /[ymdhs]/i.test(code.replace(/"[^"]*"|\[Red\]/g, ''));
    for (const value of VALUES) {
      if ((isTime && value < 0) || (code === '##0.0E+0' && value === 99.9999)) continue;
      expect([value, showNumber(value, code)]).toEqual([value, xlsx.SSF.format(code, value)]);
    }
  });
});

test('the short way for common codes shows what the library shows', () => {
  fc.assert(
    fc.property(
      fc.oneof(
        fc.integer({ min: -1e9, max: 1e9 }),
        fc.integer({ min: -1e9, max: 1e9 }).map((value) => value / 1000),
        fc.double({ min: -1e7, max: 1e7, noNaN: true }),
      ),
      fc.constantFrom('0', '0.0', '0.00', '0.0000', '#,##0', '#,##0.00', '0%', '0.0%'),
      (value, code) => {
        expect(showNumber(value, code)).toBe(format(code, value));
      },
    ),
    { numRuns: runs(2_000) },
  );
});

test.each([
  [0.999, '# ?/?', '1    '],
  [2.97, '# ?/8', '3    '],
  [-1.999, '# ??/??', '-2      '],
  [0.96, '?/8', '8/8'],
])('%d under %s is made whole: %j', (value, code, text) => {
  // Common practice: a fraction that rounds up to one is no fraction.
  if (code === '?/8') expect(showNumber(value, code).trim()).toBe(text);
  else expect(showNumber(value, code)).toBe(text);
});

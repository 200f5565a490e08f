import { expect, test } from '@jest/globals';
import { tinted } from './colour.ts';

// ECMA-376 Part 1, 18.8.19 (tint): white at -0.5 has half its luminance; black at +0.5 the same from below.
test.each([
  ['FFFFFF', -0.5, '808080'],
  ['000000', 0.5, '808080'],
  ['FFFFFF', -0.25, 'BFBFBF'],
  ['4F81BD', 0, '4F81BD'],
  ['FF0000', 1, 'FFFFFF'],
  ['FF0000', -1, '000000'],
])('%s with tint %d is %s', (hex, tint, result) => {
  expect(tinted(hex, tint)).toBe(result);
});

import { describe, expect, it } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import { wildcardSearch, wildcardTest } from './wildcard.ts';

/** The same by a regular expression: right for short patterns, and far too slow for some long ones. */
function regular(pattern: string, isWhole: boolean): RegExp {
  const source = pattern.replace(
    /~([*?~])|([*?])|([\\^$.|+()[\]{}])/g,
    (_, plain, wild, special) =>
      plain ? `\\${plain}` : wild ? (wild === '*' ? '[\\s\\S]*' : '[\\s\\S]') : `\\${special}`,
  );
  return new RegExp(isWhole ? `^${source}$` : source, 'i');
}

describe('wildcards', () => {
  // ODF 1.3 Part 4, 4.11.9 (wildcards in formulas); the escape with ~ is there too.
  it.each([
    ['sea*', 'Sea aster', true],
    ['sea*', 'The sea', false],
    ['s?a', 'SEA', true],
    ['s?a', 'sa', false],
    ['100~%', '100~%', true],
    ['~*', '*', true],
    ['~*', 'x', false],
    ['~?a~~', '?a~', true],
    ['*', '', true],
    ['?', '', false],
    ['*aster', 'Sea aster', true],
    ['a*a', 'a', false],
    ['straße', 'STRASSE', false],
    ['İ*', 'İstanbul', true],
  ])('%s of %s: %s', (pattern, text, is) => {
    expect(wildcardTest(pattern)(text)).toBe(is);
  });

  it('say the same as a regular expression', () => {
    const pattern = fc.stringMatching(/^[abB*?~.]{0,7}$/);
    const text = fc.stringMatching(/^[abAB*?~.]{0,12}$/);
    fc.assert(
      fc.property(pattern, text, fc.nat(12), (wanted, within, from) => {
        expect(wildcardTest(wanted)(within)).toBe(regular(wanted, true).test(within));
        const start = Math.min(from, within.length);
        const at = within.slice(start).search(regular(wanted, false));
        expect(wildcardSearch(wanted, within, start)).toBe(at < 0 ? -1 : at + start);
      }),
      { seed: 4, numRuns: runs(3000) },
    );
  });

  // A regular expression would go on with these for longer than the world is old.
  it('end for patterns that can be tried in many ways', () => {
    const pattern = `${'*a'.repeat(120)}*b`;
    const text = 'a'.repeat(32_000);
    expect(wildcardTest(pattern)(text)).toBe(false);
    expect(wildcardSearch(pattern, text, 0)).toBe(-1);
    expect(wildcardTest('?'.repeat(200))(text)).toBe(false);
  });
});

import { describe, expect, it } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import { PIXELS_PER_POINT, shippedFamily, textWidth, wrapText } from './measure.ts';

const TEXTS = [
  'Plots with a survival below 60 %',
  'Süßgräser – “Ärger” 25 °C',
  '1,234,567.89 Ελληνικά и кириллица',
];

describe('widths of text', () => {
  // Advances of the font files at 16 pixels, read with opentype.js 2.0.0 without kerning.
  it.each([
    ['Calibri', {}, [207.508, 166.672, 238.078]],
    ['Calibri', { bold: true, italic: true }, [212.891, 170.695, 241.688]],
    ['Arial', { bold: true }, [244.523, 200.25, 273.289]],
    ['Source Serif 4', { italic: true }, [227.968, 180.56, 260.688]],
    ['Source Sans 3', {}, [212.848, 168.592, 241.6]],
  ])('of %s %j are those of its font file', (family, style, widths) => {
    TEXTS.forEach((text, at) => {
      // Widths are kept in thousandths of the letter size: half of one for every letter at most.
      const gap = Math.abs(textWidth(text, { family, size: 12, ...style }) - widths[at]!);
      expect(gap).toBeLessThanOrEqual(text.length * 0.0005 * 16);
    });
  });

  it('of Calibri 11 give a digit of 7 pixels (ECMA-376 Part 1, 18.3.1.13, example)', () => {
    expect(Math.floor(textWidth('0', { family: 'Calibri', size: 11 }))).toBe(7);
  });

  it('grow with the letters and count a script of East Asia as whole squares', () => {
    expect(textWidth('潮汐', { family: 'Calibri', size: 9 })).toBeCloseTo(2 * 9 * PIXELS_PER_POINT);
  });
});

describe('families that stand in', () => {
  it('have the same widths for the usual ones and the same kind for others', () => {
    expect(shippedFamily('Calibri')).toBe('Carlito');
    expect(shippedFamily('ARIAL')).toBe('Arimo');
    expect(shippedFamily('Times New Roman')).toBe('Source Serif 4');
    expect(shippedFamily('Some Sans')).toBe('Carlito');
  });
});

describe('breaking text into lines', () => {
  const letters = { family: 'Calibri', size: 11 };

  it('breaks behind spaces and hyphens', () => {
    expect(wrapText('Sea lavender by the well-kept sluice', letters, 90)).toEqual([
      'Sea lavender ',
      'by the well-',
      'kept sluice',
    ]);
  });

  it('keeps a code with a number whole (UAX 14, LB25)', () => {
    expect(wrapText('plot SC-04', letters, 40)).toEqual(['plot ', 'SC-04']);
  });

  it('keeps the lines that were typed', () => {
    expect(wrapText('one\n\ntwo', letters, 200)).toEqual(['one', '', 'two']);
  });

  it('breaks a word that is too long for a line anywhere', () => {
    expect(wrapText('abcdefghij', letters, 30).join('')).toBe('abcdefghij');
  });

  it('loses nothing and fits every line, for any text', () => {
    fc.assert(
      fc.property(
        fc.string({ maxLength: 60 }),
        fc.integer({ min: 20, max: 300 }),
        (text, width) => {
          const plain = text.replace(/[\r\n]/g, ' ');
          const lines = wrapText(plain, letters, width);
          expect(lines.join('')).toBe(plain);
          for (const line of lines) {
            if ([...line.trimEnd()].length > 1)
              expect(textWidth(line.trimEnd(), letters)).toBeLessThanOrEqual(width + 0.1);
          }
        },
      ),
      { seed: 7, numRuns: runs(400) },
    );
  });
});

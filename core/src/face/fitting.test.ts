import { describe, expect, it } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import { textWidth } from '../look/fonts/measure.ts';
import { CELL_PADDING, PLAIN_LETTERS } from '../look/layout.ts';
import { showNumber } from '../sheet/number-format.ts';
import type { Cell, Dress } from '../sheet/sheet.ts';
import { fittedText, isTextCut } from './fitting.ts';

const letters = { family: 'Calibri', size: 11 };
const dress: Dress = { letters };
const number = (value: number, format?: string): Cell => ({
  row: 1,
  column: 1,
  type: 'number',
  value,
  text: showNumber(value, format ?? 'General'),
  ...(format ? { format } : {}),
});
/** Room for so many digits with the cell's padding at its sides. */
const room = (digits: number) => textWidth('0'.repeat(digits), letters) + 6;

describe('a number in a column too narrow for it', () => {
  // Rounding of General to the column and hash marks for what is too long are common practice of spreadsheet programs.
  it.each([
    [98765432.1, 8, '98765432'],
    [98765432.1, 5, '#####'],
    [0.3129617, 5, '0.313'],
    [0.9996, 4, '1'],
    [-12.3456, 5, '-12.35'],
    [1.005, 4, '1.01'],
    [0.0004, 4, '####'],
    [1.234567e20, 7, '1.2E+20'],
  ])('%s in the room of %s digits shows %s', (value, digits, shown) => {
    const text = fittedText(number(value), dress, room(digits), 'source');
    expect(text.startsWith('#') ? '#' : text).toBe(shown.startsWith('#') ? '#' : shown);
  });

  it('is never rounded under a format of its own', () => {
    expect(fittedText(number(1234.5, '0.00'), dress, room(5), 'source')).toMatch(/^#+$/);
  });

  it('that was not computed is a question mark', () => {
    const unknown: Cell = {
      row: 1,
      column: 1,
      type: 'uncomputed',
      value: '',
      text: 'not computed',
    };
    expect(fittedText(unknown, dress, 40, 'source')).toBe('?');
    expect(fittedText(unknown, dress, 120, 'source')).toBe('not computed');
  });

  it('is left as it is where it fits, and so are texts', () => {
    expect(fittedText(number(12.5), dress, room(6), 'source')).toBe('12.5');
    const text: Cell = { row: 1, column: 1, type: 'text', value: 'Sea aster', text: 'Sea aster' };
    expect(fittedText(text, dress, 10, 'source')).toBe('Sea aster');
  });

  it('never shows another figure than it is: rounded right, or hash marks, and within its room', () => {
    const values = fc.double({ min: -1e12, max: 1e12, noNaN: true });
    fc.assert(
      fc.property(values, fc.integer({ min: 12, max: 120 }), (value, width) => {
        fc.pre(value === 0 || Math.abs(value) > 1e-300);
        const cell = number(value);
        const text = fittedText(cell, dress, width, 'source');
        if (/^#+$/.test(text)) return;
        const decimals = text.split('E')[0]!.split('.')[1]?.length ?? 0;
        const unit = 10 ** (Number(text.split('E')[1] ?? 0) - decimals);
        expect(Math.abs(Number(text) - value)).toBeLessThanOrEqual(unit * 0.5000001);
        if (value !== 0) expect(Number(text)).not.toBe(0);
        expect(textWidth(text, letters)).toBeLessThanOrEqual(width - 6 + 1);
      }),
      { seed: 14, numRuns: runs(2000) },
    );
  });
});

describe('a text longer than its cell', () => {
  const text = (value: string): Cell => ({ row: 1, column: 1, type: 'text', value, text: value });
  const dressed = (part: Partial<Dress>): Dress => ({ letters: PLAIN_LETTERS, ...part });

  it('is known to be cut, unless its lines are broken or it is turned', () => {
    const long = text('A longer note than there is room for');
    expect(isTextCut(long, undefined, 80, 'source')).toBe(true);
    expect(isTextCut(text('short'), undefined, 80, 'source')).toBe(false);
    expect(isTextCut(long, dressed({ wrap: true }), 80, 'source')).toBe(false);
    expect(isTextCut(long, dressed({ rotation: 90 }), 80, 'source')).toBe(false);
    expect(isTextCut({ ...long, type: 'number', value: 1 }, undefined, 80, 'source')).toBe(false);
  });

  it('is cut from the width on that its letters need, with its indent', () => {
    const words = text('Sea purslane');
    const needed = textWidth(words.text, PLAIN_LETTERS) + 2 * CELL_PADDING.source.x;
    expect(isTextCut(words, undefined, needed, 'source')).toBe(false);
    expect(isTextCut(words, undefined, needed - 3, 'source')).toBe(true);
    expect(isTextCut(words, dressed({ indent: 1 }), needed, 'source')).toBe(true);
  });
});

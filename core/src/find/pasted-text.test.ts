import { describe, expect, test } from '@jest/globals';
import { readPastedText } from './pasted-text.ts';

describe('text with tabs', () => {
  test('rows and cells, with quotes around what holds tabs and line ends', () => {
    expect(readPastedText('Plot\tPlanted\r\n"North\nbank"\t"1 ""big"""\r\n')).toEqual([
      ['Plot', 'Planted'],
      ['North\nbank', '1 "big"'],
    ]);
  });

  test('an empty last cell stays, and so does a row that is empty inside', () => {
    expect(readPastedText('a\t\n\t\nb\t2')).toEqual([
      ['a', ''],
      ['', ''],
      ['b', '2'],
    ]);
  });

  test('words are no table', () => {
    expect(readPastedText('A sentence,\nand another.')).toBeNull();
  });
});

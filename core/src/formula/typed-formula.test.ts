import { expect, test } from '@jest/globals';
import { whyNotTyped } from './typed-formula.ts';

const known = {
  sheets: ['Counts', 'My notes'],
  tables: [{ name: 'Plots', columns: ['Plot', 'Planted'] }],
};

test.each([
  ['SUM(A1:B9)*2'],
  ["counts!A1+'My notes'!B2"],
  ['SUM(plots[Planted])'],
  ['NOSUCH(1)+NoName'],
  ['IF(A1>2,"[x]!",{1,2})'],
])('%s can be written', (text) => {
  expect(whyNotTyped(text, known)).toBeNull();
});

test.each([
  ['SUM(', 'it does not read as one'],
  [`1${'+1'.repeat(5_000)}`, 'it is longer than 8,192 signs'],
  ['Nope!A1', 'there is no sheet Nope'],
  ['SUM(Nope[Planted])', 'there is no table Nope'],
  ['SUM(Plots[Set])', 'the table Plots has no column Set'],
  ['[2]Counts!A1', 'is not in this workbook'],
  ["'C:\\[other.xlsx]Counts'!A1", 'it does not read as one'],
  ['SUM(Counts:Notes!A1)', 'is not in this workbook'],
  ['LET(a,1,a)', 'names made within a formula are not written here'],
])('%s cannot be written', (text, why) => {
  expect(whyNotTyped(text, known)).toContain(why);
});

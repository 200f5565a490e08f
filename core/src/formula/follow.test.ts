import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { type LineChange, movedArea, movedLine } from '../sheet/line-change.ts';
import { followFormula } from './follow.ts';

const change = (
  kind: LineChange['kind'],
  axis: LineChange['axis'],
  at: number,
  count = 1,
): LineChange => ({ sheet: 'Counts', kind, axis, at, count });
const putRow = change('put in', 'rows', 5, 2);
const cutRow = change('take out', 'rows', 5, 2);
const putColumn = change('put in', 'columns', 3);
const cutColumn = change('take out', 'columns', 3);

describe('references follow rows and columns (common practice of spreadsheets)', () => {
  test.each<[LineChange, string, string]>([
    [putRow, 'SUM(A1:A9)', 'SUM(A1:A11)'],
    // Before the first, the whole moves; behind the last, nothing is taken in.
    [putRow, 'SUM(A5:A9)', 'SUM(A7:A11)'],
    [putRow, 'SUM(A1:A4)', 'SUM(A1:A4)'],
    [putRow, '$A$5+A$6-$B4', '$A$7+A$8-$B4'],
    [putRow, 'SUM(5:6)+SUM($4:$9)', 'SUM(7:8)+SUM($4:$11)'],
    [putRow, 'SUM(A:A,B:$C)', 'SUM(A:A,B:$C)'],
    [putRow, "Notes!A9&'Counts'!A9&counts!B5", "Notes!A9&'Counts'!A11&counts!B7"],
    [putRow, '"A9"&[1]Counts!A9&Plots[Planted]', '"A9"&[1]Counts!A9&Plots[Planted]'],
    [putRow, 'SUM(B9:$A1)', 'SUM($A1:B11)'],
    [cutRow, 'SUM(A1:A9)', 'SUM(A1:A7)'],
    [cutRow, 'SUM(A5:A9)', 'SUM(A5:A7)'],
    [cutRow, 'SUM(A1:A5)', 'SUM(A1:A4)'],
    [cutRow, 'A5+SUM(A5:B6)+A7', '#REF!+SUM(#REF!)+A5'],
    [putColumn, 'VLOOKUP(A1,$B:$D,C2)', 'VLOOKUP(A1,$B:$E,D2)'],
    [cutColumn, 'SUM(B2:D2)+C9', 'SUM(B2:C2)+#REF!'],
    [cutColumn, 'SUM(C:C,2:2)', 'SUM(#REF!,2:2)'],
  ])('%#: %s becomes %s', (made, before, after) => {
    expect(followFormula(before, 'Counts', made)).toBe(after);
  });

  test('of another sheet than the one that it stands in, only those that name it', () => {
    expect(followFormula('A9+Counts!A9', 'Notes', putRow)).toBe('A9+Counts!A11');
  });

  test('several sheets at once are left to another program', () => {
    expect(followFormula('SUM(Counts:Notes!A9)', 'Total', putRow)).toBeNull();
  });

  test('what is put in and taken out again leaves references as they were', () => {
    const line = fc.integer({ min: 1, max: 60 });
    fc.assert(
      fc.property(line, line, line, line, line, fc.boolean(), (a, b, c, d, at, isRows) => {
        const area = {
          top: Math.min(a, b),
          bottom: Math.max(a, b),
          left: Math.min(c, d),
          right: Math.max(c, d),
        };
        const made = change('put in', isRows ? 'rows' : 'columns', at, 3);
        const back = { ...made, kind: 'take out' as const };
        expect(movedArea(back, movedArea(made, area)!)).toEqual(area);
        const there = movedLine(made, a)!;
        expect(movedLine(back, there)).toBe(a);
      }),
    );
  });
});

import { describe, expect, test } from '@jest/globals';
import { changeOf, changeSlip, type Snapshot, takePart, wholeChoice } from '@tether/core';
import { packSnapshot, unpackSnapshot } from '../storage/packed.ts';
import comparePacked, { type PartTaken, toJson } from './compare-packed.ts';

function snapshotOf(figures: number[]): Snapshot {
  return {
    sheet: 'Counts',
    area: { top: 1, left: 1, bottom: figures.length, right: 2 },
    cells: figures.flatMap((figure, at) => [
      { row: at + 1, column: 1, type: 'text' as const, value: `Plot ${at}`, text: `Plot ${at}` },
      { row: at + 1, column: 2, type: 'number' as const, value: figure, text: String(figure) },
    ]),
    merges: [],
    columns: [],
    rows: [],
    dresses: [],
    defaults: { columnWidth: 9, rowHeight: 15, digitWidth: 7 },
  };
}
const [one, other] = [snapshotOf([1, 2, 3]), snapshotOf([1, 20, 30])];
const [before, after] = [packSnapshot(one).packed, packSnapshot(other).packed];

describe('comparing in a thread gives', () => {
  test('the slip and the change that comparing gives anywhere', () => {
    expect(comparePacked({ before, after, want: 'slip' })).toEqual(changeSlip(one, other));
    expect(comparePacked({ before, after, want: 'change' })).toEqual(changeOf(one, other));
    expect(comparePacked({ before, after: before, want: 'change' })).toBeNull();
  });

  test('the chosen part, what it changes, and what is left', () => {
    const slip = changeSlip(one, other);
    const choice = { ...wholeChoice(slip), rows: wholeChoice(slip).rows.slice(0, 1) };
    const taken = comparePacked({ before, after, want: 'part', choice }) as NonNullable<PartTaken>;
    const part = takePart(one, other, slip, choice);
    expect(unpackSnapshot(taken.part.packed)).toEqual(part);
    expect(taken.left).toEqual(changeOf(part, other));
    expect(taken.summary).toBe('1 cell changed');
  });

  test('nothing for a part that is all of it', () => {
    const choice = wholeChoice(changeSlip(one, other));
    expect(comparePacked({ before, after, want: 'part', choice })).toBeNull();
  });

  test('a state as it is sent', () => {
    expect(JSON.parse(toJson(before))).toEqual(one);
  });
});

import { describe, expect, test } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import type { Snapshot } from '../sheet/sheet.ts';
import { type FixtureValue, snapshotOf } from '../sheet/snapshot.fixture.ts';
import { changeSlip } from './change-slip.ts';
import { isWholeChoice, takePart, wholeChoice } from './part.ts';
import { isEmptySlip } from './slip-words.ts';

const HEADER = ['Plot', 'Planted', 'Surviving'];

function texts({ cells, area }: Snapshot): string[][] {
  const rows: string[][] = [];
  for (let row = area.top; row <= area.bottom; row++) {
    rows.push(cells.filter((cell) => cell.row === row).map(({ text }) => text));
  }
  return rows;
}

describe('taking a part', () => {
  const before = snapshotOf([HEADER, ['SC-01', 120, 96], ['SC-02', 80, 71], ['SC-03', 60, 12]]);
  const after = snapshotOf([HEADER, ['SC-01', 124, 99], ['SC-05', 40, 40], ['SC-02', 80, 70]]);
  const slip = changeSlip(before, after);
  const rowOf = (label: string) => slip.rows.findIndex((row) => row.label === label);

  test('one cell of a row leaves the other as it was', () => {
    const part = takePart(before, after, slip, {
      rows: [{ row: rowOf('SC-01'), columns: [3] }],
      arrangement: false,
    });
    expect(texts(part)).toEqual([
      HEADER,
      ['SC-01', '120', '99'],
      ['SC-02', '80', '71'],
      ['SC-03', '60', '12'],
    ]);
    expect(changeSlip(part, after).rows.map(({ label }) => label)).toEqual(
      expect.arrayContaining(['SC-01', 'SC-05', 'SC-02', 'SC-03']),
    );
  });

  test('an inserted row comes in at its place, a removed one that was not chosen stays', () => {
    const part = takePart(before, after, slip, {
      rows: [{ row: rowOf('SC-05'), columns: null }],
      arrangement: false,
    });
    expect(texts(part)).toEqual([
      HEADER,
      ['SC-01', '120', '96'],
      ['SC-05', '40', '40'],
      ['SC-02', '80', '71'],
      ['SC-03', '60', '12'],
    ]);
    expect(part.cells.map(({ row }) => row)).toEqual([1, 1, 1, 2, 2, 2, 3, 3, 3, 4, 4, 4, 5, 5, 5]);
  });

  test('merged cells move with their rows', () => {
    const merged = { ...before, merges: [{ top: 3, left: 1, bottom: 4, right: 1 }] };
    const part = takePart(merged, after, changeSlip(merged, after), {
      rows: [{ row: rowOf('SC-05'), columns: null }],
      arrangement: false,
    });
    expect(part.merges).toEqual([{ top: 4, left: 1, bottom: 5, right: 1 }]);
  });

  test('a choice knows whether it is everything', () => {
    expect(isWholeChoice(slip, wholeChoice(slip))).toBe(true);
    expect(isWholeChoice(slip, { rows: wholeChoice(slip).rows.slice(1), arrangement: true })).toBe(
      false,
    );
  });
});

const value: fc.Arbitrary<FixtureValue> = fc.oneof(
  fc.integer({ min: 0, max: 4 }),
  fc.constantFrom('creek', 'sluice', null),
);
const rows = fc.integer({ min: 1, max: 4 }).chain((width) =>
  fc.tuple(
    fc.array(fc.array(value, { minLength: width, maxLength: width }), {
      minLength: 1,
      maxLength: 9,
    }),
    fc.array(fc.array(value, { minLength: width, maxLength: width }), {
      minLength: 1,
      maxLength: 9,
    }),
  ),
);

test('whatever is chosen first, taking the rest after it gives the source; nothing chosen changes nothing', () => {
  fc.assert(
    fc.property(rows, fc.infiniteStream(fc.integer({ min: 0, max: 2 })), ([old, now], picks) => {
      const [before, after] = [snapshotOf(old), snapshotOf(now)];
      const slip = changeSlip(before, after);
      const nothing = takePart(before, after, slip, { rows: [], arrangement: false });
      expect(isEmptySlip(changeSlip(before, nothing))).toBe(true);
      const whole = takePart(before, after, slip, wholeChoice(slip));
      expect(isEmptySlip(changeSlip(whole, after))).toBe(true);
      const chosen = slip.rows.flatMap((row, index) => {
        const pick = picks.next().value;
        if (pick === 0) return [];
        const columns = pick === 1 || row.kind !== 'changed' ? null : [row.cells[0]!.column];
        return [{ row: index, columns }];
      });
      const part = takePart(before, after, slip, { rows: chosen, arrangement: false });
      const rest = changeSlip(part, after);
      const done = takePart(part, after, rest, wholeChoice(rest));
      expect(isEmptySlip(changeSlip(done, after))).toBe(true);
      // Cells stand in order, each once, within the area.
      const keys = part.cells.map(({ row, column }) => row * 1000 + column);
      expect(keys).toEqual([...new Set(keys)].sort((a, b) => a - b));
    }),
    { numRuns: runs(500) },
  );
});

import { describe, expect, test } from '@jest/globals';
import { type FilePrint, likeness, rankCandidates } from './candidates.ts';
import { printSheet } from './sheet-print.ts';
import { sketchSheet } from './sketch.ts';

function file(
  path: string,
  values: readonly (string | number)[],
  hash: string | null = path,
): FilePrint {
  const cells = values.map((value, at) => ({
    ...{ row: at + 1, column: 1, value },
    type: typeof value === 'number' ? ('number' as const) : ('text' as const),
  }));
  return {
    ...{ path, hash, bytes: 1_000, names: [], changedAt: null },
    sheets: [{ name: 'Counts', sketch: sketchSheet(printSheet('Counts', cells)!) }],
    headers: ['Plot', 'Planted'],
  };
}
const figures = (from: number, count = 100) =>
  Array.from({ length: count }, (_, at) => from + at * 3);
const own = file('monitoring/counts.xlsx', figures(0), 'abc');
const ranked = (...known: FilePrint[]) => rankCandidates(own, known);

describe('a file that went', () => {
  test('is found by its bytes, wherever it went', () => {
    const [first] = ranked(
      file('monitoring/counts-old.xlsx', figures(0, 97)),
      file('archive/2026/q3.xlsx', figures(0), 'abc'),
    );
    expect(first).toMatchObject({ path: 'archive/2026/q3.xlsx', isCertain: true });
    expect(first!.reasons).toContain('It is the same byte for byte.');
  });

  test('and of two that are the same nobody chooses, the likest first', () => {
    const [first, second] = ranked(
      file('archive/counts.xlsx', figures(0), 'abc'),
      file('monitoring/counts 2.xlsx', figures(0), 'abc'),
    );
    expect([first!.path, second!.path]).toEqual([
      'monitoring/counts 2.xlsx',
      'archive/counts.xlsx',
    ]);
    expect([first!.isCertain, second!.isCertain]).toEqual([false, false]);
    expect(first!.reasons).toContain('Another file is the same byte for byte.');
  });

  test('is found where it was changed too, by what it still holds', () => {
    const [first, ...others] = ranked(
      file('works/piles.xlsx', figures(5_000)),
      file('works/final.xlsx', [...figures(0, 85), ...figures(90_000, 20)]),
    );
    expect(first).toMatchObject({ path: 'works/final.xlsx', isCertain: true });
    expect(first!.reasons[0]).toMatch(/^7\d % of what it holds is the same\.$/);
    // The same words at its head are little.
    expect(others).toMatchObject([{ score: 0.2, isCertain: false }]);
  });

  test('is not certain where others come near, and that is said', () => {
    const [first] = ranked(
      file('monitoring/counts a.xlsx', figures(0, 90)),
      file('monitoring/counts b.xlsx', figures(30, 90)),
    );
    expect(first!.isCertain).toBe(false);
    expect(first!.reasons.join(' ')).toContain('is nearly as likely');
  });

  test('with other capital letters is said to be that', () => {
    const [first] = ranked(file('monitoring/Counts.xlsx', figures(0, 99)));
    expect(first!.reasons).toContain('Its name differs only in capital letters.');
    expect(first!.reasons).toContain('It lies in the same folder.');
  });
});

// Dice's coefficient of letter pairs, by hand: `night` and `nacht` share one of four and four.
test('names are compared by pairs of letters', () => {
  expect(likeness('night', 'nacht')).toBe(0.25);
  expect(likeness('counts', 'counts')).toBe(1);
  expect(likeness('a', 'b')).toBe(0);
});

import { expect, test } from '@jest/globals';
import { printSheet } from './sheet-print.ts';
import { SKETCH_SIZE, sharedByBoth, sketchSheet } from './sketch.ts';

const sketch = (from: number, to: number) =>
  sketchSheet(
    printSheet(
      'Counts',
      Array.from({ length: to - from }, (_, at) => ({
        ...{ row: at + 1, column: 1, value: (from + at) * 3 },
        type: 'number' as const,
      })),
    )!,
  );

// The standard error of a bottom-k sketch is the root of J(1-J)/k (Cohen and Kaplan 2007): of many estimates few lie beyond three.
test('what two sheets share is told within its stated error', () => {
  for (let size = 300; size <= 3_000; size += 300) {
    for (const share of [0.1, 0.3, 0.5, 0.7, 0.9]) {
      const shift = Math.round((size * (1 - share)) / (1 + share));
      const exact = (size - shift) / (size + shift);
      const error = Math.sqrt((exact * (1 - exact)) / SKETCH_SIZE);
      const estimate = sharedByBoth(sketch(0, size), sketch(shift, size + shift));
      expect(Math.abs(estimate - exact)).toBeLessThan(4 * error);
    }
  }
});

test('of few values it is exact', () => {
  expect(sharedByBoth(sketch(0, 60), sketch(20, 80))).toBe(0.5);
  expect(sharedByBoth(sketch(0, 60), sketch(60, 90))).toBe(0);
  expect(sharedByBoth(sketch(0, 0), sketch(0, 9))).toBe(0);
  expect(sketch(0, 2_000)).toMatchObject({ size: 2_000 });
});

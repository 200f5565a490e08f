import { describe, expect, test } from '@jest/globals';
import type { Scalar } from '../formula/value.ts';
import { CalcBook } from './calc-book.ts';
import type { CalcCell } from './calc-source.ts';

/** What formulas come to over columns of numbers. */
function computed(columns: number[][], formulas: string[]): Scalar[] {
  const cells: CalcCell[] = columns.flatMap((column, at) =>
    column.map((value, row) => ({ row: row + 1, column: at + 1, value })),
  );
  for (const [at, formula] of formulas.entries()) {
    cells.push({ row: at + 1, column: 20, value: undefined, formula });
  }
  const book = CalcBook.load({ sheets: [{ name: 'Data', cells }], now: 46_355 });
  return formulas.map((_, at) => book.get('Data', at + 1, 20));
}

/** To so many digits. */
function expectClose(found: Scalar, certified: number, digits: number): void {
  const apart = Math.abs(Number(found) - certified) / Math.abs(certified);
  expect(-Math.log10(apart || 1e-16)).toBeGreaterThanOrEqual(digits);
}

// Certified values of NIST's Statistical Reference Datasets (univariate and linear regression), from memory.
describe('published statistics', () => {
  const alternating = (base: number, step: number, pairs: number) => [
    base,
    ...Array.from({ length: pairs }, () => [base - step, base + step]).flat(),
  ];
  test.each([
    ['NumAcc1', [10_000_001, 10_000_003, 10_000_002], 10_000_002, 1],
    ['NumAcc2', alternating(1.2, 0.1, 500), 1.2, 0.1],
    ['NumAcc3', alternating(1_000_000.2, 0.1, 500), 1_000_000.2, 0.1],
    ['NumAcc4', alternating(10_000_000.2, 0.1, 500), 10_000_000.2, 0.1],
  ])('%s', (_, data, mean, spread) => {
    const [average, deviation] = computed([data], ['AVERAGE(A:A)', 'STDEV.S(A:A)']);
    expectClose(average!, mean, 14);
    // The figures themselves hold no more of it: 0.1 behind seven digits.
    expectClose(deviation!, spread, 8);
  });

  test('Norris', () => {
    const pairs = [
      [0.1, 0.2],
      [338.8, 337.4],
      [118.1, 118.2],
      [888, 884.6],
      [9.2, 10.1],
      [228.1, 226.5],
      [668.5, 666.3],
      [998.5, 996.3],
      [449.1, 448.6],
      [778.9, 777],
      [559.2, 558.2],
      [0.3, 0.4],
      [0.1, 0.6],
      [778.1, 775.5],
      [668.8, 666.9],
      [339.3, 338],
      [448.9, 447.5],
      [10.8, 11.6],
      [557.7, 556],
      [228.3, 228.1],
      [998, 995.8],
      [888.8, 887.6],
      [119.6, 120.2],
      [0.3, 0.3],
      [0.6, 0.3],
      [557.6, 556.8],
      [339.3, 339.1],
      [888, 887.2],
      [998.5, 999],
      [778.9, 779],
      [10.2, 11.1],
      [117.6, 118.3],
      [228.9, 229.2],
      [668.4, 669.1],
      [449.2, 448.9],
      [0.2, 0.5],
    ] as const;
    const [intercept, slope, r2, spread] = computed(
      [pairs.map(([y]) => y), pairs.map(([, x]) => x)],
      ['INTERCEPT(A:A,B:B)', 'SLOPE(A:A,B:B)', 'RSQ(A:A,B:B)', 'STEYX(A:A,B:B)'],
    );
    expectClose(intercept!, -0.262323073774029, 11);
    expectClose(slope!, 1.00211681802045, 13);
    expectClose(r2!, 0.999993745883712, 13);
    expectClose(spread!, 0.884796396144373, 11);
  });

  test('Longley', () => {
    const data = [
      [
        60323, 61122, 60171, 61187, 63221, 63639, 64989, 63761, 66019, 67857, 68169, 66513, 68655,
        69564, 69331, 70551,
      ],
      [
        83, 88.5, 88.2, 89.5, 96.2, 98.1, 99, 100, 101.2, 104.6, 108.4, 110.8, 112.6, 114.2, 115.7,
        116.9,
      ],
      [
        234289, 259426, 258054, 284599, 328975, 346999, 365385, 363112, 397469, 419180, 442769,
        444546, 482704, 502601, 518173, 554894,
      ],
      [
        2356, 2325, 3682, 3351, 2099, 1932, 1870, 3578, 2904, 2822, 2936, 4681, 3813, 3931, 4806,
        4007,
      ],
      [
        1590, 1456, 1616, 1650, 3099, 3594, 3547, 3350, 3048, 2857, 2798, 2637, 2552, 2514, 2572,
        2827,
      ],
      [
        107608, 108632, 109773, 110929, 112075, 113270, 115094, 116219, 117388, 118734, 120445,
        121950, 123366, 125368, 127852, 130081,
      ],
      Array.from({ length: 16 }, (_, at) => 1947 + at),
    ];
    // Coefficients, the last first; then what is known of the fit.
    const certified: [string, number][] = [
      ['INDEX(LINEST(A1:A16,B1:G16),1)', 1829.15146461355],
      ['INDEX(LINEST(A1:A16,B1:G16),2)', -0.0511041056535807],
      ['INDEX(LINEST(A1:A16,B1:G16),3)', -1.03322686717359],
      ['INDEX(LINEST(A1:A16,B1:G16),4)', -2.02022980381683],
      ['INDEX(LINEST(A1:A16,B1:G16),5)', -0.035819179292591],
      ['INDEX(LINEST(A1:A16,B1:G16),6)', 15.0618722713733],
      ['INDEX(LINEST(A1:A16,B1:G16),7)', -3482258.63459582],
      ['INDEX(LINEST(A1:A16,B1:G16,TRUE,TRUE),2,1)', 455.478499142212],
      ['INDEX(LINEST(A1:A16,B1:G16,TRUE,TRUE),2,7)', 890420.383607373],
      ['INDEX(LINEST(A1:A16,B1:G16,TRUE,TRUE),3,1)', 0.995479004577296],
      ['INDEX(LINEST(A1:A16,B1:G16,TRUE,TRUE),3,2)', 304.854073561965],
      ['INDEX(LINEST(A1:A16,B1:G16,TRUE,TRUE),4,1)', 330.285339234588],
    ];
    const found = computed(
      data,
      certified.map(([formula]) => formula),
    );
    for (const [at, [, value]] of certified.entries()) expectClose(found[at]!, value, 9);
  });
});

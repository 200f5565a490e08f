import { expect, test } from '@jest/globals';
import { type FixtureValue, snapshotOf } from '../sheet/snapshot.fixture.ts';
import { changeSlip } from './change-slip.ts';
import { dangerOf, harmOf } from './harm.ts';
import { cellsBehind, summariseSlip } from './slip-words.ts';

const COUNTS: FixtureValue[][] = [
  ['Plot', 'Planted', 'Surviving'],
  ['SC-01', 120, 96],
  ['SC-02', 80, 71],
  ['SC-03', 60, 12],
];

function harm(now: FixtureValue[][], was = COUNTS, share = 50) {
  const [before, after] = [snapshotOf(was), snapshotOf(now)];
  return harmOf(dangerOf(before, after, changeSlip(before, after)), share)?.code ?? null;
}

test('a few new figures are taken unseen', () => {
  expect(harm(COUNTS.map((row) => (row[0] === 'SC-02' ? ['SC-02', 80, 70] : row)))).toBeNull();
  expect(harm([...COUNTS, ['SC-04', 40, 40]])).toBeNull();
});

test('an emptied range waits', () => {
  expect(harm([[null, null, null]])).toBe('waits-empty');
});

test('new errors wait, errors that stood there before do not', () => {
  const broken = COUNTS.map((row) =>
    row[0] === 'SC-03' ? ['SC-03', 60, { error: '#REF!' }] : row,
  );
  expect(harm(broken)).toBe('waits-errors');
  expect(harm([...broken, ['SC-04', 40, 40]], broken)).toBeNull();
});

test('formulas that lost their values wait', () => {
  const [before, after] = [snapshotOf(COUNTS), snapshotOf(COUNTS)];
  Object.assign(after.cells[4]!, { type: 'uncomputed', value: '', text: 'not computed' });
  const harmful = harmOf(dangerOf(before, after, changeSlip(before, after)), 50);
  expect(harmful).toMatchObject({ code: 'waits-uncomputed' });
  // Those that had none before are no reason.
  expect(harmOf(dangerOf(after, after, changeSlip(after, after)), 50)).toBeNull();
});

test('a lost header waits, a new column does not', () => {
  expect(harm([['Plot', 'Planted', 'Alive'], ...COUNTS.slice(1)])).toBe('waits-headers');
  expect(harm(COUNTS.map((row, index) => [...row, index === 0 ? 'Cover' : 7]))).toBeNull();
});

test('the share of changed cells is that which was chosen, and small objects are spared', () => {
  const half = COUNTS.map((row, index) => (index === 0 ? row : [row[0]!, 1, 2]));
  expect(harm(half)).toBeNull();
  expect(harm(half, COUNTS, 40)).toBe('waits-share');
  expect(harm([[7]], [[5]], 10)).toBeNull();
});

test('a row of totals that is pushed out of its cells waits, one that stands there still does not', () => {
  const total: FixtureValue[] = ['Together', { sum: 260 }, { sum: 179 }];
  const was = [...COUNTS, total];
  // A row put in above pushes the totals out of a fixed range.
  const pushed = [...COUNTS, ['SC-04', 40, 40]];
  expect(harm(pushed, was)).toBe('waits-totals');
  const slip = changeSlip(snapshotOf(was), snapshotOf(pushed));
  expect(slip.lostTotals).toBe('Together');
  expect(summariseSlip(slip)).toContain('without its row of totals “Together”');
  // It grew with the range, or other rows stand below it.
  expect(
    harm([...COUNTS, ['SC-04', 40, 40], ['Together', { sum: 300 }, { sum: 219 }]], was),
  ).toBeNull();
  expect(harm([...was, ['As counted', 1, 2]], was)).toBeNull();
  // Texts have no formulas: there the numbers say it.
  const text = [...COUNTS, ['All', 260, 179]];
  expect(harm(pushed, text)).toBe('waits-totals');
  expect(harm([...COUNTS, ['SC-04', 40, 41]], [...COUNTS, ['SC-04', 40, 40]])).toBeNull();
});

test('another number format is no change of figures: it is told as a look, and nothing waits for it', () => {
  const shares = Array.from({ length: 20 }, (_, at) => at / 40);
  const shown = (format: string, text: (share: number) => string) => {
    const snapshot = snapshotOf(shares.map((number) => [{ number, format }]));
    return {
      ...snapshot,
      cells: snapshot.cells.map((cell) => ({ ...cell, text: text(Number(cell.value)) })),
    };
  };
  const before = shown('0.00', (share) => share.toFixed(2));
  const after = shown('0%', (share) => `${Math.round(share * 100)}%`);
  const slip = changeSlip(before, after);
  expect(slip.counts).toMatchObject({ cells: 0, looks: 20 });
  expect(summariseSlip(slip)).toBe('20 cells look different');
  expect(dangerOf(before, after, slip).changed).toBe(0);
  expect(cellsBehind(slip)).toBe(20);
  // A day and the number that it is counted by are the same figure.
  const day = snapshotOf([[{ date: '2026-10-05' }]]);
  const counted = snapshotOf([[46_300]]);
  expect(changeSlip(day, counted).counts).toMatchObject({ cells: 0, looks: 1 });
  expect(changeSlip(day, snapshotOf([[46_301]])).counts).toMatchObject({ cells: 1, looks: 0 });
});

test('figures that are others at every save are told from those that changed', () => {
  const at = (number: number, formula: string) => {
    const snapshot = snapshotOf([['Now', 1]]);
    return {
      ...snapshot,
      cells: snapshot.cells.map((cell) =>
        cell.type === 'number' ? { ...cell, value: number, text: `${number}`, formula } : cell,
      ),
    };
  };
  const slip = changeSlip(at(1, 'A1+RAND()'), at(2, 'A1+RAND()'));
  expect(slip.rows[0]!.cells[0]!.kind).toBe('volatile');
  expect(slip.counts).toMatchObject({ cells: 0, volatile: 1 });
  expect(summariseSlip(slip)).toBe('1 cell that changes at every save');
  expect(changeSlip(at(1, 'BRAND(3)'), at(2, 'BRAND(3)')).counts.cells).toBe(1);
  expect(changeSlip(at(1, 'IF(A1="NOW()",1,2)'), at(2, 'IF(A1="NOW()",1,2)')).counts.cells).toBe(1);
  expect(changeSlip(at(1, '1'), at(2, 'NOW()')).counts.cells).toBe(1);
});

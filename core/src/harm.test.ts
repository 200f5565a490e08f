import { expect, test } from '@jest/globals';
import { dangerOf, harmOf } from './harm.ts';
import { changeSlip } from './merge.ts';
import { type FixtureValue, snapshotOf } from './snapshot.fixture.ts';

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

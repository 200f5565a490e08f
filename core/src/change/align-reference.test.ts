import { expect, test } from '@jest/globals';
import { runs } from '@tether/core/testing';
import { diffArrays } from 'diff';
import fc from 'fast-check';
import { type AlignableRow, alignRows } from './align.ts';

// Reference: the package `diff` (Myers, "An O(ND) Difference Algorithm and Its Variations", 1986) over whole rows.

const toRow = (cells: readonly string[]): AlignableRow => ({ cells, label: cells[0] ?? '' });
const keyOf = (cells: readonly string[]) => cells.join('|');

/** Rows that the reference keeps: the longest common subsequence. */
function keptByReference(before: string[][], after: string[][]): number {
  return diffArrays(before.map(keyOf), after.map(keyOf))
    .filter(({ added, removed }) => !added && !removed)
    .reduce((sum, { value }) => sum + value.length, 0);
}

function keptHere(before: string[][], after: string[][]): number {
  return alignRows(before.map(toRow), after.map(toRow)).filter(
    (pair) =>
      pair.before !== null &&
      pair.after !== null &&
      keyOf(before[pair.before]!) === keyOf(after[pair.after]!),
  ).length;
}

const row = fc.array(fc.constantFrom('', 'creek', 'sluice', '1', '2'), {
  minLength: 3,
  maxLength: 3,
});
const rows = fc.array(row, { maxLength: 14 });

test('never keeps more equal rows than the longest common subsequence has', () => {
  fc.assert(
    fc.property(rows, rows, (before, after) => {
      expect(keptHere(before, after)).toBeLessThanOrEqual(keptByReference(before, after));
    }),
    { numRuns: runs(400) },
  );
});

test('keeps exactly as many where every row occurs once and rows only came, went or changed place', () => {
  const ids = fc.uniqueArray(fc.integer({ min: 0, max: 60 }), { maxLength: 25 });
  const named = (numbers: number[]) => numbers.map((id) => [`SC-${id}`, `${id * 7}`, `${id * 5}`]);
  fc.assert(
    fc.property(ids, ids, (before, after) => {
      const [a, b] = [named(before), named(after)];
      expect(keptHere(a, b)).toBe(keptByReference(a, b));
    }),
    { numRuns: runs(400) },
  );
});

test('names the same rows as inserted and removed where no row changed', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.integer({ min: 0, max: 80 }), { minLength: 2, maxLength: 30 }),
      fc.infiniteStream(fc.boolean()),
      (all, keeps) => {
        const named = (numbers: number[]) => numbers.map((id) => [`SC-${id}`, `${id}`, `${id}`]);
        const before = named(all.filter(() => keeps.next().value));
        const after = named(all.filter(() => keeps.next().value));
        const pairs = alignRows(before.map(toRow), after.map(toRow));
        const parts = diffArrays(before.map(keyOf), after.map(keyOf));
        const removed = parts.filter((part) => part.removed).flatMap(({ value }) => value);
        const added = parts.filter((part) => part.added).flatMap(({ value }) => value);
        expect(pairs.filter((p) => p.after === null).map((p) => keyOf(before[p.before!]!))).toEqual(
          removed,
        );
        expect(pairs.filter((p) => p.before === null).map((p) => keyOf(after[p.after!]!))).toEqual(
          added,
        );
      },
    ),
    { numRuns: runs(400) },
  );
});

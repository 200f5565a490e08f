import { expect, test } from '@jest/globals';
import { runs } from '@tether/core/testing';
import { diffArrays } from 'diff';
import fc from 'fast-check';
import { alignSheets } from './align-sheets.ts';
import { printSheet } from './sheet-print.ts';

// Reference: the package `diff` (Myers, "An O(ND) Difference Algorithm and Its Variations", 1986) over whole rows.

const printed = (rows: number[]) =>
  printSheet(
    'Counts',
    rows.flatMap((id, at) =>
      [`SC-${id}`, id * 7, id * 5].map((value, column) => ({
        ...{ row: at + 1, column: column + 1, value },
        type: typeof value === 'number' ? ('number' as const) : ('text' as const),
      })),
    ),
  )!;

test('rows that only came and went are matched as by the reference', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.integer({ min: 1, max: 90 }), { minLength: 2, maxLength: 40 }),
      fc.infiniteStream(fc.boolean()),
      (all, keeps) => {
        const taken = () => all.filter(() => keeps.next().value);
        const [before, after] = [taken(), taken()];
        fc.pre(before.length > 0 && after.length > 0);
        const { rows } = alignSheets(printed(before), printed(after));
        const pairs: [number, number][] = [];
        let [i, j] = [0, 0];
        for (const { added, removed, count } of diffArrays(before, after)) {
          if (added) j += count!;
          else if (removed) i += count!;
          else for (let nth = 0; nth < count!; nth++) pairs.push([i++, j++]);
        }
        const ours = [...rows.to].flatMap((to, at): [number, number][] =>
          to >= 0 && before[at] === after[to] ? [[at, to]] : [],
        );
        expect(ours).toEqual(pairs);
      },
    ),
    { numRuns: runs(400) },
  );
});

test('rows in any order are matched each with itself', () => {
  fc.assert(
    fc.property(
      fc
        .uniqueArray(fc.integer({ min: 1, max: 90 }), { minLength: 3, maxLength: 40 })
        .chain((ids) =>
          fc.tuple(fc.constant(ids), fc.shuffledSubarray(ids, { minLength: ids.length })),
        ),
      ([before, after]) => {
        const { rows, columns } = alignSheets(printed(before), printed(after));
        expect([...rows.to].map((to) => after[to])).toEqual(before);
        expect([...columns.to]).toEqual([0, 1, 2]);
      },
    ),
    { numRuns: runs(200) },
  );
});

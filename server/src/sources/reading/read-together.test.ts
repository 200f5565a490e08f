import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Reach } from '@tether/core';
import { runs } from '@tether/core/testing';
import { writeDemoSources } from '@tether/demo';
import { openSource, takeReach, takeReaches } from '@tether/formats';
import fc from 'fast-check';

let root: string;
beforeAll(async () => {
  root = await mkdtemp(join(tmpdir(), 'tether-together-'));
  await writeDemoSources(root);
});
afterAll(() => rm(root, { recursive: true, force: true }));

const area = fc
  .tuple(fc.integer({ min: 1, max: 18 }), fc.integer({ min: 1, max: 7 }), fc.nat(9), fc.nat(4))
  .map(([top, left, down, right]) => ({ top, left, bottom: top + down, right: left + right }));

test.each([
  ['monitoring/planting-counts.xlsx', 'Counts'],
  ['works/boardwalk-piles.xlsx', 'Piles'],
  ['finance/grant-budget.ods', 'Budget'],
])(
  'ranges of %s that are read together come out as if each were read alone',
  async (path, sheet) => {
    const opened = await openSource(join(root, path), path, {});
    if (!opened.ok) throw new Error(opened.fault.message);
    const source = opened.value;
    await fc.assert(
      fc.asyncProperty(fc.array(area, { minLength: 2, maxLength: 5 }), async (areas) => {
        const reaches = areas.map((each): Reach => ({ kind: 'block', sheet, area: each }));
        const together = await takeReaches(source, reaches);
        for (const [at, reach] of reaches.entries()) {
          // Letter for letter: the same content must have the same hash.
          expect(JSON.stringify(together[at])).toBe(JSON.stringify(await takeReach(source, reach)));
        }
      }),
      { numRuns: runs(60) },
    );
    await source.close();
  },
);

import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Reach, Snapshot } from '@tether/core';
import { saveAsColleague, setCell, writeDemoSources } from '@tether/demo';
import { openSource, takeReach } from '@tether/formats';
import { packSnapshot, unpackSnapshot } from '../storage/packed.ts';
import { followReaches } from './followed.ts';

let root: string;
const path = () => join(root, 'monitoring/planting-counts.xlsx');
beforeAll(async () => {
  root = await mkdtemp(join(tmpdir(), 'tether-followed-'));
  await writeDemoSources(root);
});
afterAll(() => rm(root, { recursive: true, force: true }));

const plots: Reach = {
  kind: 'block',
  sheet: 'Counts',
  area: { top: 4, left: 1, bottom: 17, right: 7 },
};
const header: Reach = {
  kind: 'block',
  sheet: 'Counts',
  area: { top: 4, left: 1, bottom: 4, right: 7 },
};
const gone: Reach = { ...plots, sheet: 'Nowhere' };

async function opened() {
  const source = await openSource(path(), 'planting-counts.xlsx');
  if (!source.ok) throw new Error(source.fault.message);
  return source.value;
}
const base = (snapshot: Snapshot) => {
  const { hash, packed } = packSnapshot(snapshot);
  return { hash, packed };
};

test('each reach is compared with every state that objects show of it', async () => {
  const before = await opened();
  const [was, head] = [await takeReach(before, plots), await takeReach(before, header)];
  await before.close();
  if (!was.ok || !head.ok) throw new Error('The demo has changed.');
  await saveAsColleague(path(), [setCell('Counts', 'D8', 104)]);
  const source = await opened();
  const now = await takeReach(source, plots);
  if (!now.ok) throw new Error(now.fault.message);
  const followed = await followReaches(source, [
    { reach: plots, bases: [base(was.value.snapshot), base(now.value.snapshot)] },
    { reach: gone, bases: [] },
    // What it shows is found on another sheet, as when its own was renamed.
    { reach: gone, bases: [base(was.value.snapshot)] },
    { reach: header, bases: [base(head.value.snapshot)] },
  ]);
  await source.close();
  expect(followed).toMatchObject([
    {
      ok: true,
      value: {
        changes: [
          { change: { summary: '4 cells changed', behindBy: 4, danger: { grave: null } } },
          { change: null },
        ],
      },
    },
    { ok: false, fault: { code: 'sheet-missing' } },
    {
      ok: true,
      value: { found: { sheet: 'Counts' }, changes: [{ change: { behindBy: 4 } }] },
    },
    { ok: true, value: { changes: [{ change: null }] } },
  ]);
  // What is stored is what was taken, letter for letter.
  const first = followed[0]!;
  if (!first.ok) throw new Error(first.fault.message);
  expect(unpackSnapshot(first.value.now.packed)).toEqual(now.value.snapshot);
});

test('a state that was taken last is compared with from memory, and gives the same change', async () => {
  const first = await opened();
  const [was] = await followReaches(first, [{ reach: plots, bases: [] }]);
  await first.close();
  await saveAsColleague(path(), [setCell('Counts', 'D9', 12)]);
  const source = await opened();
  if (!was?.ok) throw new Error('The demo has changed.');
  const { hash } = was.value.now;
  const [now] = await followReaches(source, [
    // What is packed is not even looked at.
    { reach: plots, bases: [{ hash, packed: new Uint8Array() }] },
  ]);
  await source.close();
  expect(now).toMatchObject({
    ok: true,
    value: { changes: [{ from: hash, change: { summary: '4 cells changed' } }] },
  });
});
